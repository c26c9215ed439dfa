// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/min_max_pyramid.h"

#include <algorithm>

namespace eh {
namespace {

bool ends_before(const TraceEnvelope& node, double t_s) {
    return node.to_s < t_s;
}

bool starts_before(const TraceEnvelope& node, double t_s) {
    return node.from_s < t_s;
}

}  // namespace

void TraceEnvelope::take_in(const MeterSample& sample) {
    TraceEnvelope one;
    one.from_s = one.to_s = sample.t_s;
    one.least_volts = one.most_volts = static_cast<float>(sample.volts);
    one.least_amps = one.most_amps = static_cast<float>(sample.amps);
    one.samples = 1;
    take_in(one);
}

void TraceEnvelope::take_in(const TraceEnvelope& other) {
    if (other.samples == 0)
        return;
    if (samples == 0) {
        *this = other;
        return;
    }
    from_s = std::min(from_s, other.from_s);
    to_s = std::max(to_s, other.to_s);
    least_volts = std::min(least_volts, other.least_volts);
    most_volts = std::max(most_volts, other.most_volts);
    least_amps = std::min(least_amps, other.least_amps);
    most_amps = std::max(most_amps, other.most_amps);
    samples += other.samples;
}

std::span<const TraceEnvelope> MinMaxPyramid::level(std::size_t index) const {
    return index < levels_.size() ? std::span<const TraceEnvelope>(levels_[index])
                                  : std::span<const TraceEnvelope>{};
}

void MinMaxPyramid::add(const TraceEnvelope& node) {
    TraceEnvelope next = node;
    for (std::size_t index = 0;; ++index) {
        if (index == levels_.size())
            levels_.emplace_back();
        levels_[index].push_back(next);
        if (levels_[index].size() % factor != 0)
            return;
        next = {};
        for (const TraceEnvelope& part : std::span(levels_[index]).last(factor))
            next.take_in(part);
    }
}

std::size_t MinMaxPyramid::node_at(double t_s) const {
    const auto nodes = finest();
    return static_cast<std::size_t>(std::lower_bound(nodes.begin(), nodes.end(), t_s, ends_before) -
                                    nodes.begin());
}

struct MinMaxPyramid::Cover {
    const MinMaxPyramid& pyramid;
    double from_s;
    double to_s;
    double widest_s;
    const std::function<void(const TraceEnvelope&)>& take;
    const std::function<void(std::size_t)>& open;

    void node(std::size_t depth, std::size_t index) const {
        const TraceEnvelope& own = pyramid.levels_[depth][index];
        if (own.to_s < from_s || own.from_s >= to_s)
            return;
        if (own.to_s - own.from_s <= widest_s)
            take(own);
        else if (depth == 0)
            open(index);
        else
            nodes(depth - 1, index * factor, (index + 1) * factor);
    }

    // Long levels are entered at the place and not walked through.
    void nodes(std::size_t depth, std::size_t first, std::size_t last) const {
        const auto& all = pyramid.levels_[depth];
        const auto begin = all.begin() + static_cast<std::ptrdiff_t>(first);
        const auto end = all.begin() + static_cast<std::ptrdiff_t>(last);
        const auto from = std::lower_bound(begin, end, from_s, ends_before);
        const auto to = std::lower_bound(from, end, to_s, starts_before);
        for (auto at = from; at != to; ++at)
            node(depth, static_cast<std::size_t>(at - all.begin()));
    }
};

void MinMaxPyramid::cover(double from_s, double to_s, double widest_s,
                          const std::function<void(const TraceEnvelope&)>& take,
                          const std::function<void(std::size_t)>& open) const {
    const Cover cover{*this, from_s, to_s, widest_s, take, open};
    std::size_t covered = 0;  // nodes of this level that coarser ones have stood for
    for (std::size_t depth = levels_.size(); depth-- > 0;) {
        cover.nodes(depth, covered, levels_[depth].size());
        covered = levels_[depth].size() * factor;
    }
}

}  // namespace eh
