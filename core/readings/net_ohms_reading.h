// SPDX-License-Identifier: GPL-3.0-or-later
// Ohms of a net to ground, machine off.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>

#include "core/readings/kind_of_reading.h"

namespace eh {

struct NetOhmsReading {
    std::string net;
    std::optional<double> ohms;  // empty: OL, over the meter's range
    friend bool operator==(const NetOhmsReading&, const NetOhmsReading&) = default;
};

template <>
struct Traits<NetOhmsReading> : UsualTraits<NetOhmsReading> {
    static constexpr ReadingKind kind = ReadingKind::net_ohms;
    static constexpr std::string_view word = "ohms";
    static constexpr bool unpowered = true;
    // Edges between outcomes; the last outcome is OL.
    static constexpr std::array edges{0.3, 0.8, 2.0, 5.0, 12.0, 30.0, 100.0, 1e3, 1e4, 1e5};

    // As kind_of_reading.h says.
    static std::string place(const NetOhmsReading& value) { return value.net; }
    static NetOhmsReading at(const std::string& place);
    static Outcome plausible(const NetOhmsReading& value, const std::string& where);
    static std::string bench_conflict(const BenchConfiguration& bench);
    static double background(const NetOhmsReading& value);
    static bool shows_the_same(const NetOhmsReading& a, const NetOhmsReading& b,
                               const AccuracyOptions& accuracy);
    static auto& number(auto& value) { return value.ohms; }
    static std::string value_text(const NetOhmsReading& value, const Topology& topology);
    static std::string subject(const NetOhmsReading& value, const BenchConfiguration& bench,
                               const Topology& topology);
    static void write(const NetOhmsReading& value, nlohmann::json& file);
    static NetOhmsReading read(const JsonReader& field);
    static Outcome fits(const NetOhmsReading& value, const BenchConfiguration& bench, const MachinePlan& plan,
                        const std::string& where);
    static void bring(const NetOhmsReading& value, const BenchConfiguration& bench, const Topology& topology,
                      ReadingTerms& terms);
    static std::size_t outcome_count(const MachinePlan& plan);
    static std::string outcome_text(int outcome, const MachinePlan& plan);
};

}  // namespace eh
