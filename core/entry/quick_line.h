// SPDX-License-Identifier: GPL-3.0-or-later
// The quick line: readings typed with one hand.
//
//   p2 vbus 3r3                   ohms of a net to ground
//   vbus p1 ol                    ohmmeter over its range
//   main 12.6 v                   volts of a net under power
//   diode main 0.42               diode mode, red on ground
//   p1 5.02 0.18                  meter at a port: volts, amps
//   p1 b 20 1.6                   plug turned over: side B
//   p2 dark                       meter stays dark
//   p2 5.1v 0.2a cycling          meter comes and goes
//   p2 held 20 1.5                plug held to the side on which it makes contact
//   p1 pressed 20 0.8             after the power button; standby: with the machine kept off
//   tester 19.8 4.5               charger and lead at a load tester; volts alone: nothing drawn
//   hot pc2 +30                   hottest part and its rise
//   hot pc2 finger                found by finger or alcohol: less sure, no rise
//   wiggle p1 drops               drops out when pushed
//   through harness 0r1 holds     from end to end, at rest and pushed
//   between vin chgin 0r02        ohms from one net to another
//   pack 7.42                     volts of the unplugged pack
//   look pc2 burnt                what is seen of a part
//   says not charging 78%         what the machine says
//   inject vbus p1 1v 3a 0.3v 3a tvs1 +30
//
// Words may stand in any order; case does not matter.
#pragma once

#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/readings/reading.h"

namespace eh {

struct QuickEntry {
    Reading reading;      // without id, time and source
    std::string echo;     // how it was understood
    std::string warning;  // the bench does not stand as this reading needs it; empty when it does
};

// Reads a line. The reading is stamped with `bench`, with the port and plug side changed when the line names
// them. Refused with a sentence that says which word is not understood, or what is missing.
Result<QuickEntry> parse_quick_line(const std::string& line, const Topology& topology,
                                    const BenchConfiguration& bench);

// Whole lines' beginnings that continue what is typed so far, best first, at most `most`.
std::vector<std::string> quick_line_completions(const std::string& typed, const Topology& topology,
                                                std::size_t most = 8);

}  // namespace eh
