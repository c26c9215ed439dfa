// SPDX-License-Identifier: GPL-3.0-or-later
// The CC pins as resistors: what pulls up and down, the volts that come of it, and back.
//
// Values and ranges: USB Type-C cable and connector specification, release 2 (Rp, Rd, Ra: section 4.11; what
// a sink sees: table 4-36; from memory).
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace eh {

// What a source advertises by the strength of its pull-up.
enum class SourceCurrent { usb_default, amps_1_5, amps_3 };

// A pull-up to a supply, or a current source (pull_up_volts = 0).
struct CcPullUp {
    double pull_up_volts = 0.0;
    double ohms = 0.0;
    double amps = 0.0;  // of a current source
};

inline constexpr double rd_ohms = 5100.0;
inline constexpr double ra_least_ohms = 800.0;
inline constexpr double ra_most_ohms = 1200.0;

// The pull-up of a source as the specification names it: by resistor to 5 V or 3.3 V, or by current.
CcPullUp pull_up_of(SourceCurrent current, double to_volts = 5.0);
CcPullUp current_source_of(SourceCurrent current);
double amps_of(SourceCurrent current);  // 0.5 (default, USB 2), 1.5, 3

// Volts on the line under so many ohms to ground. Requires ohms > 0; infinity: nothing pulls down, and a
// current source then goes to its supply, taken as 5 V.
double cc_volts(const CcPullUp& pull_up, double ohms_to_ground);
// The ohms to ground that make these volts; nullopt where none do.
std::optional<double> cc_ohms(const CcPullUp& pull_up, double volts);

// The range of volts that a sink takes for this advertisement.
struct VoltRange {
    double least = 0.0;
    double most = 0.0;
};
VoltRange sink_range(SourceCurrent current);
// What a sink takes these volts for; nullopt: nothing is connected, or they lie between the ranges.
std::optional<SourceCurrent> advertised(double volts);

enum class CcState {
    nothing,        // no volts on either line: no pull-up arrives
    attached,       // one line shows a source
    open,           // a line at its supply: nothing pulls down
    both_pulled,    // volts on both lines: the two are joined, or an accessory
    between,        // volts that no part makes: a resistor has gone, or dirt pulls
    ra_instead_rd,  // pulled far down: an adapter's Ra where Rd should be, or a leak to ground
};

struct CcFinding {
    CcState state = CcState::nothing;
    int line = 0;  // 1 or 2: the one that is connected; 0: none
    std::optional<SourceCurrent> current;
    std::string says;
};

// What volts at the two CC pins of a machine's receptacle mean while a charger is plugged in. Requires finite
// volts.
CcFinding read_cc(double cc1_volts, double cc2_volts);

// "USB default", "1.5 A", "3 A".
std::string to_text(SourceCurrent current);

}  // namespace eh
