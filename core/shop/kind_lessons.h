// SPDX-License-Identifier: GPL-3.0-or-later
// What the shop's earlier machines of a kind taught of its design (core/machine/model/design_lesson.h).
#pragma once

#include <string>
#include <vector>

#include "core/job/job.h"

namespace eh {

// One kind of machine: what tickets call it, and how it is built. Names are compared without regard to case
// and spaces.
struct KindOfMachine {
    std::string name;  // as compared; empty: nobody knows, and nothing is learnt
    std::string topology;
    friend bool operator==(const KindOfMachine&, const KindOfMachine&) = default;
};

KindOfMachine kind_of_machine(const Ticket& ticket);

// An earlier machine, and what it taught.
struct TaughtMachine {
    JobId job;
    std::string number;  // of its ticket
    KindOfMachine kind;
    DesignLesson lesson;
};

// Of the jobs those that taught something; jobs without their readings will do.
std::vector<TaughtMachine> taught_machines(const std::vector<Job>& jobs);

// Those that this job's machine may learn from: others of its kind, unless it is said to be unlike them.
std::vector<TaughtMachine> teachers_of(const Job& job, const std::vector<TaughtMachine>& taught);

// The part whose repair was proved, where the job is to teach its kind and has a name for it; "" otherwise.
std::string teaching_part(const Job& job);

}  // namespace eh
