#include "core/diagnosis/repeats.h"

#include <algorithm>

namespace eh {
namespace {

constexpr double stays = 0.97;  // a lead slips at times

}  // namespace

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
