// SPDX-License-Identifier: GPL-3.0-or-later
// The reasoning: a job file's readings weighed against simulated machines with every fault that is known.
#include <fmt/core.h>

#include "core/base/files.h"
#include "core/inference/reasoner.h"
#include "core/job/job_json.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/simulation/known_ohms.h"

int main(int argc, char** argv) {
    if (argc != 2)
        return 2;
    const auto text = eh::read_text_file(argv[1]);
    const auto job = text ? eh::parse_job(*text, argv[1]) : eh::Result<eh::Job>(text.error());
    const auto knowledge = eh::load_knowledge(eh::default_data_directory());
    if (!job || !knowledge) {
        fmt::print("{}\n", (job ? knowledge.error() : job.error()).text());
        return 1;
    }
    const eh::FittedPlan plan(*knowledge, *knowledge->find_topology(job->ticket.topology));
    const eh::Reasoner reasoner(std::make_shared<eh::PredictionStore>(plan));
    const auto suspects = reasoner.weigh({job->ticket.facts, job->bench.replaced, {}}, job->readings);
    for (const eh::PartSuspicion& part : suspects->ranking.parts) {
        if (part.probability > 0.05)
            fmt::print("{} ({})\n", part.block, eh::to_text(part.work));
    }
}
