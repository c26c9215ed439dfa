// SPDX-License-Identifier: GPL-3.0-or-later
// Volts of a net under power, black lead on ground.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>

#include "core/readings/kind_of_reading.h"

namespace eh {

struct NetVoltsReading {
    std::string net;
    double volts = 0.0;
    std::optional<double> falls_to = {};  // where it rises and falls: the lower end, `volts` the upper
    friend bool operator==(const NetVoltsReading&, const NetVoltsReading&) = default;
};

template <>
struct Traits<NetVoltsReading> : UsualTraits<NetVoltsReading> {
    static constexpr ReadingKind kind = ReadingKind::net_volts;
    static constexpr std::string_view word = "volts";
    // Edges between outcomes: between the usual rails.
    static constexpr std::array edges{0.15, 0.5, 1.0, 1.6,  2.4,  3.0,  3.6, 4.4,
                                      5.6,  7.0, 9.5, 12.0, 14.0, 17.0, 18.4};

    // Share of all readings in which a net rises and falls, for the broad spread (estimate).
    static constexpr double alternates_anyhow = 0.1;

    // As kind_of_reading.h says.
    static std::string place(const NetVoltsReading& value) { return value.net; }
    static NetVoltsReading at(const std::string& place);
    static Outcome plausible(const NetVoltsReading& value, const std::string& where);
    static std::string bench_conflict(const BenchConfiguration& bench);
    static double background(const NetVoltsReading& value);
    static bool shows_the_same(const NetVoltsReading& a, const NetVoltsReading& b,
                               const AccuracyOptions& accuracy);
    static std::string value_text(const NetVoltsReading& value, const Topology& topology);
    static std::string subject(const NetVoltsReading& value, const BenchConfiguration& bench,
                               const Topology& topology);
    static void write(const NetVoltsReading& value, nlohmann::json& file);
    static NetVoltsReading read(const JsonReader& field);
    static Outcome fits(const NetVoltsReading& value, const BenchConfiguration& bench,
                        const MachinePlan& plan, const std::string& where);
    static void bring(const NetVoltsReading& value, const BenchConfiguration& bench, const Topology& topology,
                      ReadingTerms& terms);
    static std::size_t outcome_count(const MachinePlan& plan);
    static std::string outcome_text(int outcome, const MachinePlan& plan);
};

}  // namespace eh
