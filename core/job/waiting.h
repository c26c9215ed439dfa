// SPDX-License-Identifier: GPL-3.0-or-later
// What a job waits for: the shelf is sorted by it.
#pragma once

#include <cstdint>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>

namespace eh {

class JsonReader;
struct Job;

enum class WaitsFor { bench, customer, part, soak, follow_up, nothing };
inline constexpr int waits_for_count = 6;
// The words of the job file; from() knows just those.
std::string to_text(WaitsFor waits);
std::optional<WaitsFor> waits_for_from(const std::string& text);

// What the technician has written down of it; empty where the job itself tells.
struct Waiting {
    std::optional<WaitsFor> on;
    std::int64_t due_ms = 0;  // 0: no date
    std::string note;         // "jack ordered", "asks her brother"
    friend bool operator==(const Waiting&, const Waiting&) = default;
};

// As the job file holds it. read_waiting() gives back an equal one; throws JsonRefused, with the field.
nlohmann::json write_waiting(const Waiting& waiting);
Waiting read_waiting(const JsonReader& field);

// What the job waits for now: what was written down, else by its stage: a timer that runs is a soak; a handed
// out repair with a date to look again, a follow-up; a job at handover, its customer; other open jobs, the
// bench; closed ones, nothing. Where a date was written down it is the due date; else a soak's end or the
// follow-up's date.
struct WaitState {
    WaitsFor on = WaitsFor::bench;
    std::int64_t due_ms = 0;  // 0: none
    friend bool operator==(const WaitState&, const WaitState&) = default;
};
WaitState wait_state(const Job& job);

}  // namespace eh
