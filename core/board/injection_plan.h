// SPDX-License-Identifier: GPL-3.0-or-later
// Feeding a shorted net from the bench supply: with how much to begin, how far to go, what will get warm, and
// whether the logged steps agree with the ohmmeter.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace eh {

// Current that heats a conductor by dT: I = k dT^0.44 A^0.725 with A in square mils, k = 0.048 outside and
// 0.024 inside a board (IPC-2221, from memory). Inverted for the rise. Requires a cross-section above 0.
double conductor_rise_kelvin(double amps, double width_mm, double thickness_um, bool inside);
double conductor_amps(double rise_kelvin, double width_mm, double thickness_um, bool inside);

enum class SuspectKind { capacitor, chip, protector, receptacle, other };
// By the first letters of its name (C, U/Q, D/TVS, J: common practice).
SuspectKind suspect_kind_of(const std::string& part_name);

struct InjectionQuestion {
    double net_volts = 0.0;             // that a sound machine has there; never exceeded
    double ohms = 0.0;                  // to ground, leads taken off
    double lead_ohms = 0.1;             // of the supply's leads, in series
    std::vector<std::string> suspects;  // names of parts
    double narrowest_mm = 1.0;          // of the copper between where it is fed and the short
    double copper_um = 35.0;
    bool copper_inside = false;
    double supply_volts = 30.0;  // the most that the supply gives
    double supply_amps = 5.0;
    double wanted_rise_kelvin = 15.0;  // that one can see; 0.03 with lock-in, 15 with alcohol or a finger
};

struct InjectionStep {
    double volts = 0.0;  // to set
    double limit_amps = 0.0;
    double expected_volts = 0.0;  // at the net
    double expected_amps = 0.0;
    double watts = 0.0;          // in the short
    double copper_kelvin = 0.0;  // by the conductor's formula
};

struct SuspectHeat {
    std::string part;
    double kelvin = 0.0;  // at the last step, if it is the short; within a factor of two (estimate)
};

struct InjectionPlan {
    std::vector<InjectionStep> steps;  // rising; the first is where to begin
    std::vector<SuspectHeat> heats;
    std::string ends_because;           // what bounds the last step
    std::vector<std::string> cautions;  // what this net asks for, beside the usual
    bool reaches_wanted = false;        // the last step makes some suspect as warm as wanted
};

// Refused: no volts or ohms, a net above 60 V (beyond extra-low voltage), ohms so high that nothing gets warm
// within the net's own volts.
Result<InjectionPlan> plan_injection(const InjectionQuestion& question);

// What came of a step.
struct StepReading {
    double volts = 0.0;  // at the net, or of the supply with the leads' part taken off
    double amps = 0.0;
};

struct InjectionCheck {
    double ohms = 0.0;    // of the last step
    bool agrees = false;  // first step against the ohmmeter
    // How the resistance moved from the first step to the last: factor, 1 for steady.
    double moved = 1.0;
    std::string says;
};

// Requires a step with amps; others are passed over. nullopt when none has.
std::optional<InjectionCheck> check_injection(const std::vector<StepReading>& steps, double ohmmeter_ohms);

}  // namespace eh
