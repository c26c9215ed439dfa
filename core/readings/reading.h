// SPDX-License-Identifier: GPL-3.0-or-later
// A reading: what the technician took off an instrument or saw, where, and how the machine stood.
#pragma once

#include <cstdint>
#include <optional>
#include <string>

#include "core/machine/model/bench_configuration.h"
#include "core/machine/simulation/observation.h"

namespace eh {

enum class ReadingKind {
    meter,      // inline meter at the plug: pattern, volts, amps
    net_volts,  // volts of a net under power
    net_ohms,   // ohms of a net to ground, machine off
    hot_part,   // hottest part and its rise
    firmware,   // what the machine says about charging
    wiggle,     // does the meter drop out when the plug is pushed
    injection,  // bench supply at a net: volts, amps, hottest part and its rise
    look,       // what is seen of a part
    through,    // ohms from end to end of a part that was unplugged, its worst wire; at rest and pushed
    diode,      // volts in diode mode, red on ground and black on a net, machine off
    talk,       // what the conversation on the CC line came to, recorded from plugging in on
};
inline constexpr int reading_kind_count = 11;

struct Reading {
    std::string id;  // unique within its job
    ReadingKind kind = ReadingKind::meter;
    BenchConfiguration configuration;
    // Net (net_volts, net_ohms, diode) or block (the other kinds; hot_part and injection: empty for nothing
    // warm).
    std::string place;
    double value = 0.0;       // volts, ohms or kelvin; for the meter see `meter`
    bool over_limit = false;  // ohmmeter's OL
    MeterSummary meter;       // kind meter; kind injection: volts and amps of the bench supply
    bool amps_known = true;   // kind meter: false when only volts were written down
    FirmwareMessage firmware = FirmwareMessage::none;
    std::optional<double> percent;                 // kind firmware: how full it says the battery is
    NegotiationEnd talk = NegotiationEnd::silent;  // kind talk
    bool drops_out = false;                        // kind wiggle; kind through: it changed when it was pushed
    bool pushed = false;                           // kind through: whether it was
    Look look = Look::sound;                       // kind look
    // Kinds hot_part and injection: how sure it is that the part is the one (a finger feels a place, not a
    // part), and whether its rise was measured.
    double certainty = 1.0;
    bool rise_known = true;
    bool set_aside = false;     // the technician no longer trusts it: kept, not counted
    std::int64_t taken_ms = 0;  // since the epoch, UTC; 0 when unknown
    std::string source;         // "typed", "captured", or the instrument's name
    std::string note;
    friend bool operator==(const Reading&, const Reading&) = default;
};

// "meter", "volts", "ohms", "hot", "firmware", "wiggle", "inject", "look", "through", "diode",
// "talk": the words of the job file.
std::string to_text(ReadingKind kind);
std::optional<ReadingKind> reading_kind_from(const std::string& text);

// Readings of the multimeter with its black lead on ground or the part unplugged: the machine is off.
bool is_unpowered(ReadingKind kind);

// One line for people: "Port 2, side A, battery in: 5.02 V, 183 mA, steady".
std::string describe(const Reading& reading, const Topology& topology);
// How the machine stood, for people: "Port 2, side A, battery in".
std::string describe(const BenchConfiguration& configuration, const Topology& topology);
// What is seen, for people: "burnt or discoloured".
std::string describe(Look look);
// The value alone: "5.02 V, 183 mA, steady", "3.30 Ω", "OL", "+32 K at the surge protector".
std::string describe_value(const Reading& reading, const Topology& topology);

}  // namespace eh
