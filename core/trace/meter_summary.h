// SPDX-License-Identifier: GPL-3.0-or-later
// What a stretch of an inline meter's stream amounts to: volts, amps, their spread and the pattern.
//
// One summary serves both sides of the comparison: what the technician captures from the stream and what the
// model predicts (core/machine/simulation/observation.h) go through summarise(), so they mean the same thing.
#pragma once

#include <optional>
#include <span>
#include <string>

namespace eh {

// One line of the stream. While the meter is dark it sends nothing: a gap, never a row of zeros.
struct MeterSample {
    double t_s = 0.0;
    double volts = 0.0;
    double amps = 0.0;
    friend bool operator==(const MeterSample&, const MeterSample&) = default;
};

enum class MeterPattern {
    dark,     // not lit in the whole stretch
    steady,   // lit, one level of volts
    cycling,  // comes and goes, again and again
    flash,    // lit for a moment, then dark for good
};

struct MeterSummary {
    MeterPattern pattern = MeterPattern::dark;
    double volts = 0.0;         // mean while lit
    double volts_spread = 0.0;  // standard deviation while lit
    double amps = 0.0;
    double amps_spread = 0.0;
    double peak_amps = 0.0;
    double period_s = 0.0;  // of the cycling, else 0
    friend bool operator==(const MeterSummary&, const MeterSummary&) = default;
};

struct SummaryOptions {
    double gap_s = 0.0;             // without a sample for so long it counts as dark; 0: dark_gap_s()
    double swing_volts = 1.0;       // volts that move by less are one level
    double flash_dark_share = 0.4;  // of the stretch, dark at its end, makes a single lit spell a flash
    int least_rises = 2;            // rises in a stretch that make a cycle
};

// How long a meter that sends these samples must be silent to count as dark: a third of a second, or three of
// its lines where it speaks more slowly. Requires samples in the order of time.
double dark_gap_s(std::span<const MeterSample> samples);

// Summarises the samples with from_s <= t < to_s. Requires samples in the order of time and from_s < to_s.
// No sample in the stretch: dark, all numbers 0.
MeterSummary summarise(std::span<const MeterSample> samples, double from_s, double to_s,
                       const SummaryOptions& options = {});

// "dark", "steady", "cycling", "flash".
std::string to_text(MeterPattern pattern);
std::optional<MeterPattern> meter_pattern_from(const std::string& text);

}  // namespace eh
