// SPDX-License-Identifier: GPL-3.0-or-later
// What the machine itself says about charging.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>

#include "core/machine/simulation/observation.h"
#include "core/readings/kind_of_reading.h"
#include "core/readings/settings_page.h"

namespace eh {

struct FirmwareReading {
    FirmwareMessage message = FirmwareMessage::none;
    std::optional<double> percent = {};     // how full it says the battery is
    std::optional<ChargeTrend> trend = {};  // what becomes of that over minutes
    SettingsPage page = {};
    friend bool operator==(const FirmwareReading&, const FirmwareReading&) = default;
};

template <>
struct Traits<FirmwareReading> : UsualTraits<FirmwareReading> {
    static constexpr ReadingKind kind = ReadingKind::firmware;
    static constexpr std::string_view word = "firmware";
    static constexpr std::array<std::string_view, 2> quick_words{"says", "fw"};
    static constexpr int words = firmware_message_count;

    // As kind_of_reading.h says.
    static Outcome plausible(const FirmwareReading& value, const std::string& where);
    static double background(const FirmwareReading& value);
    static std::string value_text(const FirmwareReading& value, const Topology& topology);
    static std::string subject(const FirmwareReading& value, const BenchConfiguration& bench,
                               const Topology& topology);
    static void write(const FirmwareReading& value, nlohmann::json& file);
    static FirmwareReading read(const JsonReader& field);
    static Outcome fits(const FirmwareReading& value, const BenchConfiguration& bench,
                        const MachinePlan& plan, const std::string& where);
    static Result<FirmwareReading> from_quick(QuickInput& typed);
    static void bring(const FirmwareReading& value, const BenchConfiguration& bench, const Topology& topology,
                      ReadingTerms& terms);
    static std::size_t outcome_count(const MachinePlan& plan);
    static std::string outcome_text(int outcome, const MachinePlan& plan);
};

}  // namespace eh
