// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/waiting.h"

#include <algorithm>
#include <array>
#include <nlohmann/json.hpp>

#include "core/base/json_reader.h"
#include "core/job/job.h"

namespace eh {
namespace {

constexpr std::array<const char*, waits_for_count> names{"bench", "customer",  "part",
                                                         "soak",  "follow_up", "nothing"};
constexpr double ms_per_minute = 60'000.0;

}  // namespace

std::string to_text(WaitsFor waits) {
    return names[static_cast<std::size_t>(waits)];
}

std::optional<WaitsFor> waits_for_from(const std::string& text) {
    const auto found = std::find(names.begin(), names.end(), text);
    if (found == names.end())
        return std::nullopt;
    return static_cast<WaitsFor>(found - names.begin());
}

nlohmann::json write_waiting(const Waiting& waiting) {
    nlohmann::json j = nlohmann::json::object();
    if (waiting.on)
        j["on"] = to_text(*waiting.on);
    if (waiting.due_ms != 0)
        j["due_ms"] = waiting.due_ms;
    if (!waiting.note.empty())
        j["note"] = waiting.note;
    return j;
}

Waiting read_waiting(const JsonReader& field) {
    Waiting waiting;
    if (field.has("on")) {
        waiting.on = waits_for_from(field.text("on"));
        if (!waiting.on)
            field.at("on").refuse("“" + field.text("on") + "” is nothing that a job waits for");
    }
    waiting.due_ms = field.integer("due_ms", 0);
    waiting.note = field.text("note", "");
    return waiting;
}

WaitState wait_state(const Job& job) {
    WaitState state;
    const auto soak = std::find_if(job.proof.begin(), job.proof.end(), [](const ProofStep& step) {
        return step.state == ProofState::open && step.started_ms != 0;
    });
    if (job.stage == JobStage::closed) {
        state.on = job.handover.follow_up_ms != 0 ? WaitsFor::follow_up : WaitsFor::nothing;
        state.due_ms = job.handover.follow_up_ms;
    } else if (soak != job.proof.end()) {
        state.on = WaitsFor::soak;
        state.due_ms = soak->started_ms + static_cast<std::int64_t>(soak->minutes * ms_per_minute);
    } else if (job.stage == JobStage::handover) {
        state.on = WaitsFor::customer;
    }
    if (job.waiting.on)
        state.on = *job.waiting.on;
    if (job.waiting.due_ms != 0)
        state.due_ms = job.waiting.due_ms;
    return state;
}

}  // namespace eh
