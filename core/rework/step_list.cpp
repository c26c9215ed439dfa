// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rework/step_list.h"

#include <algorithm>
#include <array>
#include <map>

#include "core/base/json_reader.h"

namespace eh {
namespace {

constexpr std::array<const char*, step_phase_count> phase_names{
    "prepare", "open", "remove", "pads", "fit", "test", "anchors", "wash", "close", "prove"};
constexpr std::array<const char*, step_phase_count> phase_titles{
    "Prepare", "Open", "Take off", "Pads", "Fit", "Test", "Anchors", "Wash and dry", "Close", "Prove"};
constexpr double longest_timer_s = 24 * 3600.0;

template <typename List>
auto find_by_id(const List& list, const std::string& id) -> decltype(&*list.begin()) {
    const auto found =
        std::find_if(list.begin(), list.end(), [&](const auto& item) { return item.id == id; });
    return found == list.end() ? nullptr : &*found;
}

StepPhase phase_of(const JsonReader& field) {
    const auto found = std::find(phase_names.begin(), phase_names.end(), field.text());
    if (found == phase_names.end())
        field.refuse("“" + field.text() + "” is no phase of a repair");
    return static_cast<StepPhase>(found - phase_names.begin());
}

StepNeeds needs_of(const JsonReader& item) {
    static const std::map<std::string, StepNeeds> names{{"", StepNeeds::nothing},
                                                        {"opening_list", StepNeeds::opening_list},
                                                        {"closing_connectors", StepNeeds::closing_connectors},
                                                        {"closing_list", StepNeeds::closing_list},
                                                        {"photo", StepNeeds::photo},
                                                        {"reading", StepNeeds::reading},
                                                        {"heat_timer", StepNeeds::heat_timer},
                                                        {"timer", StepNeeds::timer}};
    const auto found = names.find(item.text("needs", ""));
    if (found == names.end())
        item.at("needs").refuse("“" + item.text("needs") + "” is nothing that a step can need");
    return found->second;
}

RepairStep read_step(const JsonReader& item, const RepairBook& book) {
    RepairStep step;
    step.id = item.text("id");
    step.phase = phase_of(item.at("phase"));
    step.says = item.text("says");
    step.why = item.text("why", "");
    step.when = item.texts("when");
    for (const std::string& condition : step.when) {
        const std::string fact = condition.substr(condition.rfind('!') == 0 ? 1 : 0);
        if (find_by_id(book.facts, fact) == nullptr)
            item.at("when").refuse("“" + fact + "” is no fact of this file");
    }
    step.cautions = item.texts("cautions");
    for (const std::string& caution : step.cautions)
        if (book.find_caution(caution) == nullptr)
            item.at("cautions").refuse("“" + caution + "” is no caution of this file");
    step.needs = needs_of(item);
    if (step.needs == StepNeeds::timer)
        step.timer_s = item.number_between("timer_s", 1.0, longest_timer_s);
    return step;
}

std::vector<RepairStep> read_steps(const JsonReader& owner, const char* key, const RepairBook& book) {
    std::vector<RepairStep> steps;
    for (const JsonReader& item : owner.items(key)) {
        steps.push_back(read_step(item, book));
        const auto same = std::count_if(steps.begin(), steps.end(),
                                        [&](const RepairStep& s) { return s.id == steps.back().id; });
        if (same > 1)
            item.refuse("the step “" + steps.back().id + "” stands twice");
    }
    return steps;
}

bool holds(const RepairStep& step, const std::set<std::string>& facts) {
    return std::all_of(step.when.begin(), step.when.end(), [&](const std::string& condition) {
        return condition.front() == '!' ? facts.count(condition.substr(1)) == 0 : facts.count(condition) != 0;
    });
}

}  // namespace

std::string to_text(StepPhase phase) {
    return phase_names[static_cast<std::size_t>(phase)];
}

std::string describe(StepPhase phase) {
    return phase_titles[static_cast<std::size_t>(phase)];
}

const RepairKind* RepairBook::find(const std::string& id) const {
    return find_by_id(repairs, id);
}

const RepairStep* RepairBook::find_step(const std::string& id) const {
    const auto in = [&id](const std::vector<RepairStep>& steps) -> const RepairStep* {
        const auto found =
            std::find_if(steps.begin(), steps.end(), [&](const RepairStep& step) { return step.id == id; });
        return found == steps.end() ? nullptr : &*found;
    };
    const RepairStep* step = in(common);
    for (std::size_t r = 0; r < repairs.size() && step == nullptr; ++r)
        step = in(repairs[r].steps);
    return step;
}

const StepCaution* RepairBook::find_caution(const std::string& id) const {
    return find_by_id(cautions, id);
}

const RepairKind* RepairBook::usual_for(const std::string& block_kind, Work remedy) const {
    const auto has = [](const std::vector<std::string>& list, const std::string& word) {
        return std::find(list.begin(), list.end(), word) != list.end();
    };
    const auto found = std::find_if(repairs.begin(), repairs.end(), [&](const RepairKind& repair) {
        return has(repair.block_kinds, block_kind) && has(repair.remedies, to_text(remedy));
    });
    return found == repairs.end() ? nullptr : &*found;
}

Result<RepairBook> parse_repairs(const std::string& text, const std::string& file) {
    return read_json<RepairBook>(text, file, [](const JsonReader& root) {
        root.check_format("eager-hound.repairs", 1);
        RepairBook book;
        for (const JsonReader& item : root.items("facts"))
            book.facts.push_back({item.text("id"), item.text("title"), item.boolean("usual", false)});
        for (const JsonReader& item : root.items("cautions"))
            book.cautions.push_back({item.text("id"), item.text("says")});
        book.common = read_steps(root, "common", book);
        for (const JsonReader& item : root.items("repairs")) {
            RepairKind repair;
            repair.id = item.text("id");
            repair.title = item.text("title");
            repair.block_kinds = item.texts("block_kinds");
            repair.remedies = item.texts("remedies");
            repair.heat_part = item.text("heat_part", "");
            repair.steps = read_steps(item, "steps", book);
            if (repair.steps.empty())
                item.refuse("a repair has steps; write them, or leave the repair out");
            if (book.find(repair.id) != nullptr)
                item.refuse("the repair “" + repair.id + "” stands twice");
            for (const RepairStep& step : repair.steps)
                if (find_by_id(book.common, step.id) != nullptr)
                    item.refuse("the step “" + step.id + "” stands among the common ones already");
            book.repairs.push_back(std::move(repair));
        }
        return book;
    });
}

std::vector<RepairStep> make_steps(const RepairBook& book, const RepairKind& repair,
                                   const std::set<std::string>& facts) {
    std::vector<RepairStep> steps;
    for (const auto* list : {&book.common, &repair.steps})
        for (const RepairStep& step : *list)
            if (holds(step, facts))
                steps.push_back(step);
    std::stable_sort(steps.begin(), steps.end(),
                     [](const RepairStep& a, const RepairStep& b) { return a.phase < b.phase; });
    return steps;
}

std::vector<StepFact> facts_that_matter(const RepairBook& book, const RepairKind& repair) {
    std::set<std::string> used;
    for (const auto* list : {&book.common, &repair.steps})
        for (const RepairStep& step : *list)
            for (const std::string& condition : step.when)
                used.insert(condition.front() == '!' ? condition.substr(1) : condition);
    std::vector<StepFact> facts;
    for (const StepFact& fact : book.facts)
        if (used.count(fact.id) != 0)
            facts.push_back(fact);
    return facts;
}

}  // namespace eh
