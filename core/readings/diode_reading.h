// SPDX-License-Identifier: GPL-3.0-or-later
// Diode mode, red lead on ground and black on a net, machine off.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>

#include "core/readings/kind_of_reading.h"

namespace eh {

struct DiodeReading {
    std::string net;
    std::optional<double> volts;  // empty: OL
    friend bool operator==(const DiodeReading&, const DiodeReading&) = default;
};

template <>
struct Traits<DiodeReading> : UsualTraits<DiodeReading> {
    static constexpr ReadingKind kind = ReadingKind::diode;
    static constexpr std::string_view word = "diode";
    static constexpr std::array<std::string_view, 1> quick_words{"diode"};
    static constexpr bool unpowered = true;
    // Edges between outcomes; the last outcome is OL.
    static constexpr std::array edges{0.05, 0.2, 0.35, 0.45, 0.55, 0.65, 0.8, 1.2};

    // As kind_of_reading.h says.
    static std::string place(const DiodeReading& value) { return value.net; }
    static DiodeReading at(const std::string& place);
    static Outcome plausible(const DiodeReading& value, const std::string& where);
    static std::string bench_conflict(const BenchConfiguration& bench);
    static double background(const DiodeReading& value);
    static bool shows_the_same(const DiodeReading& a, const DiodeReading& b, const AccuracyOptions& accuracy);
    static auto& number(auto& value) { return value.volts; }
    static OffQuestion asks(const DiodeReading& value, const MachinePlan& plan);
    static std::string value_text(const DiodeReading& value, const Topology& topology);
    static std::string subject(const DiodeReading& value, const BenchConfiguration& bench,
                               const Topology& topology);
    static void write(const DiodeReading& value, nlohmann::json& file);
    static DiodeReading read(const JsonReader& field);
    static Outcome fits(const DiodeReading& value, const BenchConfiguration& bench, const MachinePlan& plan,
                        const std::string& where);
    static Result<DiodeReading> from_quick(QuickInput& typed);
    static void bring(const DiodeReading& value, const BenchConfiguration& bench, const Topology& topology,
                      ReadingTerms& terms);
    static std::size_t outcome_count(const MachinePlan& plan);
    static std::string outcome_text(int outcome, const MachinePlan& plan);
};

}  // namespace eh
