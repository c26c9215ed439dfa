// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/trace_events.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <utility>

#include "core/base/quantile.h"
#include "core/electrics/engineering.h"
#include "core/trace/change_points.h"
#include "core/trace/time_blocks.h"

namespace eh {
namespace {

constexpr std::array contract_levels{5.0, 9.0, 12.0, 15.0, 20.0, 28.0, 36.0, 48.0};
constexpr double contract_share = 0.08;  // set-points differ by some percent, and fall under load
constexpr double fold_back_below_volts = 4.4;
constexpr double fold_back_from_amps = 0.3;
constexpr std::size_t block_samples = 32;

using Samples = std::span<const MeterSample>;

double contract_near(double volts) {
    const auto nearest =
        *std::min_element(contract_levels.begin(), contract_levels.end(),
                          [&](double a, double b) { return std::abs(volts - a) < std::abs(volts - b); });
    return std::abs(volts - nearest) <= contract_share * nearest ? nearest : 0.0;
}

TraceState state_of(double volts, double amps) {
    if (volts < fold_back_below_volts && amps >= fold_back_from_amps)
        return TraceState::fold_back;
    return contract_near(volts) > 0.0 ? TraceState::contract : TraceState::programmable;
}

TraceSpan span_of(Samples samples) {
    TraceSpan span;
    span.from_s = samples.front().t_s;
    span.to_s = samples.back().t_s;
    for (const MeterSample& sample : samples) {
        span.volts += sample.volts;
        span.amps += sample.amps;
        span.peak_amps = std::max(span.peak_amps, sample.amps);
    }
    span.volts /= static_cast<double>(samples.size());
    span.amps /= static_cast<double>(samples.size());
    span.state = state_of(span.volts, span.amps);
    span.nominal_volts = span.state == TraceState::contract ? contract_near(span.volts) : 0.0;
    return span;
}

class Reader {
  public:
    Reader(Samples samples, const TraceOptions& options) : samples_(samples), options_(options) {
        if (options_.gap_s <= 0.0)
            options_.gap_s = dark_gap_s(samples);
    }

    TraceReading run() {
        for (std::size_t first = 0; first < samples_.size();) {
            std::size_t next = first + 1;
            while (next < samples_.size() && samples_[next].t_s - samples_[next - 1].t_s < options_.gap_s)
                ++next;
            read_lit(samples_.subspan(first, next - first));
            first = next;
        }
        fill_dark();
        find_rhythm();
        find_source();
        std::stable_sort(found_.events.begin(), found_.events.end(),
                         [](const TraceEvent& a, const TraceEvent& b) { return a.t_s < b.t_s; });
        return std::move(found_);
    }

  private:
    struct Lit {
        double from_s = 0.0;
        double to_s = 0.0;
        double first_volts = 0.0;  // nominal where there is one
        double last_volts = 0.0;
    };
    struct Part {
        TraceSpan span;
        Samples samples;
    };

    // A part with the samples right behind it. The mean of a level that sags may leave the band of its
    // contract; what it was named by stays.
    static Part joined(const Part& part, const TraceSpan& more, std::size_t more_samples) {
        const auto own = static_cast<double>(part.samples.size());
        const auto share = static_cast<double>(more_samples) / (own + static_cast<double>(more_samples));
        Part both = part;
        both.samples = Samples(part.samples.data(), part.samples.size() + more_samples);
        both.span.to_s = more.to_s;
        both.span.volts += share * (more.volts - part.span.volts);
        both.span.amps += share * (more.amps - part.span.amps);
        both.span.peak_amps = std::max(part.span.peak_amps, more.peak_amps);
        return both;
    }

    void add(TraceEventKind kind, double t_s, double until_s, double value) {
        found_.events.push_back({kind, t_s, until_s, value});
    }

