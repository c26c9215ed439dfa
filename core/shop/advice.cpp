// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shop/advice.h"

#include <algorithm>
#include <cctype>

#include "core/base/json_reader.h"
#include "core/machine/model/machine_plan.h"
#include "core/machine/simulation/known_ohms.h"

namespace eh {
namespace {

bool holds(const std::vector<std::string>& list, const std::string& item) {
    return std::find(list.begin(), list.end(), item) != list.end();
}

std::string lower(std::string text) {
    std::transform(text.begin(), text.end(), text.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return text;
}

bool fits(const AdviceRule& rule, const Act& act, const std::string& kind) {
    const auto has_word = [origin = lower(act.part_origin)](const std::string& word) {
        return origin.find(word) != std::string::npos;
    };
    return (rule.kinds.empty() || holds(rule.kinds, kind)) &&
           (rule.acts.empty() || holds(rule.acts, to_text(act.kind))) &&
           (rule.schools.empty() || holds(rule.schools, act.school)) &&
           (rule.origins.empty() || std::any_of(rule.origins.begin(), rule.origins.end(), has_word));
}

// The kind of the part of each act, "" for none.
std::vector<std::string> kinds_of_acts(const Job& job, const Knowledge& knowledge) {
    std::vector<std::string> kinds(job.acts.size());
    const Topology* topology = knowledge.find_topology(job.ticket.topology);
    if (topology == nullptr)
        return kinds;
    const FittedPlan plan(knowledge, *topology);
    for (std::size_t a = 0; a < kinds.size(); ++a) {
        if (const int block = plan.find_block(job.acts[a].block); block >= 0)
            kinds[a] = plan.blocks[static_cast<std::size_t>(block)].kind->id;
    }
    return kinds;
}

}  // namespace

Result<std::vector<AdviceRule>> parse_advice(const std::string& text, const std::string& file) {
    return read_json<std::vector<AdviceRule>>(text, file, [](const JsonReader& root) {
        root.check_format("eager-hound.advice", 1);
        std::vector<AdviceRule> rules;
        for (const JsonReader& item : root.items("advice")) {
            AdviceRule rule;
            rule.id = item.text("id");
            rule.kinds = item.texts("kinds");
            rule.acts = item.texts("acts");
            rule.schools = item.texts("schools");
            rule.origins = item.texts("origins");
            rule.facts = item.texts("facts");
            rule.customer = item.text("customer", "");
            rule.technician = item.text("technician", "");
            if (item.has("follow_up_days"))
                rule.follow_up_days = item.number_between("follow_up_days", 1.0, 730.0);
            rule.follow_up = item.text("follow_up", "");
            if (rule.customer.empty() && rule.technician.empty())
                item.refuse("this advice says nothing to anybody");
            if ((rule.follow_up_days > 0.0) == rule.follow_up.empty())
                item.refuse("a look again needs both its days and its reason");
            if (std::any_of(rules.begin(), rules.end(), [&](const AdviceRule& r) { return r.id == rule.id; }))
                item.refuse("the advice “" + rule.id + "” stands twice");
            rules.push_back(std::move(rule));
        }
        return rules;
    });
}

Advice advise(const std::vector<AdviceRule>& rules, const Job& job, const Knowledge& knowledge) {
    const std::vector<std::string> kinds = kinds_of_acts(job, knowledge);
    Advice advice;
    for (const AdviceRule& rule : rules) {
        const bool of_acts =
            !(rule.kinds.empty() && rule.acts.empty() && rule.schools.empty() && rule.origins.empty());
        bool counts = !of_acts;
        for (std::size_t a = 0; a < job.acts.size() && !counts; ++a)
            counts = fits(rule, job.acts[a], kinds[a]);
        const auto& facts = job.ticket.facts;
        counts =
            counts && (rule.facts.empty() || std::any_of(facts.begin(), facts.end(), [&](const auto& fact) {
                           return holds(rule.facts, fact);
                       }));
        if (!counts)
            continue;
        if (!rule.customer.empty())
            advice.customer.push_back(rule.customer);
        if (!rule.technician.empty())
            advice.technician.push_back(rule.technician);
        const bool sooner = advice.follow_up_days == 0.0 || rule.follow_up_days < advice.follow_up_days;
        if (rule.follow_up_days > 0.0 && sooner) {
            advice.follow_up_days = rule.follow_up_days;
            advice.follow_up = rule.follow_up;
        }
    }
    return advice;
}

std::string joined_lines(const std::vector<std::string>& lines) {
    std::string text;
    for (const std::string& line : lines)
        text += (text.empty() ? "" : "\n") + line;
    return text;
}

}  // namespace eh
