// SPDX-License-Identifier: GPL-3.0-or-later
// Kinds of blocks: what a surge protector, a port controller, a supply is made of and needs to work.
//
// Kinds are data (data/kinds.json). A topology instantiates them on its nets; faults are written against
// kinds, so that a topology nobody has seen yet can be diagnosed without new code or new faults.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/machine/model/design_variety.h"
#include "core/machine/model/look.h"

namespace eh {

// A number, or the name of a block parameter that supplies it ("$volts" in the file).
struct ValueSpec {
    double number = 0.0;
    std::string param;  // without the "$"; empty: use number
};

enum class ElementType { resistor, diode, limited_source, power_load, regulator, current };

// When an element takes part. Otherwise it is open (resistor, diode) or switched off.
enum class ElementCondition {
    always,
    live,       // the machine is under power: not while an ohmmeter looks at it
    active,     // its block works
    unlimited,  // ... and does not limit what flows before there is a contract
    limited,    // ... and limits it
    waiting,    // under power, but its block does not work (yet)
    plugged,    // the charger is in this block's port
    plugged_a,  // ... with plug side A up
    plugged_b,  // ... with plug side B up
};

struct ElementSpec {
    std::string name;
    ElementType type = ElementType::resistor;
    std::string from;  // pin name or "gnd"
    std::string to;
    std::map<std::string, ValueSpec> values;  // "ohms", "volts", "limit_amps", ...
    double tolerance = 0.0;                   // relative spread (one sigma) between good parts of this kind
    ElementCondition when = ElementCondition::always;
    // Machines of this habit have it under power only; off, some hundred kilohms stand in its place.
    std::optional<Habit> faint_by;
    // Only machines of this habit have it; only machines without that one.
    std::optional<Habit> only_by;
    std::optional<Habit> never_by;
    // A source or a regulator folds back (its `fold`) on machines of this habit only; without one, on all.
    std::optional<Habit> folds_by;
    // A regulator that stops when its output is shorted; others feed what their limit allows.
    bool stops_when_shorted = false;
};

// What a controller lacks when a need is not met: it shows in what the controller still says.
enum class NeedPurpose { power, program, partners };

// A condition for a block to work. All given parts of one need must hold.
struct Need {
    std::string pin;        // pin or (in topologies) net whose volts are checked
    std::string link;       // named link: all blocks behind it must work
    std::string unstopped;  // named link: none of the blocks behind it has opened at a short
    bool contract = false;  // the block's port is plugged; the bounds are for the source's volts
    std::string plugged;    // port: the need is there only while the charger is in it
    std::optional<ValueSpec> above_volts;
    std::optional<ValueSpec> below_volts;
    NeedPurpose purpose = NeedPurpose::power;
    std::string undamaged;       // kind of parts of which none may be dead or missing
    std::optional<Habit> habit;  // machines without it do not need this
    // Machines with one of these habits are content with fewer volts.
    std::vector<Habit> eased_by;
    double eased_to_volts = 0.0;
    bool eased_without_pack = false;  // only where no pack feeds the rail
};

// A switch that opens at a short behind it, before the source does, on machines of a habit.
struct Trip {
    std::string pin;  // behind it
    double below_volts = 0.0;
    Habit habit = Habit::switch_opens_at_short;
};

enum class BlockRole {
    plain,
    source_pd,
    source_fixed,
    controller,
    charger,  // makes the system rail from the input
    mainboard,
    pack,
    inline_meter,  // the shop's own instruments: they can lie
    multimeter,
};

struct BlockKind {
    std::string id;
    std::string title;
    BlockRole role = BlockRole::plain;
    std::vector<std::string> pins;
    std::vector<std::string> optional_pins;  // of those, the ones that a block may leave out: not connected
    std::vector<ElementSpec> elements;
    std::vector<Need> needs;
    std::map<Contact, std::string> contacts;  // that can be looked at, by pin; "" for one that is no pin
    double delay_s = 0.0;                     // from "needs are met" to "works"
    std::optional<Trip> opens_at_short;
    std::map<std::string, double> params;
    std::map<std::string, double> param_tolerance;
    double heat_kelvin_per_watt = 40.0;  // rise above surroundings per watt turned to heat
    // Of what its switching stages lose, what warms the part: coils and copper get the rest.
    double conversion_heat_share = 1.0;
    double replace_minutes = 20.0;
    bool needs_board_out = true;           // to be removed or replaced
    std::optional<double> remove_minutes;  // absent: not a part that is taken off to measure
    std::optional<double> lend_minutes;    // to plug a known-good one in its place; absent: it is soldered
    std::vector<std::string> designators;  // letters that such a part's name begins with on a board
    bool pinned_out = false;               // measured through from end to end, wire by wire
    bool seen_from_outside = false;        // with the case closed
    std::map<std::string, double> clamp_volts;  // by pin: drop of the diode from ground at 1 mA
};

}  // namespace eh
