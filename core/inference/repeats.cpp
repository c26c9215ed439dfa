// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/repeats.h"

#include <algorithm>
#include <cmath>

namespace eh {
namespace {

constexpr double stays = 0.97;      // a lead slips at times
constexpr double seen_again = 0.9;  // estimate
constexpr double leaks_from_ohms = 3e3;
constexpr double gross_comes_again = 0.1;  // estimate

bool is_over_limit(const Reading& reading) {
    const auto* number = number_when_off(reading);
    return number != nullptr && reads_open(*number);
}

}  // namespace

int same_as_before(const std::vector<const Reading*>& earlier, const Reading& reading,
                   const AccuracyOptions& accuracy) {
    const BenchConfiguration bench = electrical_part(reading.configuration);
    for (int i = static_cast<int>(earlier.size()); i-- > 0;) {
        const Reading& other = *earlier[static_cast<std::size_t>(i)];
        if (other.kind() == reading.kind() && other.place() == reading.place() &&
            electrical_part(other.configuration) == bench)
            return show_the_same(other, reading, accuracy) ? i : -1;
    }
    return -1;
}

const Reading* taken_before(const std::vector<const Reading*>& earlier, const Reading& reading) {
    if (is_by_eye(reading.kind())) {
        // A part looks as it looks, whatever is plugged in, until somebody works on the machine.
        const auto looked = std::find_if(earlier.rbegin(), earlier.rend(), [&](const Reading* other) {
            return other->kind() == reading.kind() && other->place() == reading.place() &&
                   other->configuration.replaced == reading.configuration.replaced &&
                   other->configuration.handled == reading.configuration.handled &&
                   other->configuration.removed == reading.configuration.removed;
        });
        return looked == earlier.rend() ? nullptr : *looked;
    }
    if (reading.kind() != ReadingKind::net_ohms && reading.kind() != ReadingKind::diode)
        return nullptr;
    const BenchConfiguration bench = electrical_part(reading.configuration);
    const auto same = std::find_if(earlier.rbegin(), earlier.rend(), [&](const Reading* other) {
        return other->kind() == reading.kind() && other->place() == reading.place() &&
               electrical_part(other->configuration) == bench;
    });
    return same == earlier.rend() ? nullptr : *same;
}

double comes_again(const Reading& reading, const AccuracyOptions& accuracy) {
    const auto* ohms = reading.as<NetOhmsReading>();
    const bool by_leak = reading.kind() == ReadingKind::net_volts ||
                         (ohms != nullptr && ohms->ohms.value_or(leaks_from_ohms) >= leaks_from_ohms);
    return by_leak ? accuracy.odd_again : gross_comes_again;
}

std::vector<SampleTerms> taken_again(std::vector<SampleTerms> samples, const Reading& reading,
                                     const Reading& before, const AccuracyOptions& accuracy) {
    if (is_by_eye(reading.kind())) {
        // The same eye sees the same flaw, or none, again: no news, for whichever fault.
        const bool alike = parts_seen(before) == parts_seen(reading);
        for (SampleTerms& sample : samples)
            sample.given = alike ? seen_again : (1.0 - seen_again) * sample.given;
        return samples;
    }
    const bool was_over_limit = is_over_limit(before);
    const bool same = is_over_limit(reading) == was_over_limit;
    for (SampleTerms& sample : samples) {
        if (!sample.known)
            continue;
        const double first = same ? sample.given : 1.0 - sample.given;
        const double meant = (1.0 - accuracy.odd_reading) * first;
        const double share =
            meant / (meant + accuracy.odd_reading * (was_over_limit ? broad_ol_share : 1.0 - broad_ol_share));
        sample.given = share * (same ? stays : 1.0 - stays) + (1.0 - share) * sample.given;
    }
    return samples;
}

}  // namespace eh
