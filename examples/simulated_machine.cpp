// SPDX-License-Identifier: GPL-3.0-or-later
// A machine as it is: what the meter at its port shows when it is sound, and with one protector shorted.
#include <fmt/core.h>

#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/simulation/course.h"
#include "core/machine/simulation/known_ohms.h"

int main() {
    const auto knowledge = eh::load_knowledge(eh::default_data_directory());
    if (!knowledge) {
        fmt::print("{}\n", knowledge.error().text());
        return 1;
    }
    const eh::FittedPlan plan(*knowledge, *knowledge->find_topology("usbc-two-chained"));
    eh::BenchConfiguration bench;
    bench.port = plan.topology().ports.front().id;
    for (const char* fault : {"", "protector_shorted@sp1=0.4"}) {
        std::vector<eh::FaultInstance> faults;
        if (*fault != '\0')
            faults.push_back(*eh::parse_fault_instance(fault));
        eh::PartDraw typical;
        typical.typical = true;
        eh::MachineModel model(plan, faults, typical);
        eh::DcSolver solver;
        const eh::Course course = eh::run_course(model, bench, solver);
        fmt::print("{:<28}{}\n", *fault == '\0' ? "sound" : fault, eh::to_text(course.talk));
    }
}
