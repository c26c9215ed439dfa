// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/capture.h"

#include <algorithm>

namespace eh {

std::variant<Capture, NotYet> capture(std::span<const MeterSample> samples, double changed_s, double now_s,
                                      const CaptureRule& rule) {
    const double counts_from_s = changed_s + rule.after_change_s;
    const auto first_lit =
        std::lower_bound(samples.begin(), samples.end(), counts_from_s,
                         [](const MeterSample& sample, double t_s) { return sample.t_s < t_s; });
    const bool was_lit = first_lit != samples.end() && first_lit->t_s < now_s;
    if (!was_lit) {
        const double dark_s = now_s - counts_from_s;
        if (dark_s < rule.dark_at_least_s)
            return NotYet::plug_just_moved;
        return Capture{{}, std::min(dark_s, rule.longest_s)};
    }
    const double from_s = std::max(first_lit->t_s + rule.after_lit_s, now_s - rule.longest_s);
    if (now_s - from_s < rule.shortest_s)
        return NotYet::just_lit;
    Capture capture{summarise(samples, from_s, now_s), now_s - from_s};
    if (capture.summary.pattern == MeterPattern::dark)
        capture.summary.pattern = MeterPattern::flash;
    return capture;
}

}  // namespace eh
