// SPDX-License-Identifier: GPL-3.0-or-later
// A job: one machine on its way from intake to handover. Plain data; what is computed from it lives
// elsewhere.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/identifier.h"
#include "core/battery/battery_log.h"
#include "core/job/rework_record.h"
#include "core/job/said_before.h"
#include "core/job/sheet_trace.h"
#include "core/job/waiting.h"
#include "core/machine/model/design_lesson.h"
#include "core/machine/model/fault.h"
#include "core/machine/model/work.h"
#include "core/readings/reading.h"

namespace eh {

enum class JobStage { intake, bench, repair, proof, handover, closed };
inline constexpr int job_stage_count = 6;

// What the customer says and brings. Claims are kept apart from findings: they are often half wrong.
struct Ticket {
    std::string number;
    std::string customer;
    std::string machine;
    std::string topology;            // id of the topology; the one thing a diagnosis cannot do without
    std::string claim;               // in the customer's words
    std::vector<std::string> facts;  // ids of the fault catalogue's intake facts
    // Of facts that hold, where: ports of the machine, or `board_place`. Absent: nobody knows.
    std::map<std::string, std::vector<std::string>> fact_places;
    // Such facts that were asked about: those that are not so, and those that nobody knew.
    std::vector<std::string> facts_denied;
    std::vector<std::string> facts_unknown;
    std::string brought;    // charger, cable, loose parts
    std::string return_of;  // number of the earlier job that came back with this one; usually empty
    std::optional<double> price_limit;
    std::optional<double> estimate;
    bool ask_before_data_loss = true;
    // False: nobody has looked inside; the topology is the likeliest of those that look the same from
    // outside.
    bool kind_seen = true;
    // False: this machine is not as others of its name; it neither learns from them nor teaches them.
    bool like_its_kind = true;
    friend bool operator==(const Ticket&, const Ticket&) = default;
};

// What the technician found, in words.
struct Finding {
    std::string id;
    std::string text;
    std::int64_t noted_ms = 0;
    friend bool operator==(const Finding&, const Finding&) = default;
};

// Work done on a part.
struct Act {
    std::string id;
    Work kind = Work::none;
    std::string block;        // part worked on, "" when none of the topology
    std::string part_origin;  // in words: whom it was bought from, which board it was on
    double minutes = 0.0;
    double cost = 0.0;
    std::string note;
    std::int64_t done_ms = 0;
    std::string solder;       // id of the alloy that was brought in; may be empty
    std::string school;       // which way of doing it, where there are several: original_kept, new_part ...
    std::string origin = {};  // of a new part: id of the catalogue's origins; empty: nobody said
    friend bool operator==(const Act&, const Act&) = default;
};

enum class ProofState { open, passed, failed, waived };

// One thing that must be shown before the machine leaves.
struct ProofStep {
    std::string id;
    ReadingKind kind = ReadingKind::meter;
    BenchConfiguration configuration;  // how the machine must stand
    std::string place;                 // part that must be cool (hot_part)
    ProofState state = ProofState::open;
    std::string reading_id;  // reading that decided it
    std::string reason;      // of a failure, or why it was waived
    std::string check;       // id of a check that no meter reads; its sentence is in `says`
    std::string says;
    double minutes = 0.0;         // of a check with a timer
    std::int64_t started_ms = 0;  // of that timer; 0: not begun
    friend bool operator==(const ProofStep&, const ProofStep&) = default;
};

struct Handover {
    std::string found;
    std::string done;
    std::string advice;
    std::optional<double> price;
    int warranty_months = 3;
    std::string unproven_reason;  // why it leaves without full proof; printed on the sheet
    std::int64_t handed_ms = 0;   // when it left; 0: it has not
    std::int64_t follow_up_ms =
        0;                  // when a repair that is meant to be temporary is looked at again; 0: never
    std::string follow_up;  // why
    SheetTraces traces;
    friend bool operator==(const Handover&, const Handover&) = default;
};

struct Job {
    JobId id;  // unique for ever
    JobStage stage = JobStage::intake;
    std::int64_t created_ms = 0;
    std::string technician;  // who works on it
    Ticket ticket;
    BenchConfiguration bench;  // how the machine stands now
    std::vector<Finding> findings;
    std::vector<Reading> readings;
    std::vector<std::string> out_of_reach;  // nets that no probe gets at in this machine, or that it has not
    std::vector<Act> acts;
    ReworkRecord rework;
    BatteryLog battery;
    SaidBefore said;  // before the first work
    Waiting waiting;
    std::vector<ProofStep> proof;
    Handover handover;
    // What it taught of the design of its kind of machine, once the repair was proved.
    std::optional<DesignLesson> lesson;
    friend bool operator==(const Job&, const Job&) = default;
};

// What the customer answers to a question about a fact of the intake.
enum class FactAnswer { so, not_so, unknown };
// What was answered about that fact is forgotten.
void forget_fact(Ticket& ticket, const std::string& fact);
// Notes it; what was answered about that fact before is forgotten.
void answer_fact(Ticket& ticket, const std::string& fact, FactAnswer answer);
// The facts that were answered, in any way.
std::vector<std::string> facts_asked(const Ticket& ticket);

// The words of the job file; from() knows just those.
std::string to_text(JobStage stage);
std::optional<JobStage> job_stage_from(const std::string& text);
// The words of the job file; from() knows just those.
std::string to_text(ProofState state);
std::optional<ProofState> proof_state_from(const std::string& text);

// Where the part of an act came from, for people: what was chosen, and what was written beside it.
std::string origin_words(const Act& act, const FaultCatalogue& catalogue);

// An id that no other entry of the job has: "r1", "r2", ... for prefix "r".
std::string fresh_id(const Job& job, const std::string& prefix);

// The reading of that id, or nullptr.
const Reading* find_reading(const Job& job, const std::string& id);

}  // namespace eh
