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

}  // namespace eh
