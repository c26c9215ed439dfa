// SPDX-License-Identifier: GPL-3.0-or-later
// What the conversation on the CC line came to, recorded from plugging in on.
#pragma once

#include <array>
#include <string>
#include <string_view>

#include "core/readings/kind_of_reading.h"
#include "core/usbc/negotiation.h"

namespace eh {

struct TalkReading {
    NegotiationEnd end = NegotiationEnd::silent;
    friend bool operator==(const TalkReading&, const TalkReading&) = default;
};

template <>
struct Traits<TalkReading> : UsualTraits<TalkReading> {
    static constexpr ReadingKind kind = ReadingKind::talk;
    static constexpr std::string_view word = "talk";
    static constexpr std::array<std::string_view, 1> quick_words{"talk"};
    static constexpr int words = negotiation_end_count;

    // As kind_of_reading.h says.
    static std::string value_text(const TalkReading& value, const Topology& topology);
    static std::string subject(const TalkReading& value, const BenchConfiguration& bench,
                               const Topology& topology);
    static void write(const TalkReading& value, nlohmann::json& file);
    static TalkReading read(const JsonReader& field);
    static Outcome fits(const TalkReading& value, const BenchConfiguration& bench, const MachinePlan& plan,
                        const std::string& where);
    static Result<TalkReading> from_quick(QuickInput& typed);
    static void bring(const TalkReading& value, const BenchConfiguration& bench, const Topology& topology,
                      ReadingTerms& terms);
    static std::size_t outcome_count(const MachinePlan& plan);
    static std::string outcome_text(int outcome, const MachinePlan& plan);
};

}  // namespace eh
