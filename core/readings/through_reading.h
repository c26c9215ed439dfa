// SPDX-License-Identifier: GPL-3.0-or-later
// Ohms from end to end of a part that was unplugged, its worst wire; at rest and pushed.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>

#include "core/readings/kind_of_reading.h"

namespace eh {

struct ThroughReading {
    std::string part;
    std::optional<double> ohms;               // empty: OL
    std::optional<bool> changes_when_pushed;  // empty: it was not pushed
    friend bool operator==(const ThroughReading&, const ThroughReading&) = default;
};

template <>
struct Traits<ThroughReading> : UsualTraits<ThroughReading> {
    static constexpr ReadingKind kind = ReadingKind::through;
    static constexpr std::string_view word = "through";
    static constexpr std::array<std::string_view, 1> quick_words{"through"};
    static constexpr bool unpowered = true;

    // As kind_of_reading.h says.
    static std::string place(const ThroughReading& value) { return value.part; }
    static ThroughReading at(const std::string& place);
    static Outcome plausible(const ThroughReading& value, const std::string& where);
    static std::string bench_conflict(const BenchConfiguration& bench);
    static double background(const ThroughReading& value);
    static auto& number(auto& value) { return value.ohms; }
    static OffQuestion asks(const ThroughReading& value, const MachinePlan& plan);
    static std::string value_text(const ThroughReading& value, const Topology& topology);
    static std::string subject(const ThroughReading& value, const BenchConfiguration& bench,
                               const Topology& topology);
    static void write(const ThroughReading& value, nlohmann::json& file);
    static ThroughReading read(const JsonReader& field);
    static Outcome fits(const ThroughReading& value, const BenchConfiguration& bench, const MachinePlan& plan,
                        const std::string& where);
    static Result<ThroughReading> from_quick(QuickInput& typed);
    static void bring(const ThroughReading& value, const BenchConfiguration& bench, const Topology& topology,
                      ReadingTerms& terms);
    static std::size_t outcome_count(const MachinePlan& plan);
    static std::string outcome_text(int outcome, const MachinePlan& plan);
};

}  // namespace eh
