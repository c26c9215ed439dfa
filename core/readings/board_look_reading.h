// SPDX-License-Identifier: GPL-3.0-or-later
// The whole board looked over under magnification: what was found where, or nothing.
#pragma once

#include <vector>

#include "core/readings/kind_of_reading.h"
#include "core/readings/look_reading.h"

namespace eh {

struct BoardLookReading {
    std::vector<SeenPart> found;  // each part once, none of them sound
    friend bool operator==(const BoardLookReading&, const BoardLookReading&) = default;
};

template <>
struct Traits<BoardLookReading> : UsualTraits<BoardLookReading> {
    static constexpr ReadingKind kind = ReadingKind::board_look;
    static constexpr std::string_view word = "board";
    static constexpr std::array<std::string_view, 1> quick_words{"board"};
    static constexpr bool by_eye = true;
    static constexpr std::size_t most_found = 40;  // more are no list of findings

    static double background(const BoardLookReading& value);
    static std::string bench_conflict(const BenchConfiguration& bench);
    static std::string value_text(const BoardLookReading& value, const Topology& topology);
    static std::string subject(const BoardLookReading& value, const BenchConfiguration& bench,
                               const Topology& topology);
    static void write(const BoardLookReading& value, nlohmann::json& file);
    static BoardLookReading read(const JsonReader& field);
    static Outcome fits(const BoardLookReading& value, const BenchConfiguration& bench,
                        const MachinePlan& plan, const std::string& where);
    // "board nothing", "board cv1 burnt, pc1 corroded".
    static Result<BoardLookReading> from_quick(QuickInput& typed);
    static void bring(const BoardLookReading& value, const BenchConfiguration& bench,
                      const Topology& topology, ReadingTerms& terms);
    // Nothing, or the part that is found first.
    static std::size_t outcome_count(const MachinePlan& plan);
    static std::string outcome_text(int outcome, const MachinePlan& plan);
};

}  // namespace eh
