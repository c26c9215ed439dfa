// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/board_look_reading.h"

#include <algorithm>
#include <cmath>
#include <iterator>

#include "core/base/text.h"
#include "core/readings/bench_text.h"
#include "core/readings/kind_parts.h"
#include "core/readings/look_reading.h"
#include "core/readings/quick_words.h"

namespace eh {
namespace {

// A finding that a part of the line names: the part's words and what is seen of it.
Result<SeenPart> finding_in(Words words, const Topology& topology) {
    const auto seen = looks::take_seen(words);
    if (!seen || seen->look == Look::sound)
        return refused("what was found on the board? Write board nothing, or for instance board " +
                       topology.blocks.front().id + " burnt, with commas between findings");
    const auto block = find_block(words, topology);
    if (!block)
        return block.error();
    return SeenPart{(*block)->id, seen->look, seen->flaw};
}

// The words between the commas.
std::vector<Words> parted_at_commas(const Words& words) {
    std::vector<Words> parts(1);
    for (const std::string& word : words) {
        const bool ends = word.back() == ',';
        const std::string alone = ends ? word.substr(0, word.size() - 1) : word;
        if (!alone.empty())
            parts.back().push_back(alone);
        if (ends)
            parts.emplace_back();
    }
    if (parts.back().empty())
        parts.pop_back();
    return parts;
}

Outcome each_once(const std::vector<SeenPart>& found, const std::string& where) {
    for (auto one = found.begin(); one != found.end(); ++one) {
        const bool again = std::any_of(std::next(one), found.end(),
                                       [&](const SeenPart& other) { return other.part == one->part; });
        if (again)
            return refused("“" + one->part + "” stands twice among what was found on the board", where);
    }
    return Done{};
}

}  // namespace

using BoardLookTraits = Traits<BoardLookReading>;

std::string BoardLookTraits::bench_conflict(const BenchConfiguration& bench) {
    return bench.case_open ? "" : "The board cannot be seen yet: the bench says the case is closed.";
}

std::string BoardLookTraits::value_text(const BoardLookReading& value, const Topology& topology) {
    if (value.found.empty())
        return "nothing odd";
    std::string text;
    for (const SeenPart& one : value.found)
        text += (text.empty() ? "" : "; ") + title_of_block(topology, one.part) + ": " +
                describe(one.seen, one.flaw);
    return text;
}

std::string BoardLookTraits::subject(const BoardLookReading&, const BenchConfiguration&, const Topology&) {
    return "The board, looked over";
}

void BoardLookTraits::write(const BoardLookReading& value, nlohmann::json& file) {
    file["found"] = nlohmann::json::array();
    for (const SeenPart& one : value.found) {
        nlohmann::json item{{"part", one.part}};
        looks::write(one.seen, one.flaw, item);
        file["found"].push_back(std::move(item));
    }
}

BoardLookReading BoardLookTraits::read(const JsonReader& field) {
    BoardLookReading value;
    for (const JsonReader& item : field.items("found")) {
        if (value.found.size() == most_found)
            item.refuse("more than " + integer_text(static_cast<long>(most_found)) +
                        " findings are no list of what is odd");
        const looks::Seen seen = looks::read(item);
        value.found.push_back({item.text("part"), seen.look, seen.flaw});
    }
    return value;
}

Outcome BoardLookTraits::fits(const BoardLookReading& value, const BenchConfiguration& bench,
                              const MachinePlan& plan, const std::string& where) {
    for (const SeenPart& one : value.found) {
        if (plan.find_block(one.part) < 0)
            return refused("this machine has no part “" + one.part + "”", where);
        if (one.seen == Look::sound)
            return refused("“" + one.part + "” looks sound: only what is odd is found on a board", where);
    }
    if (Outcome once = each_once(value.found, where); !once)
        return once;
    return kinds::without_supply(bench, where);
}

Result<BoardLookReading> BoardLookTraits::from_quick(QuickInput& typed) {
    BoardLookReading value;
    if (take_word(typed.words, "nothing") || take_word(typed.words, "none")) {
        if (!typed.words.empty())
            return refused("“" + joined(typed.words) + "” was found on the board, or nothing?");
        return value;
    }
    for (const Words& part : parted_at_commas(typed.words)) {
        const auto found = finding_in(part, typed.topology);
        if (!found)
            return found.error();
        value.found.push_back(*found);
    }
    if (value.found.empty())
        return finding_in({}, typed.topology).error();
    if (const Outcome once = each_once(value.found, {}); !once)
        return once.error();
    return value;
}

double BoardLookTraits::background(const BoardLookReading& value) {
    // What is found by chance: mostly nothing, else one flaw of the many that a board may show.
    constexpr double nothing_by_chance = 0.5;
    constexpr double one_flaw_by_chance = 0.01;
    return value.found.empty() ? nothing_by_chance
                               : std::pow(one_flaw_by_chance, static_cast<double>(value.found.size()));
}

void BoardLookTraits::bring(const BoardLookReading&, const BenchConfiguration&, const Topology&,
                            ReadingTerms&) {}

std::size_t BoardLookTraits::outcome_count(const MachinePlan& plan) {
    return 1 + plan.blocks.size();
}

std::string BoardLookTraits::outcome_text(int outcome, const MachinePlan& plan) {
    if (outcome == 0)
        return "nothing odd";
    const std::string& id = plan.blocks[static_cast<std::size_t>(outcome - 1)].id;
    return title_of_block(plan.topology(), id) + " looks odd";
}

}  // namespace eh
