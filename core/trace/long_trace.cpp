// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/long_trace.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

namespace eh {
namespace {

constexpr double to_the_end = std::numeric_limits<double>::infinity();
constexpr double same_level_share = 0.01;
constexpr double same_period_share = 0.35;
constexpr std::size_t overlap_samples = 64;  // a gap right behind the cut must be seen
constexpr int overlap_cycles = 5;

bool goes_on(const TraceSpan& before, const TraceSpan& after) {
    if (before.state != after.state || before.nominal_volts != after.nominal_volts)
        return false;
    return before.state == TraceState::contract || before.state == TraceState::off ||
           std::abs(after.volts - before.volts) < same_level_share * before.volts;
}

void lengthen(TraceSpan& span, const TraceSpan& more) {
    const double own_s = std::max(span.to_s - span.from_s, 1e-9);
    const double more_s = std::max(more.to_s - more.from_s, 1e-9);
    const double share = more_s / (own_s + more_s);
    span.volts += share * (more.volts - span.volts);
    span.amps += share * (more.amps - span.amps);
    span.peak_amps = std::max(span.peak_amps, more.peak_amps);
    span.to_s = more.to_s;
}

// A rhythm or a taper that the cut went through is one event.
bool goes_on(const TraceEvent& before, const TraceEvent& after) {
    if (before.kind != after.kind)
        return false;
    if (after.kind == TraceEventKind::retry_cycle)
        return after.t_s <= before.until_s &&
               std::abs(after.value - before.value) < same_period_share * before.value;
    return after.kind == TraceEventKind::taper &&
           after.t_s - before.until_s < 0.25 * (after.until_s - after.t_s);
}

void lengthen(TraceEvent& event, const TraceEvent& more) {
    if (event.kind == TraceEventKind::retry_cycle) {
        const double own_s = event.until_s - event.t_s;
        const double more_s = more.until_s - more.t_s;
        event.value += more_s / (own_s + more_s) * (more.value - event.value);
    } else {
        event.value = 1.0 - (1.0 - event.value) * (1.0 - more.value);
    }
    event.until_s = more.until_s;
}

double longest_contract_s(const std::vector<TraceSpan>& spans) {
    double longest_s = 0.0;
    for (const TraceSpan& span : spans)
        if (span.state == TraceState::contract)
            longest_s = std::max(longest_s, span.to_s - span.from_s);
    return longest_s;
}

}  // namespace

LongTrace::LongTrace(std::size_t piece_samples, const TraceOptions& options)
    : piece_samples_(piece_samples), options_(options) {
    open_.reserve(piece_samples);
}

void LongTrace::append(std::span<const MeterSample> samples) {
    count_ += samples.size();
    while (!samples.empty()) {
        const auto own = samples.first(std::min(samples.size(), piece_samples_ - open_.size()));
        open_.insert(open_.end(), own.begin(), own.end());
        samples = samples.subspan(own.size());
        if (open_.size() == piece_samples_)
            read_piece();
    }
}

TraceReading LongTrace::finish() {
    if (!open_.empty())
        join(read_trace(open_, options_), to_the_end);
    open_.clear();
    cut_while_lit_ = false;
    source_span_s_ = 0.0;
    count_ = 0;
    last_of_kind_ = {};
    std::stable_sort(told_.events.begin(), told_.events.end(),
                     [](const TraceEvent& a, const TraceEvent& b) { return a.t_s < b.t_s; });
    return std::exchange(told_, {});
}

void LongTrace::read_piece() {
    const TraceReading piece = read_trace(open_, options_);
    const double middle_s = open_[open_.size() / 2].t_s;
    // Where the meter lit up some times ago, so that a rhythm is seen again in the next piece and goes on;
    // else at the last level; within one that is longer.
    double cut_s = open_[open_.size() - std::min(open_.size(), overlap_samples)].t_s;
    bool lit = true;
    if (piece.spans.size() > 1 && piece.spans.back().from_s >= middle_s)
        cut_s = piece.spans.back().from_s;
    int lit_up = 0;
    for (std::size_t s = piece.spans.size(); s-- > 1 && piece.spans[s].from_s >= middle_s;)
        if (piece.spans[s - 1].state == TraceState::off && ++lit_up <= overlap_cycles) {
            cut_s = piece.spans[s].from_s;
            lit = false;
        }
    join(piece, cut_s);
    // Half a piece goes at least: a stream whose clock stands still has no time to be cut at.
    const auto kept =
        std::max(std::lower_bound(open_.begin(), open_.end(), cut_s,
                                  [](const MeterSample& sample, double t_s) { return sample.t_s < t_s; }),
                 open_.begin() + static_cast<std::ptrdiff_t>((open_.size() + 1) / 2));
    open_.erase(open_.begin(), kept);
    cut_while_lit_ = lit;
}

void LongTrace::join(const TraceReading& piece, double until_s) {
    const bool went_on = cut_while_lit_ && !told_.spans.empty() && !piece.spans.empty();
    const double began_s = piece.spans.empty() ? 0.0 : piece.spans.front().from_s;
    bool same_level = false;
    for (TraceSpan span : piece.spans) {
        if (span.from_s >= until_s)
            break;
        span.to_s = std::min(span.to_s, until_s);
        const bool first = span.from_s == began_s;
        if (went_on && first)
            told_.spans.back().to_s = span.from_s;
        if (first && went_on && goes_on(told_.spans.back(), span)) {
            lengthen(told_.spans.back(), span);
            same_level = true;
        } else {
            told_.spans.push_back(span);
        }
    }
    for (TraceEvent event : piece.events) {
        if (event.t_s >= until_s)
            continue;
        // The meter did not light up where only the piece begins; the level may have changed there.
        if (went_on && event.kind == TraceEventKind::attach && event.t_s == began_s) {
            if (same_level)
                continue;
            const TraceSpan& to = piece.spans.front();
            event = {TraceEventKind::contract_step, began_s, began_s,
                     to.nominal_volts > 0.0 ? to.nominal_volts : to.volts};
        }
        // What a cut went through is the last of its kind.
        auto& last = last_of_kind_[static_cast<std::size_t>(event.kind)];
        if (last && goes_on(told_.events[*last], event)) {
            lengthen(told_.events[*last], event);
        } else {
            last = told_.events.size();
            told_.events.push_back(event);
        }
    }
    const double longest_s = longest_contract_s(piece.spans);
    if (piece.source && longest_s > source_span_s_) {
        told_.source = piece.source;
        source_span_s_ = longest_s;
    }
}

}  // namespace eh
