// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/known_before.h"

namespace eh {

Beforehand known_before(const Job& job) {
    Beforehand known;
    known.facts = job.ticket.facts;
    known.fact_places = job.ticket.fact_places;
    known.denied = job.ticket.facts_denied;
    known.replaced = job.bench.replaced;
    for (const Act& act : job.acts) {
        if (act.kind == Work::replace)
            known.origins[act.block] = act.origin;
    }
    return known;
}

void take_from_job(const Job& job, NextOptions& options) {
    options.out_of_reach = job.out_of_reach;
    options.facts = job.ticket.facts;
    options.facts_asked = facts_asked(job.ticket);
    options.part_ordered = job.waiting.on == WaitsFor::part;
    options.reflowed.clear();
    for (const Act& act : job.acts) {
        if (act.kind == Work::reflow)
            options.reflowed.push_back(act.block);
    }
}

}  // namespace eh
