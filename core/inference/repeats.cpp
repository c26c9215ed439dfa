// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/repeats.h"

#include <algorithm>
#include <cmath>

namespace eh {
namespace {

constexpr double stays = 0.97;  // a lead slips at times
constexpr double agree_widths = 3.0;
constexpr double leaks_from_ohms = 3e3;
constexpr double gross_comes_again = 0.1;  // estimate

bool agree(double a, double b, double share, double digit) {
    const double width = std::hypot(share * std::max(std::abs(a), std::abs(b)), digit);
    return std::abs(a - b) < agree_widths * width;
}

// Whether two readings of one kind, place and bench show the same number.
bool show_the_same(const Reading& a, const Reading& b, const AccuracyOptions& o) {
    switch (a.kind) {
        case ReadingKind::net_ohms:
            return a.over_limit == b.over_limit &&
                   (a.over_limit || agree(a.value, b.value, o.dmm_ohms_share, o.lead_ohms));
        case ReadingKind::diode:
            return a.over_limit == b.over_limit &&
                   (a.over_limit || agree(a.value, b.value, 0.0, o.dmm_drop_digit));
        case ReadingKind::net_volts:
            return agree(a.value, b.value, o.dmm_volts_share, o.dmm_volts_digit);
        case ReadingKind::meter:
            return a.meter.pattern == b.meter.pattern && a.amps_known == b.amps_known &&
                   agree(a.meter.volts, b.meter.volts, o.meter_volts_share, o.meter_volts_digit) &&
                   agree(a.meter.amps, b.meter.amps, o.meter_amps_share, o.meter_amps_digit);
        case ReadingKind::hot_part:
        case ReadingKind::firmware:
        case ReadingKind::wiggle:
        case ReadingKind::injection:
        case ReadingKind::look:
        case ReadingKind::through:
        case ReadingKind::talk:
            break;
    }
    return false;
}

}  // namespace

int same_as_before(const std::vector<const Reading*>& earlier, const Reading& reading,
                   const AccuracyOptions& accuracy) {
    const BenchConfiguration bench = electrical_part(reading.configuration);
    for (int i = static_cast<int>(earlier.size()); i-- > 0;) {
        const Reading& other = *earlier[static_cast<std::size_t>(i)];
        if (other.kind == reading.kind && other.place == reading.place &&
            electrical_part(other.configuration) == bench)
            return show_the_same(other, reading, accuracy) ? i : -1;
    }
    return -1;
}

const Reading* taken_before(const std::vector<const Reading*>& earlier, const Reading& reading) {
    if (reading.kind != ReadingKind::net_ohms && reading.kind != ReadingKind::diode)
        return nullptr;
    const BenchConfiguration bench = electrical_part(reading.configuration);
    const auto same = std::find_if(earlier.rbegin(), earlier.rend(), [&](const Reading* other) {
        return other->kind == reading.kind && other->place == reading.place &&
               electrical_part(other->configuration) == bench;
    });
    return same == earlier.rend() ? nullptr : *same;
}

double comes_again(const Reading& reading, const AccuracyOptions& accuracy) {
    const bool by_leak =
        reading.kind == ReadingKind::net_volts ||
        (reading.kind == ReadingKind::net_ohms && (reading.over_limit || reading.value >= leaks_from_ohms));
    return by_leak ? accuracy.odd_again : gross_comes_again;
}

std::vector<SampleTerms> taken_again(std::vector<SampleTerms> samples, const Reading& reading,
                                     const Reading& before, const AccuracyOptions& accuracy) {
    const bool same = reading.over_limit == before.over_limit;
    for (SampleTerms& sample : samples) {
        if (!sample.known)
            continue;
        const double first = same ? sample.given : 1.0 - sample.given;
        const double meant = (1.0 - accuracy.odd_reading) * first;
        const double share = meant / (meant + accuracy.odd_reading * broad_open_share(before.over_limit));
        sample.given = share * (same ? stays : 1.0 - stays) + (1.0 - share) * sample.given;
    }
    return samples;
}

}  // namespace eh
