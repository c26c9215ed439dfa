// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/off_numbers.h"

#include <algorithm>

#include "core/machine/model/net_index.h"
#include "core/machine/model/plug_contacts.h"

namespace eh {
namespace {

constexpr double worth_a_reading = 0.02;  // suspicion of the part

class Collector {
  public:
    Collector(const MachinePlan& plan, const Ranking& ranking, const BenchConfiguration& now)
        : plan_(plan), ranking_(ranking), off_(measured_off(now)) {}

    std::vector<OffNumber> run() {
        through_parts();
        across_parts();
        for (std::size_t port = 0; port < plan_.topology().ports.size(); ++port)
            through_contacts(static_cast<int>(port));
        if (plan_.pack >= 0 && suspected(plan_.pack))
            list_.push_back({ReadingKind::pack, "", off_, {OffQuestion::Of::pack_volts}});
        return std::move(list_);
    }

  private:
    [[nodiscard]] const PlanBlock& block(int index) const {
        return plan_.blocks[static_cast<std::size_t>(index)];
    }

    [[nodiscard]] bool suspected(int index) const {
        return suspicion_of(ranking_, block(index).id) >= worth_a_reading;
    }

    void through_parts() {
        for (std::size_t b = 0; b < plan_.blocks.size(); ++b) {
            if (plan_.blocks[b].kind->pinned_out)
                list_.push_back({ReadingKind::through,
                                 plan_.blocks[b].id,
                                 off_,
                                 {OffQuestion::Of::through_part, static_cast<int>(b)}});
        }
    }

    // Fuses, sense resistors, series and enable resistors, as they sit on the board.
    void across_parts() {
        for (const PlanElement& element : plan_.elements) {
            const PlanBlock& part = block(element.block);
            const bool stands =
                element.type == ElementType::resistor && element.when == ElementCondition::always;
            if (!stands || part.is_outside() || part.kind->pinned_out || !suspected(element.block))
                continue;
            const int net = net_at_node(plan_, element.from);
            const int other = net_at_node(plan_, element.to);
            if (net >= 0 && other >= 0 && net != other)
                list_.push_back(between(net, other, off_));
        }
    }

    void through_contacts(int port) {
        BenchConfiguration at_plug = off_;
        at_plug.bare_plug = true;
        at_plug.port = plan_.topology().ports[static_cast<std::size_t>(port)].id;
        for (const PlugSide side : {PlugSide::a, PlugSide::b}) {
            at_plug.side = side;
            for (const PlugContact& contact : plug_contacts(plan_, port, side)) {
                const int net = net_at_node(plan_, contact.board_node);
                if (net < 0 || !suspected(contact.block))
                    continue;
                OffNumber number = between(net, net, at_plug);
                const bool listed = std::any_of(list_.begin(), list_.end(), [&](const OffNumber& other) {
                    return other.configuration.bare_plug && other.place == number.place;
                });
                if (!listed)
                    list_.push_back(std::move(number));
            }
        }
    }

    [[nodiscard]] OffNumber between(int net, int other, const BenchConfiguration& at) const {
        const auto& nets = plan_.topology().nets;
        const auto id = [&](int index) { return nets[static_cast<std::size_t>(index)].id; };
        return {ReadingKind::between,
                Traits<BetweenReading>::place({id(net), id(other), {}}),
                at,
                {OffQuestion::Of::between_nets, net, other}};
    }

    const MachinePlan& plan_;
    const Ranking& ranking_;
    BenchConfiguration off_;
    std::vector<OffNumber> list_;
};

}  // namespace

BenchConfiguration measured_off(const BenchConfiguration& now) {
    BenchConfiguration off = unpowered(now);
    off.case_open = true;
    off.bare_plug = false;
    off.plug_held = false;
    return off;
}

std::vector<OffNumber> off_numbers(const MachinePlan& plan, const Ranking& ranking,
                                   const BenchConfiguration& now) {
    return Collector(plan, ranking, now).run();
}

}  // namespace eh
