// SPDX-License-Identifier: GPL-3.0-or-later
// Charger, cable and machine from their labels: what contract to expect, and what the meter should show.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"

namespace eh {

// A line of a charger's label.
struct LabelOffer {
    double least_volts = 0.0;  // below most_volts: programmable
    double most_volts = 0.0;
    double amps = 0.0;
    [[nodiscard]] bool programmable() const { return least_volts < most_volts; }
    friend bool operator==(const LabelOffer&, const LabelOffer&) = default;
};

// Reads a label as it is printed: "5V 3A, 9V⎓3A / 15 V 3 A; 20V=3.25A, 3.3-21V 5A". The unit signs may stand
// apart, any of , ; / or a new line parts the offers. Refused with what was not understood.
Result<std::vector<LabelOffer>> parse_label(std::string_view text);
std::string describe(const LabelOffer& offer);

struct CableFacts {
    double length_m = 1.0;
    double power_gauge = 24.0;   // AWG of VBUS
    double ground_gauge = 24.0;  // AWG of ground
    bool marked_5_amps = false;  // carries an electronic mark for 5 A
    bool extended = false;       // marked for more than 20 V
    double celsius = 25.0;
};

struct MachineDemand {
    double most_volts = 20.0;   // that it asks for
    double watts = 60.0;        // that it can use
    double least_watts = 30.0;  // below which it does not charge or says so
    double least_volts = 0.0;   // of a contract that it charges from; 0: any
};

enum class CheckWeight { fine, note, problem };

struct CheckNote {
    CheckWeight weight = CheckWeight::fine;
    std::string says;
};

struct SupplyCheck {
    LabelOffer contract;      // most_volts and amps as limited by the cable; volts of the expected contract
    double watts = 0.0;       // the contract's
    double load_amps = 0.0;   // that the machine draws, at most
    double load_watts = 0.0;  // that arrive at the machine
    double power_drop_volts = 0.0;   // on VBUS at that load, contacts included
    double ground_drop_volts = 0.0;  // on ground
    double plug_volts = 0.0;         // at the machine
    double cable_watts = 0.0;        // heat in cable and contacts
    double loop_ohms = 0.0;
    std::vector<CheckNote> notes;  // heaviest first
};

// Expects what a sink that wants most watts chooses: the fixed offer of the most watts that it can use, the
// higher volts of two. Cables carry 3 A without an electronic mark and 5 A with; more than 20 V need one for
// the extended range; cables lose at most 0.5 V on VBUS and 0.25 V on ground; four contacts of at most 40
// mohm each share the current at either end, counted at half (USB Type-C specification, release 2, from
// memory). Refuses values that no cable or machine has.
Result<SupplyCheck> check_supply(const std::vector<LabelOffer>& label, const CableFacts& cable,
                                 const MachineDemand& machine);

}  // namespace eh
