// SPDX-License-Identifier: GPL-3.0-or-later
// The wiggle test: the plug is pushed one way after the other while the meter looks on.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/trace/meter_summary.h"

namespace eh {

enum class WiggleDirection { rest, up, down, left, right };

// What to do when.
struct WiggleStep {
    WiggleDirection direction = WiggleDirection::rest;
    double from_s = 0.0;
    double to_s = 0.0;
};

// Twenty seconds from start_s: at rest first, to compare with, then each way.
std::vector<WiggleStep> wiggle_steps(double start_s);

struct WiggleStretch {
    WiggleDirection direction = WiggleDirection::rest;
    int drop_outs = 0;          // that began in it
    double amps = 0.0;          // median while lit
    double spread_share = 0.0;  // standard deviation of volts over amps (0.2 s means) by their mean
};

enum class WiggleVerdict {
    cannot_tell,  // nothing flowed at rest, so that nothing could drop out
    holds,
    wavers,  // no drop-out, but what the charger sees moves much more than at rest
    drops_out,
};

struct WiggleReport {
    WiggleVerdict verdict = WiggleVerdict::cannot_tell;
    std::vector<WiggleStretch> stretches;
    int drop_outs = 0;
    double gone_s = 0.0;                   // in all
    double seconds = 0.0;                  // of pushing
    std::optional<WiggleDirection> worst;  // where it dropped out most, or wavered
    // Rate that the counted drop-outs stay below with 95 % confidence (Poisson; with none it is 3.0 over the
    // time: Hanley and Lippman-Hand, "If nothing goes wrong, is everything all right?", JAMA 249, 1983).
    double most_a_minute = 0.0;
};

// Reads the samples along the steps. A drop-out is a dark moment, or amps below a third of those at rest: a
// meter before the plug stays lit when the contact behind it opens. It lasts until the amps are back, since a
// machine needs seconds to start again. Requires samples in the order of time, and steps.
WiggleReport read_wiggle(std::span<const MeterSample> samples, const std::vector<WiggleStep>& steps);

// "at rest", "up", ...
std::string to_text(WiggleDirection direction);
// The verdict with its numbers, for people.
std::string describe(const WiggleReport& report);

}  // namespace eh
