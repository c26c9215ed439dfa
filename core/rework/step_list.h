// SPDX-License-Identifier: GPL-3.0-or-later
// The steps of a repair, made from what is known of the machine (data/rework/repairs.json).
#pragma once

#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/machine/model/work.h"

namespace eh {

// In the order of the work: a list is sorted by it.
enum class StepPhase { prepare, open, remove, pads, fit, test, anchors, wash, close, prove };
inline constexpr int step_phase_count = 10;
std::string to_text(StepPhase phase);
std::string describe(StepPhase phase);

// What a step asks the program to do beside being ticked off.
enum class StepNeeds {
    nothing,
    opening_list,
    closing_connectors,
    closing_list,
    photo,
    reading,
    heat_timer,
    timer
};

struct RepairStep {
    std::string id;
    StepPhase phase = StepPhase::prepare;
    std::string says;
    std::string why;
    std::vector<std::string> when;      // facts that must hold; "!fact": must not
    std::vector<std::string> cautions;  // ids
    StepNeeds needs = StepNeeds::nothing;
    double timer_s = 0.0;
};

struct RepairKind {
    std::string id;
    std::string title;
    std::vector<std::string> block_kinds;  // kinds of parts it is usual for
    std::vector<std::string> remedies;     // acts of the catalogue it serves
    std::string heat_part;                 // id of heat_parts.json, or empty
    std::vector<RepairStep> steps;
};

struct StepFact {
    std::string id;
    std::string title;  // as a question with yes or no
    bool usual = false;
};

struct StepCaution {
    std::string id;
    std::string says;
};

struct RepairBook {
    std::vector<StepFact> facts;
    std::vector<StepCaution> cautions;
    std::vector<RepairStep> common;  // of every repair that opens the machine
    std::vector<RepairKind> repairs;

    // nullptr where there is no such kind of repair.
    [[nodiscard]] const RepairKind* find(const std::string& id) const;
    // The step of that id, of the common ones or of any repair; nullptr where there is none.
    [[nodiscard]] const RepairStep* find_step(const std::string& id) const;
    [[nodiscard]] const StepCaution* find_caution(const std::string& id) const;
    // The repair that is usual for a remedy on a kind of part; nullptr where none is.
    [[nodiscard]] const RepairKind* usual_for(const std::string& block_kind, Work remedy) const;
};

// Refuses steps whose facts or cautions are not listed, ids that stand twice, and repairs without steps, with
// file and field.
Result<RepairBook> parse_repairs(const std::string& text, const std::string& file);

// The steps of a repair with these facts: the common ones and its own whose conditions hold, by phase, then
// in the order of the file. Requires a repair of the book.
std::vector<RepairStep> make_steps(const RepairBook& book, const RepairKind& repair,
                                   const std::set<std::string>& facts);

// The facts of the repair's own and the common steps that change its list, in the order of the book.
std::vector<StepFact> facts_that_matter(const RepairBook& book, const RepairKind& repair);

}  // namespace eh
