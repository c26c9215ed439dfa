// SPDX-License-Identifier: GPL-3.0-or-later
// What to do next: the readings that tell most for the minutes they take, on a machine that nobody has looked
// at yet.
#include <fmt/core.h>

#include "core/inference/reasoner.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/simulation/known_ohms.h"
#include "core/planning/next_act.h"

int main() {
    const auto data = eh::default_data_directory();
    const auto knowledge = eh::load_knowledge(data);
    const auto costs = eh::load_costs(data);
    if (!knowledge || !costs) {
        fmt::print("{}\n", (knowledge ? costs.error() : knowledge.error()).text());
        return 1;
    }
    const eh::FittedPlan plan(*knowledge, *knowledge->find_topology("usbc-two-chained"));
    const eh::Reasoner reasoner(std::make_shared<eh::PredictionStore>(plan));
    const auto suspects = reasoner.weigh({}, {});
    eh::BenchConfiguration bench;
    bench.port = plan.topology().ports.front().id;
    eh::prepare_candidates(*suspects->table, suspects->ranking, {}, bench);
    eh::NextOptions options;
    options.most = 3;
    for (const eh::NextAct& act :
         eh::next_acts(*suspects->table, suspects->ranking, {}, bench, *costs, options).acts)
        fmt::print("{}\n", eh::describe(act, plan));
}
