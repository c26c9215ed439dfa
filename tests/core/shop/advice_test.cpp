// SPDX-License-Identifier: GPL-3.0-or-later
// Advice that follows from what was done: the shipped rules, and what a rule must be.
#include "core/shop/advice.h"
#include "core/machine/knowledge/load_knowledge.h"

#include "core/base/files.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

std::vector<AdviceRule> shipped_rules() {
    const auto rules = parse_advice(*read_text_file(default_data_directory() / "advice.json"), "advice.json");
    REQUIRE(rules.ok());
    return *rules;
}

bool says(const std::vector<std::string>& lines, const std::string& words) {
    return joined_lines(lines).find(words) != std::string::npos;
}

Act work(Work kind, const std::string& block, const std::string& school = {},
         const std::string& origin = {}) {
    Act act;
    act.kind = kind;
    act.block = block;
    act.school = school;
    act.part_origin = origin;
    return act;
}

}  // namespace

TEST_CASE("advice follows the part, the work, the way and the facts", "[advice]") {
    // What a shop tells its customers: common practice, trade-notes section 12.
    const auto rules = shipped_rules();
    Job job;
    job.ticket.topology = chained;
    const Advice always = advise(rules, job, shipped_knowledge());
    CHECK(says(always.customer, "Once a year"));
    CHECK(always.customer.size() == 1);
    CHECK(always.technician.empty());
    job.acts = {work(Work::replace, "rec1")};
    CHECK(says(advise(rules, job, shipped_knowledge()).customer, "lift or carry"));
    job.acts = {work(Work::replace, "pc1", {}, "Donor board 3")};
    const Advice chip = advise(rules, job, shipped_knowledge());
    CHECK(says(chip.customer, "Unplug drives"));
    CHECK(says(chip.technician, "donor board"));
    CHECK(chip.follow_up_days == 0.0);
    job.acts = {work(Work::reflow, "pc1")};
    CHECK(advise(rules, job, shipped_knowledge()).follow_up_days == 60.0);
    // Of several the soonest look again counts, with its own reason.
    job.ticket.facts = {"liquid"};
    const Advice wet = advise(rules, job, shipped_knowledge());
    CHECK(wet.follow_up_days == 30.0);
    CHECK(wet.follow_up.find("liquid") != std::string::npos);
    job.ticket.topology = "nobody-knows";
    CHECK_FALSE(says(advise(rules, job, shipped_knowledge()).customer, "Unplug drives"));
}

TEST_CASE("every kind, act, school and fact that the shipped rules name is one that there is", "[advice]") {
    const Knowledge& knowledge = shipped_knowledge();
    const std::vector<std::string> schools{"original_kept",   "new_part", "glued",   "reflowed",
                                           "contacts_lifted", "left_off", "refitted"};
    for (const AdviceRule& rule : shipped_rules()) {
        CAPTURE(rule.id);
        for (const std::string& kind : rule.kinds)
            CHECK(std::any_of(knowledge.kinds.begin(), knowledge.kinds.end(),
                              [&](const auto& known) { return known.id == kind; }));
        for (const std::string& fact : rule.facts)
            CHECK(std::any_of(knowledge.catalogue.facts.begin(), knowledge.catalogue.facts.end(),
                              [&](const auto& known) { return known.id == fact; }));
        for (const std::string& school : rule.schools)
            CHECK(std::find(schools.begin(), schools.end(), school) != schools.end());
    }
}

TEST_CASE("rules that say nothing, stand twice or want a look again for no reason are refused", "[advice]") {
    const auto refused = [](const std::string& rules) {
        return !parse_advice(R"({"format": "eager-hound.advice/1", "advice": [)" + rules + "]}", "x").ok();
    };
    CHECK_FALSE(refused(R"({"id": "a", "customer": "x"})"));
    CHECK(refused(R"({"id": "a"})"));
    CHECK(refused(R"({"id": "a", "customer": "x"}, {"id": "a", "customer": "y"})"));
    CHECK(refused(R"({"id": "a", "customer": "x", "follow_up_days": 30})"));
    CHECK(refused(R"({"id": "a", "customer": "x", "follow_up": "why"})"));
    CHECK(refused(R"({"id": "a", "customer": "x", "follow_up_days": 0, "follow_up": "why"})"));
}
