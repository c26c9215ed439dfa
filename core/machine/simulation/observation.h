// SPDX-License-Identifier: GPL-3.0-or-later
// What the technician's instruments would show on a machine in a configuration.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/base/shared_floats.h"
#include "core/machine/model/machine_sign.h"
#include "core/machine/simulation/course.h"
#include "core/trace/meter_summary.h"

namespace eh {

// What the machine itself says about charging, where it is started and has a screen.
enum class FirmwareMessage {
    none,  // no picture, nothing is said
    charging,
    not_charging,     // plugged in, not charging, no reason given
    adapter_unknown,  // it cannot tell which adapter is plugged in
    charge_limit,     // held by a setting
    full,
    on_battery,       // sees no adapter
    no_battery,       // runs from the adapter and finds no battery
    slow_charger,     // the adapter gives less than it wants
    service_battery,  // the battery is worn, or it does not trust it
};

// What becomes of the percentage over minutes.
enum class ChargeTrend { rising, rising_slowly, rising_with_breaks, flat, falling };
inline constexpr int charge_trend_count = 5;

// Everything that can be read off one run of the powered machine. Copies share their numbers.
struct PoweredView {
    MeterSummary meter;              // at the plug, or of the bench supply where one feeds a net
    SharedFloats net_volts;          // by net of the topology, averaged over the cycle when it cycles
    SharedFloats net_ohms;           // how stiffly they are held: ohms seen by a small current into the net
    SharedFloats rise_kelvin;        // by block of the topology, above the surroundings
    float first_shunt_watts = 0.0F;  // heat in the shunts of the machine's first fault
    FirmwareMessage firmware = FirmwareMessage::none;  // of most makes; message_shares() has the others
    // Share of the makes that call the adapter slow: a started machine gets 5 V, or less than it wants.
    float called_slow = 0.0F;
    float asks_for_service = 0.0F;  // the same of the battery: it refuses for a fault of its own
    // Share of the makes that go by the charger's input and say “on battery”: a contract stands, nothing
    // comes.
    float called_on_battery = 0.0F;
    std::optional<ChargeTrend> trend;  // of a started machine with a pack
    SignShares signs{};                // how often machines that stand like this give each sign of life
    NegotiationEnd talk = NegotiationEnd::silent;
    MachineModel::Percent battery_percent;
    // What a settings page gives for the adapter's watts: 0 where it does not know them, below 0 where the
    // machine shows no page.
    float adapter_watts = -1.0F;
    // Percent of its first capacity that the pack is given, and how far makes and packs are from it.
    float pack_health = 0.0F;
    float pack_health_width = 0.0F;
    double drop_probability = 0.0;  // that pushing the plug makes the meter drop out
    bool source_strained = false;   // the charger was at its limit at some time
    float sag = 0.0F;      // share of its volts that it is short of, where it is at its limit; 0 to 1
    bool repeats = false;  // the same as the sample before it: only what does not show differs
    bool valid = false;    // false: no operating point was found, use nothing of it
};

// A rise over the room as heat that is led away in proportion to it would make it, and what it comes to: the
// same where it is small, never more than 180 K. The second function is the inverse of the first.
double settled_rise(double rise_kelvin);
double unsettled_rise(double settled_kelvin);

struct HottestPart {
    std::size_t block = 0;  // of the plan
    double kelvin = 0.0;
};
// Requires blocks.
HottestPart hottest_part(const PoweredView& view);

// Runs the machine and looks at it once it has settled or cycles.
PoweredView look_at(MachineModel& model, const BenchConfiguration& configuration, DcSolver& solver,
                    const CourseOptions& options = {});

// The stream of an inline meter along a course, `rate_hz` samples a second in [from_s, to_s), dark times left
// out. No noise: that is the instrument's own.
std::vector<MeterSample> meter_stream(const Course& course, double from_s, double to_s, double rate_hz);

// Share of the makes that say each message where a machine stands as in the view: some call an adapter slow
// or a battery in need of service where others say what follows from it, and some take an adapter that does
// not reach the charger for none (estimates). They add up to 1.
inline constexpr int firmware_message_count = 10;
using MessageShares = std::array<double, firmware_message_count>;
MessageShares message_shares(const PoweredView& view);

// "charging", "adapter_unknown", ...
std::string to_text(FirmwareMessage message);
std::optional<FirmwareMessage> firmware_message_from(const std::string& text);
// "rising", "rising_slowly", ...
std::string to_text(ChargeTrend trend);
std::optional<ChargeTrend> charge_trend_from(const std::string& text);

}  // namespace eh
