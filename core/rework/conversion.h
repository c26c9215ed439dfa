// SPDX-License-Identifier: GPL-3.0-or-later
// From a barrel inlet to USB-C: calculated before it is soldered.
//
// SI units; lengths of the room in millimetres where the name says so.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/usbc/supply_check.h"

namespace eh {

// How the machine knows its adapter.
enum class IdScheme { none, resistor_to_ground, divider, one_wire_data };
std::string describe(IdScheme scheme);

struct ConvertedMachine {
    double adapter_volts = 19.0;
    double adapter_tolerance = 0.05;
    double adapter_watts = 65.0;
    std::optional<double> input_limit_volts;  // over-voltage limit of the input, where it is known
    double capacitor_rating_volts = 25.0;     // of the input capacitors
    double idle_watts = 15.0;                 // running, battery full
    double charging_watts = 45.0;             // running and charging
    double battery_wh = 50.0;                 // what goes in when charged from empty
    IdScheme id = IdScheme::none;
    double id_ohms = 10e3;       // resistor to ground, or the upper one of the divider
    double id_share = 0.5;       // of the supply, for a divider
    double id_watts_step = 0.0;  // watts that the ID which is fitted stands for; 0: the adapter's
};

// What the trigger board does when the source has no 20 V.
enum class TriggerFallback { nothing, next_lower, stays_at_5 };
std::string describe(TriggerFallback fallback);

struct ConversionParts {
    std::vector<LabelOffer> source;  // charger or power bank, by its label
    double source_watts = 65.0;
    double bank_wh = 0.0;  // of a power bank; 0: a charger
    CableFacts cable;
    double trigger_volts = 20.0;
    double trigger_amps = 5.0;  // that the trigger board stands
    TriggerFallback fallback = TriggerFallback::next_lower;
    double lead_gauge = 20.0;      // wires from the trigger to the board
    double lead_length_m = 0.1;    // one way
    double board_height_mm = 4.0;  // trigger board with its receptacle
    double board_depth_mm = 16.0;
    double board_width_mm = 10.0;
    double space_height_mm = 6.0;
    double space_depth_mm = 20.0;
    double space_width_mm = 12.0;
    bool stopgap = false;  // temporary: gets a date
};

enum class Conversion { works, works_with_limits, does_not };
// For people, in small letters.
std::string describe(Conversion verdict);

enum class ConversionWeight { fine, limit, problem };
struct ConversionNote {
    ConversionWeight weight = ConversionWeight::fine;
    std::string says;
};

struct ConversionPlan {
    Conversion verdict = Conversion::does_not;
    std::vector<ConversionNote> notes;  // gravest first
    double contract_volts = 0.0;        // that the trigger gets; 0: none
    double contract_amps = 0.0;
    double above_adapter = 0.0;  // contract over the adapter's volts, minus 1
    double highest_volts = 0.0;  // of the source at its upper limit
    double highest_above_adapter = 0.0;
    double input_margin = 0.0;  // from the highest to the first limit, as a share of the limit; < 0: over
    double idle_volts = 0.0;    // that a meter at the board should show
    double charging_volts = 0.0;
    double idle_amps = 0.0;
    double charging_amps = 0.0;
    double charging_watts = 0.0;   // that the machine takes when charging
    double lead_drop_volts = 0.0;  // wires to the board
    double lead_watts = 0.0;
    double charge_hours_off = 0.0;  // from empty, the machine off; 0: does not charge
    double charge_hours_running = 0.0;
    double bank_hours = 0.0;             // that a power bank runs the machine idle; 0: no bank
    double faked_watts = 0.0;            // that the machine believes in
    std::string id_how;                  // what to fit for the ID
    std::string label;                   // for the case
    std::vector<std::string> checklist;  // insulation, strain relief
};

// Refuses values that no machine has (watts not positive, volts outside 5 to 24 for a barrel machine,
// negative room). Sources hold 5 % above nominal at most. Charging: efficiency 0.9 from the inlet into the
// cells, the last fifth of the charge takes twice as long (constant volts; common practice: an hour and a
// half for some 50 Wh at 45 W less what the machine takes). Power banks deliver 0.85 of their label.
Result<ConversionPlan> plan_conversion(const ConvertedMachine& machine, const ConversionParts& parts);

}  // namespace eh
