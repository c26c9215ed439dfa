// SPDX-License-Identifier: GPL-3.0-or-later
// Faults: changes of the machine model, written against kinds of blocks (data/faults.json).
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/machine/model/look.h"
#include "core/machine/model/work.h"

namespace eh {

// Log-normal spread around a median; factor is one standard deviation as a ratio, 1 = exact.
struct Spread {
    double median = 0.0;
    double factor = 1.0;
};

enum class EffectType {
    shunt,            // resistance from a pin to another pin or ground
    series,           // resistance added to an element
    open,             // element interrupted
    dead,             // block does not work, whatever it gets
    param,            // block parameter set to a value
    contract_limit,   // port controller asks for no more than these volts; with a pin: at the port there
                      // alone; at a memory: every controller whose program is in it
    holds_path_open,  // port controller makes contracts, but its port's path never closes
    offers_up_to,     // charger offers no more than these volts (0: gives nothing)
    carries_up_to,    // lead is marked for no more than these amps: the charger gives no more
    gives_up_to,      // charger lets go, as its make does, once it gives more than these amps
    never_talks,      // charger or lead gives its first volts and says nothing on the CC line
    play,             // drops out when moved, with this probability
    asleep,           // the pack shows no volts at its connector, with this probability
    says,             // what the firmware reports about the battery
    reads,            // an instrument shows something else than is there
};

struct Effect {
    EffectType type = EffectType::dead;
    std::string pin;
    std::string to = "gnd";
    std::string element;
    std::string name;    // param: its name; says: the report; reads: volts, amps, lead_ohms or nothing
    double value = 0.0;  // param value, volts, amps, probability; reads: factor, ohms for lead_ohms
    Spread ohms;
    bool in_return = false;            // series: of a contact or wire for ground, not for the volts
    bool at_rest = false;              // open, series: gone while the plug is held to its good side
    Spread amps;                       // gives_up_to
    double punch_through_share = 0.0;  // of the cases in which a shunt grows with volts
    Spread knee_volts;
};

// What cures it.
struct Remedy {
    Work act = Work::none;
    double minutes = 0.0;    // 0: the kind's replace_minutes
    double part_cost = 0.0;  // estimate, in the shop's currency
    double cures = 1.0;      // estimate: share of the cases that it puts right
};

// How far a fault reaches when it brings about another one.
enum class CauseReach {
    net,      // blocks that share a net with it
    port,     // blocks of its port
    machine,  // any block of the kind
    behind,   // blocks of no port, behind the one that its port leads to
    outside,  // the charger or lead that was plugged into its port, into any port for a part of none
};

// Another fault that this one brings about.
struct Cause {
    std::string fault;  // at a block of that fault's kind
    CauseReach reach = CauseReach::net;
    double share = 0.0;  // of the cases, over all blocks within reach
};

struct FaultSpec {
    std::string id;
    std::string kind;                           // block kind it can befall
    std::string title;                          // completes "<block title> ..."
    double rate = 0.0;                          // estimate: share of not-charging jobs per block, 0..1
    std::map<std::string, double> multipliers;  // by intake fact
    std::vector<Effect> effects;
    std::vector<Remedy> remedies;
    std::string looks_like;
    std::optional<LookShares> looks;  // under the magnifier; absent: as a sound part
    // Where it sits on an inlet, where its effects do not tell.
    std::optional<Contact> contact;
    std::vector<Cause> causes;
    // What a part may suffer when it is changed or soldered again: in play once it has been, and with `rate`
    // the share of such work that goes wrong.
    bool refit = false;
    // By origin of the part that was fitted: factor of the rate of a refit fault. Absent: 1.
    std::map<std::string, double> origin_factors = {};
    bool until_power_cut = false;  // gone once charger and battery were both out
};

// Something the intake can state that changes what is likely.
inline constexpr const char* board_place = "board";  // of a local fact: not at a port

struct IntakeFact {
    std::string id;
    std::string title;
    std::string question;       // to be read out to the customer; answered with yes or no
    double share = 0.0;         // estimate: of all jobs, how many state it
    double second_fault = 0.0;  // estimate: of the jobs that state it, how many have a second, untied fault
    bool local = false;         // it may be known of a port, or of the board apart from its ports
    bool look_first = false;  // the board is looked over before power goes on (common practice after liquid)
};

// Where a part that was fitted came from.
struct PartOrigin {
    std::string id;
    std::string title;
};

struct FaultCatalogue {
    std::vector<IntakeFact> facts;
    std::vector<PartOrigin> origins;
    std::vector<FaultSpec> faults;
    double nothing_wrong_rate = 0.05;
    double none_of_these_share = 0.03;
    // Estimate: how many times likelier a part is to have been at fault once somebody changed it. He had his
    // reasons, which need not be among the readings.
    double worked_on_factor = 1.0;
    double untied_share = 0.0;  // of jobs without such facts that have a second, untied fault
    LookShares looks_of_sound{1.0, 0.0, 0.0, 0.0, 0.0};

    // nullptr where the catalogue has no such fault.
    [[nodiscard]] const FaultSpec* find(const std::string& id) const;
};

// Quantiles (0..1) between which the severity of a fault is looked at most closely.
struct SeverityRange {
    double from = 0.0;
    double to = 1.0;
    friend auto operator<=>(const SeverityRange&, const SeverityRange&) = default;
};

// One fault at one block.
struct FaultInstance {
    std::string fault;
    std::string block;
    std::optional<double> ohms = {};        // known resistance of its shunt or series part, else drawn
    std::optional<double> knee_volts = {};  // known volts from which its shunt grows, else drawn
    // Where samples of its severity are drawn densely; not given: as often as met. What is likely stays the
    // same: samples are weighed by how they were drawn.
    std::optional<SeverityRange> severity = {};
    friend bool operator==(const FaultInstance&, const FaultInstance&) = default;
};

// Reads "fault@part", "fault@part=ohms" or "fault@part=ohms/knee_volts", numbers as technicians write them.
// Whether fault and part exist is for the caller to check.
Result<FaultInstance> parse_fault_instance(const std::string& text);

}  // namespace eh
