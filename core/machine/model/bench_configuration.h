// SPDX-License-Identifier: GPL-3.0-or-later
// How the machine stands on the bench when a reading is taken. Every reading carries a copy.
#pragma once

#include <compare>
#include <optional>
#include <string>
#include <vector>

#include "core/machine/model/work.h"

namespace eh {

struct Topology;  // core/machine/model/topology.h

enum class Owner { bench, customer };  // the shop's known-good one, or what the customer brought
enum class PlugSide { a, b };          // which way up the plug is
enum class Button { left_alone, pressed, kept_off };  // what is asked of the machine with its power button
enum class Moment { settled, at_once };       // when nothing changes any more, or seconds after plugging in
enum class Tester { none, no_load, loaded };  // what the charger feeds instead of the machine

// The bench supply across a net and ground.
struct Injection {
    std::string net;
    double volts = 1.0;
    double limit_amps = 3.0;
    friend auto operator<=>(const Injection&, const Injection&) = default;
};

// Work that left a part in its place, and puts right only what such work is the remedy of: a pack that was
// seated anew may still be worn out.
struct Handling {
    std::string block;
    Work work = Work::none;
    friend auto operator<=>(const Handling&, const Handling&) = default;
};

struct BenchConfiguration {
    bool charger_connected = true;
    Owner charger = Owner::bench;
    Owner lead = Owner::bench;
    std::string port;  // the port the charger is in
    PlugSide side = PlugSide::a;
    bool plug_held = false;        // to the side on which it makes contact
    Tester tester = Tester::none;  // with the charger connected: to a load tester, and not to the machine
    bool bare_plug = false;        // a plug with its contacts led out is in the port, nothing behind it
    Button button = Button::left_alone;
    Moment moment = Moment::settled;  // of the reading; with a charger that feeds the machine
    bool battery_in = true;
    bool case_open = false;
    bool board_out = false;
    std::optional<Injection> injection;
    std::vector<std::string> removed;   // blocks taken off, sorted
    std::vector<std::string> replaced;  // blocks changed or repaired since the job began, sorted
    std::vector<Handling> handled;      // by cleaning, seating, resetting and the like, sorted
    std::vector<std::string> lent;      // blocks that a known-good one of the shop stands in for, sorted
    bool power_was_cut = false;         // charger and battery were both out since the job began
    bool second_instruments = false;    // read with another meter and other leads than usual

    friend auto operator<=>(const BenchConfiguration&, const BenchConfiguration&) = default;
};

// The part of a configuration that changes currents and volts: case and board position set to their defaults,
// and on a tester the whole machine.
BenchConfiguration electrical_part(BenchConfiguration configuration);

// Whether the charger feeds the machine, and not a tester or nothing.
bool feeds_machine(const BenchConfiguration& configuration);

// Same machine, the charger in its port; plug and button left alone, no bench supply, which comes off before,
// and nothing changes any more.
BenchConfiguration plugged_as_usual(BenchConfiguration configuration);

// The same in a port that the machine has: its first, where the configuration names none of them.
BenchConfiguration plugged_into(const Topology& topology, BenchConfiguration configuration);

// Same machine, no charger, no battery, no supply: how ohms are measured. What hangs lets go by that.
BenchConfiguration unpowered(BenchConfiguration configuration);

// Whether neither charger nor battery feeds the machine, so that it forgets what it hung in.
bool all_power_is_cut(const BenchConfiguration& configuration);

// Notes work on a part, which stands in its place afterwards unless it was taken off. A new part and what is
// done to its inside count as `replaced`; work with one remedy as `handled`; a reflow, which proves nothing,
// and an explanation change nothing.
void note_work(BenchConfiguration& configuration, const std::string& block, Work work);

// Adds to or takes from a sorted list of block ids, each at most once.
void insert_block(std::vector<std::string>& list, const std::string& block);
void erase_block(std::vector<std::string>& list, const std::string& block);

}  // namespace eh
