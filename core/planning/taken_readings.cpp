// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/taken_readings.h"

#include <algorithm>
#include <cmath>

#include "core/machine/model/plug_contacts.h"

namespace eh {
namespace {

constexpr std::ptrdiff_t most_retakes = 2;  // of a reading that fits nothing
constexpr double still_new = 0.5;           // of one more reading of the same thing (estimate)

}  // namespace

bool same_heat(const BenchConfiguration& a, const BenchConfiguration& b) {
    const auto what_counts = [](const BenchConfiguration& configuration) {
        BenchConfiguration counts = electrical_part(configuration);
        counts.side = PlugSide::a;
        counts.charger = Owner::bench;
        counts.lead = Owner::bench;
        counts.power_was_cut = false;
        return counts;
    };
    return what_counts(a) == what_counts(b);
}

BenchConfiguration TakenReadings::what_counts(const BenchConfiguration& configuration) const {
    BenchConfiguration counts = electrical_part(configuration);
    counts.power_was_cut = counts.power_was_cut && may_hang_;
    return counts;
}

bool TakenReadings::to_be_retaken(ReadingKind kind, const std::string& place,
                                  const BenchConfiguration& configuration) const {
    const auto same = [&](const Reading& reading) {
        return !reading.set_aside && reading.kind() == kind && reading.place() == place &&
               what_counts(reading.configuration) == what_counts(configuration);
    };
    const bool odd = std::any_of(ranking_.odd.begin(), ranking_.odd.end(), [&](const OddReading& one) {
        return std::any_of(taken_.begin(), taken_.end(), [&](const Reading& reading) {
            return reading.id == one.reading_id && same(reading);
        });
    });
    return odd && std::count_if(taken_.begin(), taken_.end(), same) <= most_retakes;
}

bool TakenReadings::hold(ReadingKind kind, const std::string& place,
                         const BenchConfiguration& configuration) const {
    if (to_be_retaken(kind, place, configuration))
        return false;
    return std::any_of(taken_.begin(), taken_.end(), [&](const Reading& reading) {
        if (reading.set_aside || reading.kind() != kind ||
            (kind != ReadingKind::hot_part && kind != ReadingKind::injection && reading.place() != place))
            return false;
        if (is_by_eye(kind))
            return reading.configuration.replaced == configuration.replaced &&
                   reading.configuration.handled == configuration.handled;
        if (is_unpowered(kind))
            return electrical_part(unpowered(reading.configuration)) ==
                   electrical_part(unpowered(configuration));
        if (kind == ReadingKind::hot_part)
            return same_heat(reading.configuration, configuration);
        return what_counts(reading.configuration) == what_counts(configuration);
    });
}

double TakenReadings::freshness(ReadingKind kind, const std::string& place,
                                const BenchConfiguration& configuration) const {
    const bool wears_off = kind == ReadingKind::net_volts || kind == ReadingKind::firmware ||
                           kind == ReadingKind::sign || kind == ReadingKind::wiggle;
    if (!wears_off)
        return 1.0;
    const auto but_for_the_plug = [&](const BenchConfiguration& one) {
        BenchConfiguration rest = what_counts(one);
        rest.side = PlugSide::a;
        rest.charger = Owner::bench;
        rest.lead = Owner::bench;
        if (kind != ReadingKind::wiggle)
            rest.port.clear();
        return rest;
    };
    const auto known = std::count_if(taken_.begin(), taken_.end(), [&](const Reading& reading) {
        if (reading.set_aside)
            return false;
        const bool same = reading.kind() == kind && reading.place() == place &&
                          but_for_the_plug(reading.configuration) == but_for_the_plug(configuration);
        // A dark meter has said most of what the machine can say there.
        const auto* meter = reading.as<MeterReading>();
        const bool was_dark = kind == ReadingKind::firmware && meter != nullptr &&
                              meter->meter.pattern == MeterPattern::dark &&
                              what_counts(reading.configuration) == what_counts(configuration);
        return same || was_dark;
    });
    return std::pow(still_new, static_cast<double>(known));
}

bool TakenReadings::show_broken(const std::string& block) const {
    return std::any_of(taken_.begin(), taken_.end(), [&](const Reading& reading) {
        const auto seen = parts_seen(reading);
        return !reading.set_aside && std::any_of(seen.begin(), seen.end(), [&](const SeenPart& one) {
            return one.part == block && (one.seen == Look::burnt || one.seen == Look::broken);
        });
    });
}

bool TakenReadings::show_letting_go(const std::string& block, const MachinePlan& plan) const {
    const int index = plan.find_block(block);
    return std::any_of(taken_.begin(), taken_.end(), [&](const Reading& reading) {
        const auto* wiggle = reading.as<WiggleReading>();
        const int port = plan.port_index(reading.configuration.port);
        if (reading.set_aside || wiggle == nullptr || !wiggle->drops_out || port < 0 ||
            reading.configuration.lead != Owner::bench)
            return false;
        const auto contacts = plug_contacts(plan, port, reading.configuration.side);
        return std::any_of(contacts.begin(), contacts.end(),
                           [&](const PlugContact& contact) { return contact.block == index; });
    });
}

bool TakenReadings::heat_names(const std::string& block, const std::string& net) const {
    constexpr double shorted_ohms = 30.0;
    const auto last = [&](auto holds) {
        return std::find_if(taken_.rbegin(), taken_.rend(),
                            [&](const Reading& reading) { return !reading.set_aside && holds(reading); });
    };
    const auto ohms = last([&](const Reading& reading) {
        return reading.kind() == ReadingKind::net_ohms && reading.place() == net;
    });
    const auto heat = last([](const Reading& reading) {
        const bool of_heat =
            reading.kind() == ReadingKind::hot_part || reading.kind() == ReadingKind::injection;
        return of_heat && !reading.place().empty();
    });
    if (ohms == taken_.rend() || heat == taken_.rend() || heat->place() != block)
        return false;
    const auto& measured = ohms->as<NetOhmsReading>()->ohms;
    return measured && *measured < shorted_ohms;
}

}  // namespace eh
