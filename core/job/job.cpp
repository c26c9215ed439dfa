// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/job.h"

#include <algorithm>
#include <array>

#include "core/base/text.h"
#include "core/base/word_list.h"

namespace eh {
namespace {

constexpr std::array<const char*, job_stage_count> stage_names{"intake", "bench",    "repair",
                                                               "proof",  "handover", "closed"};
constexpr std::array<const char*, 4> proof_state_names{"open", "passed", "failed", "waived"};

// The number behind the prefix, or 0.
long serial_of(const std::string& id, const std::string& prefix) {
    if (id.size() <= prefix.size() || id.compare(0, prefix.size(), prefix) != 0)
        return 0;
    const std::string digits = id.substr(prefix.size());
    if (digits.size() > 9 || digits.find_first_not_of("0123456789") != std::string::npos)
        return 0;
    return std::stol(digits);
}

}  // namespace

void forget_fact(Ticket& ticket, const std::string& fact) {
    for (auto* list : {&ticket.facts, &ticket.facts_denied, &ticket.facts_unknown})
        std::erase(*list, fact);
    ticket.fact_places.erase(fact);
}

void answer_fact(Ticket& ticket, const std::string& fact, FactAnswer answer) {
    forget_fact(ticket, fact);
    auto& list = answer == FactAnswer::so       ? ticket.facts
                 : answer == FactAnswer::not_so ? ticket.facts_denied
                                                : ticket.facts_unknown;
    list.push_back(fact);
}

std::vector<std::string> facts_asked(const Ticket& ticket) {
    std::vector<std::string> asked = ticket.facts;
    asked.insert(asked.end(), ticket.facts_denied.begin(), ticket.facts_denied.end());
    asked.insert(asked.end(), ticket.facts_unknown.begin(), ticket.facts_unknown.end());
    return asked;
}

std::string to_text(JobStage stage) {
    return stage_names[static_cast<std::size_t>(stage)];
}
std::optional<JobStage> job_stage_from(const std::string& text) {
    return value_of_word<JobStage>(stage_names, text);
}
std::string to_text(ProofState state) {
    return proof_state_names[static_cast<std::size_t>(state)];
}
std::optional<ProofState> proof_state_from(const std::string& text) {
    return value_of_word<ProofState>(proof_state_names, text);
}

std::string origin_words(const Act& act, const FaultCatalogue& catalogue) {
    const auto chosen = std::find_if(catalogue.origins.begin(), catalogue.origins.end(),
                                     [&](const PartOrigin& origin) { return origin.id == act.origin; });
    if (chosen == catalogue.origins.end())
        return act.part_origin;
    return act.part_origin.empty() ? chosen->title : chosen->title + " (" + act.part_origin + ")";
}

std::string fresh_id(const Job& job, const std::string& prefix) {
    long last = 0;
    const auto look = [&](const auto& entries) {
        for (const auto& entry : entries)
            last = std::max(last, serial_of(entry.id, prefix));
    };
    look(job.findings);
    look(job.readings);
    look(job.acts);
    look(job.rework.opening);
    look(job.rework.photos);
    look(job.proof);
    return prefix + integer_text(last + 1);
}

const Reading* find_reading(const Job& job, const std::string& id) {
    const auto found =
        std::find_if(job.readings.begin(), job.readings.end(), [&](const Reading& r) { return r.id == id; });
    return found == job.readings.end() ? nullptr : &*found;
}

}  // namespace eh