    // A stretch without a gap: its levels become spans; levels that mean the same are one.
    void read_lit(Samples lit) {
        std::vector<double> volts;
        volts.reserve(lit.size());
        for (const MeterSample& sample : lit)
            volts.push_back(sample.volts);
        ChangePointOptions levels;
        levels.least_noise = 2.0 * options_.digit_volts;
        levels.block = block_samples;
        std::vector<Part> parts;
        for (const LevelSegment& segment : level_segments(volts, levels)) {
            const Samples own = lit.subspan(segment.first, segment.count);
            const TraceSpan span = span_of(own);
            const bool same = !parts.empty() && parts.back().span.state == span.state &&
                              parts.back().span.nominal_volts == span.nominal_volts &&
                              span.state == TraceState::contract;
            if (same) {
                parts.back() = joined(parts.back(), span, own.size());
            } else {
                parts.push_back({span, own});
            }
        }
        add(TraceEventKind::attach, lit.front().t_s, lit.front().t_s, parts.front().span.volts);
        for (std::size_t p = 0; p < parts.size(); ++p) {
            if (p > 0) {
                parts[p - 1].span.to_s = parts[p].span.from_s;
                add(TraceEventKind::contract_step, parts[p].span.from_s, parts[p].span.from_s,
                    parts[p].span.nominal_volts > 0.0 ? parts[p].span.nominal_volts : parts[p].span.volts);
            }
            read_within(parts[p]);
        }
        for (const Part& part : parts) {
            found_.spans.push_back(part.span);
            parts_.push_back(part);
        }
        const auto level = [](const TraceSpan& span) {
            return span.nominal_volts > 0.0 ? span.nominal_volts : span.volts;
        };
        lit_.push_back(
            {lit.front().t_s, lit.back().t_s, level(parts.front().span), level(parts.back().span)});
    }

    // What the amps do within one level, by seconds: dips of a ramp and the flicker of a load are shorter.
    void read_within(const Part& part) {
        constexpr double window_s = 1.0;
        constexpr double asleep_amps = 0.08;
        constexpr double boots_from_amps = 0.2;
        constexpr double charges_from_amps = 1.0;
        constexpr double contract_above_volts = 6.0;
        std::vector<TraceSpan> seconds;
        std::size_t first = 0;
        const Samples own = part.samples;
        while (first < own.size()) {
            const std::size_t next = end_of_block(own, first, window_s);
            seconds.push_back(span_of(own.subspan(first, next - first)));
            first = next;
        }
        read_collapse(seconds);
        if (part.span.volts < contract_above_volts)
            return;
        bool slept = false;
        bool booted = false;
        double ramp_from_s = -1.0;
        for (const TraceSpan& second : seconds) {
            slept = slept || second.amps < asleep_amps;
            if (slept && !booted && second.amps >= boots_from_amps) {
                booted = true;
                add(TraceEventKind::boot, second.from_s, second.to_s, second.amps);
            }
            if (ramp_from_s < 0.0 && second.amps >= boots_from_amps)
                ramp_from_s = second.from_s;
        }
        const auto most =
            std::max_element(seconds.begin(), seconds.end(),
                             [](const TraceSpan& a, const TraceSpan& b) { return a.amps < b.amps; });
        if (most != seconds.end() && most->amps >= charges_from_amps &&
            seconds.front().amps < 0.5 * most->amps)
            add(TraceEventKind::charge_ramp, ramp_from_s, most->to_s, most->amps);
        read_taper(seconds);
    }

    void read_collapse(const std::vector<TraceSpan>& seconds) {
        constexpr double fall_share = 0.12;
        constexpr double rise_amps = 0.3;
        for (std::size_t s = 1; s < seconds.size(); ++s) {
            const double fall = seconds.front().volts - seconds[s].volts;
            if (fall > fall_share * seconds.front().volts &&
                seconds[s].amps > seconds.front().amps + rise_amps) {
                add(TraceEventKind::collapse, seconds[s].from_s, seconds[s].to_s, fall);
                return;
            }
        }
    }

