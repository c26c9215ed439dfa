// SPDX-License-Identifier: GPL-3.0-or-later
// Ohms from one net to another, machine off: across a part on the board, or along the way from a plug that
// stands in a port to the board.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>

#include "core/readings/kind_of_reading.h"

namespace eh {

struct BetweenReading {
    std::string net;             // with a bare plug in a port: at the plug's contact that leads to it
    std::string other;           // on the board
    std::optional<double> ohms;  // empty: OL, over the meter's range
    friend bool operator==(const BetweenReading&, const BetweenReading&) = default;
};

template <>
struct Traits<BetweenReading> : UsualTraits<BetweenReading> {
    static constexpr ReadingKind kind = ReadingKind::between;
    static constexpr std::string_view word = "between";
    static constexpr std::array<std::string_view, 2> quick_words{"between", "across"};
    static constexpr bool unpowered = true;

    // As kind_of_reading.h says. Its place is both nets with ">" between them, in their order.
    static std::string place(const BetweenReading& value) { return value.net + '>' + value.other; }
    static BetweenReading at(const std::string& place);
    static Outcome plausible(const BetweenReading& value, const std::string& where);
    static OffQuestion asks(const BetweenReading& value, const MachinePlan& plan);
    static std::string bench_conflict(const BenchConfiguration& bench);
    static double background(const BetweenReading& value);
    static bool shows_the_same(const BetweenReading& a, const BetweenReading& b,
                               const AccuracyOptions& accuracy);
    static auto& number(auto& value) { return value.ohms; }
    static std::string value_text(const BetweenReading& value, const Topology& topology);
    static std::string subject(const BetweenReading& value, const BenchConfiguration& bench,
                               const Topology& topology);
    static void write(const BetweenReading& value, nlohmann::json& file);
    static BetweenReading read(const JsonReader& field);
    static Outcome fits(const BetweenReading& value, const BenchConfiguration& bench, const MachinePlan& plan,
                        const std::string& where);
    static Result<BetweenReading> from_quick(QuickInput& typed);
    static void bring(const BetweenReading& value, const BenchConfiguration& bench, const Topology& topology,
                      ReadingTerms& terms);
    static std::size_t outcome_count(const MachinePlan& plan);
    static std::string outcome_text(int outcome, const MachinePlan& plan);
};

}  // namespace eh
