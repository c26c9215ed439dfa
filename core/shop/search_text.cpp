// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shop/search_text.h"

#include <set>

namespace eh {

std::string search_text(const Job& job) {
    std::string text;
    const auto add = [&text](const std::string& line) {
        if (!line.empty())
            text += line + "\n";
    };
    const Ticket& ticket = job.ticket;
    for (const std::string* line :
         {&ticket.number, &ticket.customer, &ticket.machine, &ticket.topology, &ticket.claim, &ticket.brought,
          &ticket.return_of, &job.technician, &job.waiting.note, &job.handover.found, &job.handover.done,
          &job.handover.advice, &job.handover.unproven_reason, &job.handover.follow_up})
        add(*line);
    for (const std::string& fact : ticket.facts)
        add(fact);
    for (const Finding& finding : job.findings)
        add(finding.text);
    for (const Act& act : job.acts) {
        add(to_text(act.kind));
        for (const std::string* line : {&act.block, &act.part_origin, &act.note})
            add(*line);
    }
    std::set<std::string> places;
    for (const Reading& reading : job.readings) {
        places.insert(reading.place());
        add(reading.note);
    }
    for (const std::string& place : places)
        add(place);
    for (const OpeningItem& item : job.rework.opening)
        add(item.note);
    for (const StepPhoto& photo : job.rework.photos)
        add(photo.caption);
    return text;
}

}  // namespace eh
