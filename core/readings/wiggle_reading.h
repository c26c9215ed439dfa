// SPDX-License-Identifier: GPL-3.0-or-later
// Whether the meter drops out when the plug is pushed.
#pragma once

#include <array>
#include <string>
#include <string_view>

#include "core/readings/kind_of_reading.h"

namespace eh {

struct WiggleReading {
    bool drops_out = false;
    friend bool operator==(const WiggleReading&, const WiggleReading&) = default;
};

template <>
struct Traits<WiggleReading> : UsualTraits<WiggleReading> {
    static constexpr ReadingKind kind = ReadingKind::wiggle;
    static constexpr std::string_view word = "wiggle";
    static constexpr std::array<std::string_view, 1> quick_words{"wiggle"};

    // As kind_of_reading.h says.
    static double background(const WiggleReading& value);
    static std::string value_text(const WiggleReading& value, const Topology& topology);
    static std::string subject(const WiggleReading& value, const BenchConfiguration& bench,
                               const Topology& topology);
    static void write(const WiggleReading& value, nlohmann::json& file);
    static WiggleReading read(const JsonReader& field);
    static Outcome fits(const WiggleReading& value, const BenchConfiguration& bench, const MachinePlan& plan,
                        const std::string& where);
    static Result<WiggleReading> from_quick(QuickInput& typed);
    static void bring(const WiggleReading& value, const BenchConfiguration& bench, const Topology& topology,
                      ReadingTerms& terms);
    static std::size_t outcome_count(const MachinePlan& plan);
    static std::string outcome_text(int outcome, const MachinePlan& plan);
};

}  // namespace eh
