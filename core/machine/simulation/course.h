// SPDX-License-Identifier: GPL-3.0-or-later
// What a machine does over time after the charger is plugged in.
//
// Electrical operating points alternate with changes of discrete states: attach, controller starts, contract,
// switch closes, charger starts, machine boots, charging ramps up; or overload, hard reset, retry. The same
// course gives the steady reading (core/machine/simulation/observation.h), the stream of the simulated meter,
// and the practice bench.
#pragma once

#include <functional>
#include <vector>

#include "core/machine/simulation/machine_model.h"
#include "core/machine/simulation/operating_points.h"
#include "core/usbc/negotiation.h"

namespace eh {

enum class MachineStage { off, stuck, standby, booting, running };

// How a machine stands on its pack before the plug goes in.
struct StandingMachine {
    std::vector<char> active;  // by block
    MachineStage stage = MachineStage::off;
    std::vector<double> volts;  // by node; empty: not known
};

struct CourseOptions {
    double horizon_s = 90.0;  // stop here when nothing settles before
    int max_events = 240;
    // Where a sound machine with the same parts stands in each state, and where machines with the same fault
    // stood: an operating point close to one of them is found at once. One that is not close is followed from
    // the state before, as without, and added to `learned`.
    const OperatingPoints* sound = nullptr;
    OperatingPoints* learned = nullptr;
    // The course starts from how this machine stands where that is known; where not, it is filled in if the
    // pack feeds the machine. It hangs neither on the port nor on the charger.
    StandingMachine* standing = nullptr;
};

enum class SourceState { off, live, recovering, latched };

// A stretch of time in which no state changes.
struct Phase {
    double start_s = 0.0;
    double duration_s = 0.0;   // the last phase of a steady course lasts for ever: infinity
    double meter_volts = 0.0;  // at the plug; at the bench supply where one feeds a net
    double meter_amps = 0.0;
    SourceState source = SourceState::off;
    double contract_volts = 0.0;                   // what the source holds, 0 when off
    NegotiationEnd talk = NegotiationEnd::silent;  // how far charger and machine get in this state
    std::vector<double> node_volts;
    std::vector<double> block_watts;
    double first_shunt_watts = 0.0;  // of that, in the shunts of the first fault
};

struct Course {
    std::vector<Phase> phases;
    bool settled = false;  // ends in a state that lasts
    bool cycling = false;  // repeats phases[cycle_from] onward for ever
    std::size_t cycle_from = 0;
    double period_s = 0.0;
    bool source_strained = false;  // the charger was near or over its limit at some time
    bool solver_failed = false;
    NegotiationEnd talk = NegotiationEnd::silent;  // what a recording from plugging in on comes to
    // States at the end (in a cycle: at its end).
    bool machine_started = false;
    MachineStage stage = MachineStage::off;
    bool machine_restarts = false;  // its processor side loses what it needs in each cycle
    bool charging = false;
    bool charge_refused = false;  // what the machine checks before charging (adapter ID) is not met
    std::vector<char> active_blocks;
};

// Runs the model in a configuration. Deterministic.
Course run_course(MachineModel& model, const BenchConfiguration& configuration, DcSolver& solver,
                  const CourseOptions& options = {});

// A charger speaks some time after its volts stand (tFirstSourceCap, specification, from memory): a state
// shorter than this says nothing.
inline constexpr double talk_after_s = 0.1;

// Volts above these stand by agreement, not by default: vSafe5V ends there (specification, from memory).
inline constexpr double above_default_volts = 5.5;

// Whether more than 5 V stand by agreement, and how long from this phase on: 0 when they do not.
bool holds_contract(const Phase& phase);
double contract_lasts_s(const Course& course, std::size_t phase);

// What the phases of a course come to, heard from plugging in on.
NegotiationEnd talk_of(const Course& course);

// The phase that holds at a time after plugging, cycles unrolled. Requires phases.
const Phase& phase_at(const Course& course, double t_s);

// When the phase that holds at this time ends: infinity for one that lasts. Requires phases.
double phase_ends_s(const Course& course, double t_s);

}  // namespace eh
