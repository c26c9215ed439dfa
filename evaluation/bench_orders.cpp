// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluation/bench_orders.h"

#include <algorithm>
#include <array>

namespace eh {
namespace {

class OrderMaker {
  public:
    OrderMaker(const MachinePlan& plan, const BenchConfiguration& arrival)
        : topology_(plan.topology()), at_(arrival) {}

    void meter_at_every_port() {
        for (const Port& port : topology_.ports) {
            at_.port = port.id;
            at_.side = PlugSide::a;
            take(ReadingKind::meter);
            if (port.family == "usb-c") {
                at_.side = PlugSide::b;
                take(ReadingKind::meter);
                at_.side = PlugSide::a;
            }
        }
        at_.port = topology_.ports.front().id;
    }

    void swap_charger_and_lead() {
        at_.charger = Owner::bench;
        take(ReadingKind::meter);
        at_.lead = Owner::bench;
        take(ReadingKind::meter);
    }

    void firmware_and_wiggle() {
        take(ReadingKind::firmware);
        for (const Port& port : topology_.ports) {
            at_.port = port.id;
            take(ReadingKind::wiggle);
        }
        at_.port = topology_.ports.front().id;
    }

    // Nets stand in the order of the charge path. A net of a port is measured with the charger in that port.
    void volts_along_the_path() {
        at_.case_open = true;
        for (const Net& net : topology_.nets) {
            at_.port = net.port.empty() ? topology_.ports.front().id : net.port;
            take(ReadingKind::net_volts, net.id);
        }
    }

    void ohms_along_the_path() {
        at_.case_open = true;
        const BenchConfiguration powered = at_;
        at_ = unpowered(at_);
        for (const Net& net : topology_.nets)
            take(ReadingKind::net_ohms, net.id);
        at_ = powered;
    }

    void hottest_at_every_port() {
        at_.case_open = true;
        for (const Port& port : topology_.ports) {
            at_.port = port.id;
            take(ReadingKind::hot_part);
        }
    }

    std::vector<NextAct> acts;

  private:
    void take(ReadingKind kind, const std::string& place = {}) {
        NextAct act;
        act.reading = kind;
        act.place = place;
        act.configuration = at_;
        acts.push_back(std::move(act));
    }

    const Topology& topology_;
    BenchConfiguration at_;
};

}  // namespace

std::string to_text(BenchOrder order) {
    constexpr std::array<const char*, bench_order_count> names{"outside_in", "ohms_first", "thermal_first"};
    return names[static_cast<std::size_t>(order)];
}

std::vector<NextAct> readings_of(BenchOrder order, const MachinePlan& plan,
                                 const BenchConfiguration& arrival) {
    OrderMaker make(plan, arrival);
    make.meter_at_every_port();
    make.swap_charger_and_lead();
    switch (order) {
        case BenchOrder::outside_in:
            make.firmware_and_wiggle();
            make.volts_along_the_path();
            make.ohms_along_the_path();
            make.hottest_at_every_port();
            break;
        case BenchOrder::ohms_first:
            make.ohms_along_the_path();
            make.volts_along_the_path();
            make.firmware_and_wiggle();
            make.hottest_at_every_port();
            break;
        case BenchOrder::thermal_first:
            make.hottest_at_every_port();
            make.ohms_along_the_path();
            make.volts_along_the_path();
            make.firmware_and_wiggle();
            break;
    }
    return std::move(make.acts);
}

}  // namespace eh
