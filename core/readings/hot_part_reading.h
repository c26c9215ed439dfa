// SPDX-License-Identifier: GPL-3.0-or-later
// The hottest part under power, and by how much it is warmer than its surroundings.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>

#include "core/readings/kind_of_reading.h"

namespace eh {

struct HotPartReading {
    std::string part;                         // empty: nothing warm
    std::optional<double> rise_kelvin = 0.0;  // empty: a finger felt it, and measured nothing
    double certainty = 1.0;                   // that the part is the one: a finger feels a place, not a part
    friend bool operator==(const HotPartReading&, const HotPartReading&) = default;
};

template <>
struct Traits<HotPartReading> : UsualTraits<HotPartReading> {
    static constexpr ReadingKind kind = ReadingKind::hot_part;
    static constexpr std::string_view word = "hot";
    static constexpr std::array<std::string_view, 1> quick_words{"hot"};
    static constexpr int words = 20;  // parts in sight of a camera
    // The word of a thermal reading is the part's number from 1, 0 for none.
    static int part_number(const std::string& part, const Topology& topology);

    // As kind_of_reading.h says.
    static std::string place(const HotPartReading& value) { return value.part; }
    static HotPartReading at(const std::string& place);
    static Outcome plausible(const HotPartReading& value, const std::string& where);
    static std::string bench_conflict(const BenchConfiguration& bench);
    static double background(const HotPartReading& value);
    static std::string value_text(const HotPartReading& value, const Topology& topology);
    static std::string subject(const HotPartReading& value, const BenchConfiguration& bench,
                               const Topology& topology);
    static void write(const HotPartReading& value, nlohmann::json& file);
    static HotPartReading read(const JsonReader& field);
    static Outcome fits(const HotPartReading& value, const BenchConfiguration& bench, const MachinePlan& plan,
                        const std::string& where);
    static Result<HotPartReading> from_quick(QuickInput& typed);
    static void bring(const HotPartReading& value, const BenchConfiguration& bench, const Topology& topology,
                      ReadingTerms& terms);
    static std::size_t outcome_count(const MachinePlan& plan);
    static std::string outcome_text(int outcome, const MachinePlan& plan);
};

}  // namespace eh
