// SPDX-License-Identifier: GPL-3.0-or-later
// Chargers and leads: what stands between the wall and the machine (data/kit.json).
#pragma once

#include <string>
#include <vector>

namespace eh {

struct ChargerOffer {
    double volts = 0.0;
    double amps = 0.0;
};

// How a source reacts to an overload.
enum class Protection {
    foldback,  // stays on, gives less current the lower its output falls
    hiccup,    // switches off and tries again after a while
    latched,   // switches off until it is unplugged
};

struct ChargerSpec {
    std::string id;
    std::string family;
    std::string title;
    std::string kind;
    std::vector<ChargerOffer> offers;  // ascending volts
    Protection protection = Protection::hiccup;
    double trip_s = 0.03;
    double recover_s = 0.8;
};

struct LeadSpec {
    std::string id;
    std::string family;
    std::string title;
    std::string kind;
    bool fixed = false;  // to its charger: one piece
};

struct Kit {
    std::vector<ChargerSpec> chargers;
    std::vector<LeadSpec> leads;

    // nullptr where the kit has no such charger.
    [[nodiscard]] const ChargerSpec* find_charger(const std::string& id) const;
    // The lead for that family of inlets.
    [[nodiscard]] const LeadSpec* lead_for(const std::string& family) const;
};

// "foldback", "hiccup", "latched".
std::string to_text(Protection protection);

}  // namespace eh
