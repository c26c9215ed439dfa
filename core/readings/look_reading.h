// SPDX-License-Identifier: GPL-3.0-or-later
// What is seen of a part.
#pragma once

#include <array>
#include <string>
#include <string_view>

#include <optional>
#include <string>
#include <vector>

#include "core/machine/model/look.h"
#include "core/readings/kind_of_reading.h"

namespace eh {

// How a part looks.
struct SeenPart {
    std::string part;
    Look seen = Look::sound;
    Flaw flaw = Flaw::none;  // said closer; what it counts as is `seen`
    friend auto operator<=>(const SeenPart&, const SeenPart&) = default;
};

struct LookReading {
    std::string part;
    Look seen = Look::sound;
    Flaw flaw = Flaw::none;
    Contact contact = Contact::none;  // where on an inlet
    friend bool operator==(const LookReading&, const LookReading&) = default;
};

template <>
struct Traits<LookReading> : UsualTraits<LookReading> {
    static constexpr ReadingKind kind = ReadingKind::look;
    static constexpr std::string_view word = "look";
    static constexpr std::array<std::string_view, 1> quick_words{"look"};
    static constexpr bool by_eye = true;
    static constexpr int words = look_count;

    // As kind_of_reading.h says.
    static std::string place(const LookReading& value) { return value.part; }
    static LookReading at(const std::string& place);
    static std::string bench_conflict(const BenchConfiguration& bench);
    static std::string value_text(const LookReading& value, const Topology& topology);
    static std::string subject(const LookReading& value, const BenchConfiguration& bench,
                               const Topology& topology);
    static void write(const LookReading& value, nlohmann::json& file);
    static LookReading read(const JsonReader& field);
    static Outcome fits(const LookReading& value, const BenchConfiguration& bench, const MachinePlan& plan,
                        const std::string& where);
    static Result<LookReading> from_quick(QuickInput& typed);
    static void bring(const LookReading& value, const BenchConfiguration& bench, const Topology& topology,
                      ReadingTerms& terms);
    static std::size_t outcome_count(const MachinePlan& plan);
    static std::string outcome_text(int outcome, const MachinePlan& plan);
};

// For people: "burnt or discoloured".
std::string describe(Look look);
// The flaw where one is named, else the look: "pins bent", "burnt or discoloured".
std::string describe(Look look, Flaw flaw);

// Pieces that looks at a part and over the board share. Internal to core/readings.
namespace looks {
// Takes the word of a look or a flaw out of the line; nothing where none is there.
struct Seen {
    Look look = Look::sound;
    Flaw flaw = Flaw::none;
};
std::optional<Seen> take_seen(std::vector<std::string>& words);
void write(Look look, Flaw flaw, nlohmann::json& file);
// Fields `look` and `flaw`, one of which may be missing; refused where they contradict each other.
Seen read(const JsonReader& field);
}  // namespace looks

}  // namespace eh
