// SPDX-License-Identifier: GPL-3.0-or-later
// Minutes that readings, set-ups and repairs cost (data/costs.json).
#pragma once

#include <array>
#include <filesystem>
#include <string>

#include "core/base/result.h"
#include "core/machine/model/machine_plan.h"
#include "core/readings/reading.h"

namespace eh {

struct BenchCosts {
    double open_case_minutes = 8.0;
    double board_out_minutes = 20.0;
    double battery_toggle_minutes = 1.0;
    double move_plug_minutes = 0.3;
    double turn_plug_minutes = 0.2;
    double swap_charger_minutes = 0.7;
    double swap_lead_minutes = 0.5;
    double swap_instruments_minutes = 1.0;
    double press_power_minutes = 1.0;  // and to watch what comes of it
    double hold_plug_minutes = 0.1;
    double to_tester_minutes = 0.8;
    double bare_plug_minutes = 0.5;
    double cut_power_minutes = 3.0;  // charger out, pack out or its switch held, and half a minute's wait
    double ask_minutes = 1.5;        // to ask the customer one thing
    double order_minutes = 5.0;      // to order a part and lay the job by
    // To write a reading down and think of the next: counts where acts are put in order, not in their
    // minutes.
    double note_minutes = 0.5;
    std::array<double, reading_kind_count> reading_minutes{};  // by ReadingKind
    std::array<double, reading_kind_count> risk_minutes{};     // what may go wrong, as minutes
    double remove_risk_minutes = 4.0;
    double failed_repair_minutes = 60.0;
    double repair_due_probability = 0.92;  // from here on repairing beats any reading
    // The same of a part that is plugged in and not soldered: a wrong one is swapped back in minutes.
    double plugged_repair_due_probability = 0.85;
    // "None of these" is no repair but the end of the road: the bench is left only when it is this sure.
    double give_up_probability = 0.99;
};

// Reads minutes, risks and bounds; refused with file and field. load_costs() reads costs.json of the
// directory.
Result<BenchCosts> parse_costs(const std::string& text, const std::string& file);
Result<BenchCosts> load_costs(const std::filesystem::path& data_directory);

// Work on parts that is done to come from one configuration to another.
std::vector<Handling> work_between(const BenchConfiguration& from, const BenchConfiguration& to);

// Whether all power is cut on the way, for the reading's sake and not because it is taken without power.
bool cuts_power_between(const BenchConfiguration& from, const BenchConfiguration& to);

// Minutes to bring the bench from one configuration to another: case, board, battery, plug, charger, lead,
// instruments, the parts that come off (each needs the board out), those that are plugged in their place, and
// work on parts that is done for a reading's sake.
double setup_minutes(const BenchConfiguration& from, const BenchConfiguration& to, const MachinePlan& plan,
                     const BenchCosts& costs);

// Minutes to remedy a fault at a block, opening included as far as `from` has not paid for it; 0 for one that
// work done so far has put right.
double repair_minutes(const FaultInstance& fault, const BenchConfiguration& from, const MachinePlan& plan,
                      const BenchCosts& costs);

}  // namespace eh
