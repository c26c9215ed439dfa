// SPDX-License-Identifier: GPL-3.0-or-later
// Which wire of a harness is which contact, solved from continuity readings in any order.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace eh {

// How the plug stands while a reading is taken.
enum class PlugPush { rest, pushed };

struct ContinuityReading {
    std::string
        a;  // pin of the harness ("1" ...) or contact of the jack ("outer", "inner", "centre", "switch")
    std::string b;
    bool connected = false;
    PlugPush push = PlugPush::rest;
    friend bool operator==(const ContinuityReading&, const ContinuityReading&) = default;
};

// "1 outer ok", "2-3 open", "4 centre open pushed", one reading; words ok / yes / 0 and open / no / OL.
// Refused with what was not understood.
Result<ContinuityReading> parse_continuity(std::string_view text);

struct HarnessFacts {
    std::vector<std::string> pins;      // of the harness's connector, in their order
    std::vector<std::string> contacts;  // of the jack
};

struct HarnessContradiction {
    std::size_t open_reading = 0;           // index that says open
    std::vector<std::size_t> connected_by;  // readings that together say connected, one after another
    std::string says;
};

struct PinAnswer {
    std::string contact;  // that it goes to; empty: none found
    bool known = false;   // a contact, or shown to go to none of them
};

struct HarnessAnswer {
    std::map<std::string, PinAnswer> at_rest;
    std::map<std::string, PinAnswer> pushed;
    std::vector<HarnessContradiction> contradictions;
    std::vector<std::string> changes;  // pins that differ at rest and pushed: worn or broken
    std::vector<std::string> shorts;   // contacts that are connected to one another
    std::string next;                  // a reading to take next, at rest; empty when all pins are known
};

// Readings of one push state are put together: what is connected to the same thing is connected. Refuses
// names that are neither pin nor contact, and a thing measured against itself. Later readings do not overrule
// earlier ones: where two disagree both are named.
Result<HarnessAnswer> map_harness(const HarnessFacts& facts, const std::vector<ContinuityReading>& readings);

// How the wires of the old harness (pin to contact, "" unused) are to be moved so that a replacement with
// another order serves. `fits` when no wire moves.
struct HarnessOrder {
    bool fits = false;
    bool possible = false;           // the replacement serves all that the old one did
    std::vector<std::string> moves;  // "the wire at 2 belongs to 4"
};
HarnessOrder compare_harness(const std::map<std::string, std::string>& old_order,
                             const std::map<std::string, std::string>& replacement);

}  // namespace eh