    void read_taper(const std::vector<TraceSpan>& seconds) {
        constexpr std::size_t least_seconds = 60;
        constexpr double least_share = 0.2;
        constexpr double least_amps = 0.3;
        if (seconds.size() < least_seconds)
            return;
        // Mean of each fifth must fall from one to the next.
        constexpr std::size_t fifths = 5;
        std::array<double, fifths> means{};
        const std::size_t start = seconds.size() / (fifths + 1);  // the ramp stands before it
        const std::size_t length = (seconds.size() - start) / fifths;
        for (std::size_t f = 0; f < fifths; ++f) {
            for (std::size_t i = 0; i < length; ++i)
                means[f] += seconds[start + f * length + i].amps / static_cast<double>(length);
            if (f > 0 && means[f] >= means[f - 1])
                return;
        }
        if (means.front() >= least_amps && means.back() < (1.0 - least_share) * means.front())
            add(TraceEventKind::taper, seconds[start].from_s, seconds.back().to_s,
                1.0 - means.back() / means.front());
    }

    void fill_dark() {
        std::vector<TraceSpan> all;
        for (const TraceSpan& span : found_.spans) {
            if (!all.empty() && span.from_s > all.back().to_s) {
                TraceSpan dark;
                dark.from_s = all.back().to_s;
                dark.to_s = span.from_s;
                all.push_back(dark);
            }
            all.push_back(span);
        }
        found_.spans = std::move(all);
    }

    // Gaps that come in a rhythm are the charger's retries; others are drop-outs or a plug that was pulled.
    void find_rhythm() {
        constexpr std::size_t least_cycles = 3;
        constexpr double jitter_share = 0.35;
        constexpr double slowest_s = 6.0;
        std::vector<double> periods;
        for (std::size_t i = 1; i < lit_.size(); ++i)
            periods.push_back(lit_[i].from_s - lit_[i - 1].from_s);
        for (std::size_t first = 0; first < periods.size();) {
            // As long as each period is like those of the run before it.
            double sum = periods[first];
            std::size_t next = first + 1;
            while (next < periods.size() && periods[first] < slowest_s &&
                   std::abs(periods[next] - sum / static_cast<double>(next - first)) <
                       jitter_share * sum / static_cast<double>(next - first))
                sum += periods[next++];
            if (next - first >= least_cycles) {
                add(TraceEventKind::retry_cycle, lit_[first].from_s, lit_[next].to_s,
                    median(std::vector<double>(periods.begin() + static_cast<std::ptrdiff_t>(first),
                                               periods.begin() + static_cast<std::ptrdiff_t>(next))));
                first = next;
            } else {
                const double gone_s = lit_[first + 1].from_s - lit_[first].to_s;
                add(gone_s >= options_.pulled_after_s ? TraceEventKind::pulled : TraceEventKind::drop_out,
                    lit_[first].to_s, lit_[first + 1].from_s, gone_s);
                ++first;
            }
        }
    }

    void find_source() {
        double longest_s = 0.0;
        for (const Part& part : parts_) {
            const double length_s = part.span.to_s - part.span.from_s;
            if (part.span.state != TraceState::contract || length_s <= longest_s)
                continue;
            if (const auto estimate = source_resistance(part.samples)) {
                found_.source = estimate;
                longest_s = length_s;
            }
        }
    }

