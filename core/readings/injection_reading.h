// SPDX-License-Identifier: GPL-3.0-or-later
// A bench supply feeds a net of a machine that is off: its volts and amps, and what gets warm.
#pragma once

#include <array>
#include <string>
#include <string_view>

#include "core/readings/hot_part_reading.h"
#include "core/readings/kind_of_reading.h"
#include "core/trace/meter_summary.h"

namespace eh {

struct InjectionReading {
    MeterSummary supply{MeterPattern::steady, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0};
    HotPartReading hottest;
    friend bool operator==(const InjectionReading&, const InjectionReading&) = default;
};

template <>
struct Traits<InjectionReading> : UsualTraits<InjectionReading> {
    static constexpr ReadingKind kind = ReadingKind::injection;
    static constexpr std::string_view word = "inject";
    static constexpr std::array<std::string_view, 1> quick_words{"inject"};
    static constexpr int words = Traits<HotPartReading>::words;

    // As kind_of_reading.h says.
    static std::string place(const InjectionReading& value) { return value.hottest.part; }
    static InjectionReading at(const std::string& place);
    static Outcome plausible(const InjectionReading& value, const std::string& where);
    static std::string bench_conflict(const BenchConfiguration& bench);
    static double background(const InjectionReading& value);
    static std::string value_text(const InjectionReading& value, const Topology& topology);
    static std::string subject(const InjectionReading& value, const BenchConfiguration& bench,
                               const Topology& topology);
    static void write(const InjectionReading& value, nlohmann::json& file);
    static InjectionReading read(const JsonReader& field);
    static Outcome fits(const InjectionReading& value, const BenchConfiguration& bench,
                        const MachinePlan& plan, const std::string& where);
    static Result<InjectionReading> from_quick(QuickInput& typed);
    static void bring(const InjectionReading& value, const BenchConfiguration& bench,
                      const Topology& topology, ReadingTerms& terms);
    static std::size_t outcome_count(const MachinePlan& plan);
    static std::string outcome_text(int outcome, const MachinePlan& plan);
};

}  // namespace eh
