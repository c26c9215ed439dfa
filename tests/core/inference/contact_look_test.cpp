// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/contact_look.h"

#include <numeric>

#include <catch2/catch.hpp>

#include "core/inference/ranking.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

constexpr const char* looked_at = "usbc-dual";

Reading look_at_contact(const std::string& id, Contact contact, Look seen = Look::broken) {
    Reading reading;
    reading.id = id;
    reading.configuration = plugged("p1");
    reading.value = LookReading{"rec1", seen, Flaw::none, contact};
    return reading;
}

double probability_of(const std::vector<Reading>& readings, const std::string& fault) {
    PredictionTable& table = shared_table(looked_at);
    const Ranking ranking = rank(table, priors_of(table.hypotheses()), readings);
    double probability = 0.0;
    for (const Suspicion& suspicion : ranking.suspicions) {
        const auto& faults = table.hypotheses()[suspicion.hypothesis].faults;
        if (faults.size() == 1 && faults.front().fault == fault && faults.front().block == "rec1")
            probability += suspicion.probability;
    }
    return probability;
}

}  // namespace

TEST_CASE("naming the contact takes nothing from looking: over all contacts of a part the factor is 1",
          "[look]") {
    int at_contacts = 0;
    for (const Topology& machine : shipped_knowledge().topologies) {
        const FittedPlan fitted(shipped_knowledge(), machine);
        const MachinePlan& plan = fitted;
        for (const Hypothesis& hypothesis : make_hypotheses(plan, {})) {
            for (const FaultInstance& fault : hypothesis.faults) {
                const auto& block = plan.blocks[static_cast<std::size_t>(plan.find_block(fault.block))];
                const auto& contacts = block.kind->contacts;
                if (contacts.empty())
                    continue;
                CAPTURE(machine.id, fault.block, fault.fault);
                double sum = 0.0;
                for (const auto& [contact, pin] : contacts) {
                    const LookReading look{fault.block, Look::broken, Flaw::none, contact};
                    const double factor = contact_factor(plan, {fault}, look, {});
                    CHECK(factor > 0.0);
                    at_contacts += factor > 1.0 ? 1 : 0;
                    sum += factor;
                    // Nothing is said of what looks sound, and of what is wrong elsewhere.
                    CHECK(contact_factor(plan, {fault}, {fault.block, Look::sound, Flaw::none, contact},
                                         {}) == 1.0);
                    CHECK(contact_factor(plan, {}, look, {}) == 1.0);
                }
                CHECK(sum / static_cast<double>(contacts.size()) == Approx(1.0));
                CHECK(contact_factor(plan, {fault}, {fault.block, Look::broken}, {}) == 1.0);
            }
        }
    }
    CHECK(at_contacts > 50);
}

TEST_CASE("a contact seen bent speaks for the fault that sits there", "[look]") {
    // Common practice: CC pins bent or missing are not VBUS pads lifted.
    const std::vector<Reading> somewhere{look_at_contact("a", Contact::none)};
    const std::vector<Reading> at_cc1{look_at_contact("a", Contact::cc1)};
    const std::vector<Reading> at_power{look_at_contact("a", Contact::power)};
    const std::vector<Reading> at_ground{look_at_contact("a", Contact::ground_pins)};
    CHECK(probability_of(at_cc1, "receptacle_cc1_open") >
          2.0 * probability_of(somewhere, "receptacle_cc1_open"));
    CHECK(probability_of(at_cc1, "receptacle_cc2_open") < probability_of(somewhere, "receptacle_cc2_open"));
    CHECK(probability_of(at_power, "receptacle_vbus_open") >
          2.0 * probability_of(at_cc1, "receptacle_vbus_open"));
    CHECK(probability_of(at_ground, "receptacle_ground_worn") >
          2.0 * probability_of(at_power, "receptacle_ground_worn"));
}

TEST_CASE("the same contact seen again is no news, another one is", "[look]") {
    const double once = probability_of({look_at_contact("a", Contact::cc1)}, "receptacle_cc1_open");
    const double twice = probability_of(
        {look_at_contact("a", Contact::cc1), look_at_contact("b", Contact::cc1)}, "receptacle_cc1_open");
    // But for what a slip of the eye would make of it.
    CHECK(twice == Approx(once).epsilon(0.02));
    const double both = probability_of(
        {look_at_contact("a", Contact::cc1), look_at_contact("b", Contact::power)}, "receptacle_cc1_open");
    CHECK(both < 0.9 * once);
    // In whichever order, but for slips again.
    CHECK(probability_of({look_at_contact("b", Contact::power), look_at_contact("a", Contact::cc1)},
                         "receptacle_cc1_open") == Approx(both).epsilon(0.1));
}

TEST_CASE("a contact of a part that was changed since is looked at for the first time", "[look]") {
    const Reading before = look_at_contact("a", Contact::cc1);
    Reading after = look_at_contact("b", Contact::cc1);
    CHECK(contact_was_seen({&before}, after));
    after.configuration.replaced = {"rec1"};
    CHECK_FALSE(contact_was_seen({&before}, after));
    CHECK_FALSE(contact_was_seen({}, before));
}

TEST_CASE("a contact that the part does not have is refused with a sentence", "[look]") {
    const FittedPlan fitted(shipped_knowledge(), topology(looked_at));
    const MachinePlan& plan = fitted;
    CHECK(check_reading(look_at_contact("a", Contact::cc2), plan).ok());
    const Outcome refused = check_reading(look_at_contact("a", Contact::sense), plan);
    REQUIRE_FALSE(refused.ok());
    CHECK_THAT(refused.error().message, Catch::Contains("rec1") && Catch::Contains("sense contact"));
}