    Samples samples_;
    TraceOptions options_;
    TraceReading found_;
    std::vector<Part> parts_;
    std::vector<Lit> lit_;
};

constexpr std::array<const char*, 4> state_names{"off", "contract", "programmable", "fold_back"};
constexpr std::array<const char*, 9> event_names{"attach",   "contract_step", "retry_cycle",
                                                 "drop_out", "pulled",        "collapse",
                                                 "boot",     "charge_ramp",   "taper"};

}  // namespace

TraceReading read_trace(std::span<const MeterSample> samples, const TraceOptions& options) {
    return Reader(samples, options).run();
}

std::vector<TraceEvent> outline_of(const std::vector<TraceEvent>& events) {
    // From when rhythms began to the latest that any of them, or one before it, lasted.
    std::vector<std::pair<double, double>> rhythms;
    for (const TraceEvent& event : events) {
        if (event.kind == TraceEventKind::retry_cycle)
            rhythms.emplace_back(event.t_s, event.until_s);
    }
    std::sort(rhythms.begin(), rhythms.end());
    for (std::size_t i = 1; i < rhythms.size(); ++i)
        rhythms[i].second = std::max(rhythms[i].second, rhythms[i - 1].second);
    const auto part_of_a_rhythm = [&](const TraceEvent& event) {
        const bool could = event.kind == TraceEventKind::attach ||
                           event.kind == TraceEventKind::contract_step ||
                           event.kind == TraceEventKind::boot || event.kind == TraceEventKind::collapse;
        const auto behind =
            std::upper_bound(rhythms.begin(), rhythms.end(), event.t_s,
                             [](double t_s, const auto& rhythm) { return t_s < rhythm.first; });
        return could && behind != rhythms.begin() && event.t_s <= std::prev(behind)->second;
    };
    std::vector<TraceEvent> outline;
    std::copy_if(events.begin(), events.end(), std::back_inserter(outline),
                 [&](const TraceEvent& event) { return !part_of_a_rhythm(event); });
    return outline;
}

std::string to_text(TraceState state) {
    return state_names[static_cast<std::size_t>(state)];
}

std::string to_text(TraceEventKind kind) {
    return event_names[static_cast<std::size_t>(kind)];
}

std::string describe(const TraceSpan& span) {
    const std::string length = format_quantity(span.to_s - span.from_s, Unit::seconds, 2);
    switch (span.state) {
        case TraceState::off:
            return "dark for " + length;
        case TraceState::fold_back:
            return "pulled down to " + format_quantity(span.volts, Unit::volts) + " at " +
                   format_quantity(span.amps, Unit::amps) + " for " + length;
        case TraceState::contract:
        case TraceState::programmable:
            break;
    }
    return format_quantity(span.volts, Unit::volts) + ", " + format_quantity(span.amps, Unit::amps) +
           " for " + length;
}

std::string describe(const TraceEvent& event) {
    switch (event.kind) {
        case TraceEventKind::attach:
            return "lights up at " + format_quantity(event.value, Unit::volts);
        case TraceEventKind::contract_step:
            return "goes to " + format_quantity(event.value, Unit::volts);
        case TraceEventKind::retry_cycle:
            return "retries every " + format_quantity(event.value, Unit::seconds, 2);
        case TraceEventKind::drop_out:
            return "drops out for " + format_quantity(event.value, Unit::seconds, 2);
        case TraceEventKind::pulled:
            return "out for " + format_quantity(event.value, Unit::seconds, 2) + ": pulled, or gone for good";
        case TraceEventKind::collapse:
            return "falls by " + format_quantity(event.value, Unit::volts) + " under load";
        case TraceEventKind::boot:
            return "the machine starts: " + format_quantity(event.value, Unit::amps);
        case TraceEventKind::charge_ramp:
            return "charging climbs to " + format_quantity(event.value, Unit::amps);
        case TraceEventKind::taper:
            return "charging falls off by " + format_quantity(100.0 * event.value, Unit::none, 2) + " %";
    }
    return {};
}

std::string short_name(const TraceEvent& event) {
    switch (event.kind) {
        case TraceEventKind::attach:
            return "lights up";
        case TraceEventKind::contract_step:
            return format_quantity(event.value, Unit::volts, 3);
        case TraceEventKind::retry_cycle:
            return "retries every " + format_quantity(event.value, Unit::seconds, 2);
        case TraceEventKind::drop_out:
            return "drop-out";
        case TraceEventKind::pulled:
            return "out";
        case TraceEventKind::collapse:
            return "collapses";
        case TraceEventKind::boot:
            return "starts";
        case TraceEventKind::charge_ramp:
            return "charges";
        case TraceEventKind::taper:
            return "tapers";
    }
    return {};
}

}  // namespace eh
