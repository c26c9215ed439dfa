// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/taken_readings.h"

#include <algorithm>

namespace eh {
namespace {

constexpr std::ptrdiff_t most_retakes = 2;  // of a reading that fits nothing

}  // namespace

bool same_heat(const BenchConfiguration& a, const BenchConfiguration& b) {
    const auto what_counts = [](const BenchConfiguration& configuration) {
        BenchConfiguration counts = electrical_part(configuration);
        counts.side = PlugSide::a;
        counts.charger = Owner::bench;
        counts.lead = Owner::bench;
        return counts;
    };
    return what_counts(a) == what_counts(b);
}

bool TakenReadings::to_be_retaken(ReadingKind kind, const std::string& place,
                                  const BenchConfiguration& configuration) const {
    const auto same = [&](const Reading& reading) {
        return !reading.set_aside && reading.kind() == kind && reading.place() == place &&
               electrical_part(reading.configuration) == electrical_part(configuration);
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
        if (kind == ReadingKind::look)
            return reading.configuration.replaced == configuration.replaced;
        if (is_unpowered(kind))
            return electrical_part(unpowered(reading.configuration)) ==
                   electrical_part(unpowered(configuration));
        if (kind == ReadingKind::hot_part)
            return same_heat(reading.configuration, configuration);
        return electrical_part(reading.configuration) == electrical_part(configuration);
    });
}

}  // namespace eh
