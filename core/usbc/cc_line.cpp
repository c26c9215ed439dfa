// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/cc_line.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "core/base/text.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr double current_source_supply = 5.0;
constexpr double quiet_volts = 0.05;       // what a meter picks up on an open pin
constexpr double pulled_from_volts = 0.2;  // a sink's lowest threshold
constexpr double open_from_volts = 2.6;    // above what 3 A make at Rd
constexpr std::array currents{SourceCurrent::usb_default, SourceCurrent::amps_1_5, SourceCurrent::amps_3};

template <typename Table>
double at(const Table& table, SourceCurrent current) {
    return table[static_cast<std::size_t>(current)];
}

}  // namespace

CcPullUp pull_up_of(SourceCurrent current, double to_volts) {
    constexpr std::array to_5{56e3, 22e3, 10e3};
    constexpr std::array to_3_3{36e3, 12e3, 4.7e3};
    constexpr double between_volts = 4.0;
    return {to_volts, to_volts > between_volts ? at(to_5, current) : at(to_3_3, current), 0.0};
}

CcPullUp current_source_of(SourceCurrent current) {
    constexpr std::array amps{80e-6, 180e-6, 330e-6};
    return {0.0, 0.0, at(amps, current)};
}

double amps_of(SourceCurrent current) {
    constexpr std::array amps{0.5, 1.5, 3.0};
    return at(amps, current);
}

double cc_volts(const CcPullUp& pull_up, double ohms_to_ground) {
    if (pull_up.pull_up_volts <= 0.0)
        return std::min(current_source_supply, pull_up.amps * ohms_to_ground);
    if (!std::isfinite(ohms_to_ground))
        return pull_up.pull_up_volts;
    return pull_up.pull_up_volts * ohms_to_ground / (pull_up.ohms + ohms_to_ground);
}

std::optional<double> cc_ohms(const CcPullUp& pull_up, double volts) {
    const double supply = pull_up.pull_up_volts > 0.0 ? pull_up.pull_up_volts : current_source_supply;
    if (!(volts >= 0.0) || volts > supply)
        return std::nullopt;
    if (volts == supply)
        return std::numeric_limits<double>::infinity();
    return pull_up.pull_up_volts > 0.0 ? pull_up.ohms * volts / (supply - volts) : volts / pull_up.amps;
}

VoltRange sink_range(SourceCurrent current) {
    constexpr std::array<VoltRange, 3> ranges{VoltRange{0.25, 0.61}, {0.70, 1.16}, {1.31, 2.04}};
    return ranges[static_cast<std::size_t>(current)];
}

std::optional<SourceCurrent> advertised(double volts) {
    for (const SourceCurrent current : currents) {
        if (volts >= sink_range(current).least && volts <= sink_range(current).most)
            return current;
    }
    return std::nullopt;
}

CcFinding read_cc(double cc1_volts, double cc2_volts) {
    CcFinding found;
    if (std::max(cc1_volts, cc2_volts) <= quiet_volts) {
        found.says =
            "No volts on either CC pin: no pull-up arrives. The CC wire of the cable or the charger's side "
            "is "
            "open, or both pins are held down; try another cable, then measure ohms from the pins to ground.";
        return found;
    }
    if (std::min(cc1_volts, cc2_volts) > pulled_from_volts) {
        found.state = CcState::both_pulled;
        found.says =
            "Volts on both CC pins: only one wire of the cable is CC. Look for a bridge or dirt between the "
            "pins.";
        return found;
    }
    found.line = cc1_volts >= cc2_volts ? 1 : 2;
    const double volts = std::max(cc1_volts, cc2_volts);
    const std::string pin = "CC" + integer_text(found.line) + " at " + format_quantity(volts, Unit::volts);
    if (volts > open_from_volts) {
        found.state = CcState::open;
        found.says =
            pin +
            ": nothing pulls it down. The controller gives no Rd here: it is not fed, it is dead, or the "
            "pin does not reach it.";
        return found;
    }
    found.current = advertised(volts);
    if (found.current) {
        found.state = CcState::attached;
        found.says = pin + ": the charger is seen and offers " + to_text(*found.current) +
                     " without a contract; the plug lies on line " + integer_text(found.line) + ".";
        return found;
    }
    if (volts < sink_range(SourceCurrent::usb_default).least) {
        found.state = CcState::ra_instead_rd;
        found.says =
            pin +
            ": pulled further down than 5.1 kΩ do. Measure ohms to ground: about 1 kΩ is an adapter's Ra, "
            "anything else a leak at the pin.";
        return found;
    }
    found.state = CcState::between;
    found.says =
        pin +
        ": between what charger and machine make together. A pull-down or pull-up has drifted, or dirt "
        "pulls at the pin; clean it and measure again with another charger.";
    return found;
}

std::string to_text(SourceCurrent current) {
    constexpr std::array names{"USB default current", "1.5 A", "3 A"};
    return names[static_cast<std::size_t>(current)];
}

}  // namespace eh
