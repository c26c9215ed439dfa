// SPDX-License-Identifier: GPL-3.0-or-later
// The inline meter at the plug: whether it is lit, its volts and amps.
#pragma once

#include <array>
#include <string>
#include <string_view>

#include "core/readings/kind_of_reading.h"
#include "core/trace/meter_summary.h"

namespace eh {

// A meter that shows more than this does not show 5 V read badly.
inline constexpr double shown_above_default_volts = 6.0;

struct MeterReading {
    MeterSummary meter;
    bool amps_known = true;  // false when only volts were written down
    friend bool operator==(const MeterReading&, const MeterReading&) = default;
};

template <>
struct Traits<MeterReading> : UsualTraits<MeterReading> {
    static constexpr ReadingKind kind = ReadingKind::meter;
    static constexpr std::string_view word = "meter";
    static constexpr int words = 4;
    // Edges between outcomes: between the contracts, and by what machines draw.
    static constexpr std::array volt_edges{4.4, 6.0, 10.0, 13.0, 17.0, 18.4};
    static constexpr std::array amp_edges{0.03, 0.09, 0.2, 0.4, 0.9, 1.6, 2.6};
    // The outcome of a meter that is lit, by the bins of its volts and amps.
    static int lit_outcome(int volt_bin, int amp_bin, bool cycling);

    // As kind_of_reading.h says.
    static Outcome plausible(const MeterReading& value, const std::string& where);
    static double background(const MeterReading& value);
    static bool shows_the_same(const MeterReading& a, const MeterReading& b, const AccuracyOptions& accuracy);
    static std::string value_text(const MeterReading& value, const Topology& topology);
    static std::string subject(const MeterReading& value, const BenchConfiguration& bench,
                               const Topology& topology);
    static void write(const MeterReading& value, nlohmann::json& file);
    static MeterReading read(const JsonReader& field);
    static Outcome fits(const MeterReading& value, const BenchConfiguration& bench, const MachinePlan& plan,
                        const std::string& where);
    static void bring(const MeterReading& value, const BenchConfiguration& bench, const Topology& topology,
                      ReadingTerms& terms);
    static std::size_t outcome_count(const MachinePlan& plan);
    static std::string outcome_text(int outcome, const MachinePlan& plan);
};

}  // namespace eh
