// SPDX-License-Identifier: GPL-3.0-or-later
// Volts of the battery pack at its connector, unplugged from the machine.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>

#include "core/readings/kind_of_reading.h"

namespace eh {

struct PackReading {
    std::optional<double> volts;  // never empty once it was taken
    friend bool operator==(const PackReading&, const PackReading&) = default;
};

template <>
struct Traits<PackReading> : UsualTraits<PackReading> {
    static constexpr ReadingKind kind = ReadingKind::pack;
    static constexpr std::string_view word = "pack";
    static constexpr std::array<std::string_view, 1> quick_words{"pack"};
    static constexpr bool unpowered = true;
    // Edges between outcomes, as shares of the pack's nominal volts: asleep, empty, between, nearly full.
    static constexpr std::array edges{0.2, 0.6, 0.8, 0.9, 1.05};

    // As kind_of_reading.h says.
    static Outcome plausible(const PackReading& value, const std::string& where);
    static OffQuestion asks(const PackReading& value, const MachinePlan& plan);
    static std::string bench_conflict(const BenchConfiguration& bench);
    static double background(const PackReading& value);
    static bool shows_the_same(const PackReading& a, const PackReading& b, const AccuracyOptions& accuracy);
    static auto& number(auto& value) { return value.volts; }
    static std::string value_text(const PackReading& value, const Topology& topology);
    static std::string subject(const PackReading& value, const BenchConfiguration& bench,
                               const Topology& topology);
    static void write(const PackReading& value, nlohmann::json& file);
    static PackReading read(const JsonReader& field);
    static Outcome fits(const PackReading& value, const BenchConfiguration& bench, const MachinePlan& plan,
                        const std::string& where);
    static Result<PackReading> from_quick(QuickInput& typed);
    static void bring(const PackReading& value, const BenchConfiguration& bench, const Topology& topology,
                      ReadingTerms& terms);
    static std::array<double, edges.size()> edge_volts(const MachinePlan& plan);
    static std::size_t outcome_count(const MachinePlan& plan);
    static std::string outcome_text(int outcome, const MachinePlan& plan);
};

}  // namespace eh
