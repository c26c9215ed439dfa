// SPDX-License-Identifier: GPL-3.0-or-later
// What must be found on a machine for power to be kept away from a part of it. Read from data/dangers.json.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/machine/model/look.h"

namespace eh {

enum class KeepsPowerFrom {
    port,     // nothing is plugged into it
    source,   // what the customer brought is plugged in nowhere
    machine,  // nothing is plugged in anywhere
};

// Either a look or a flaw seen on a part of these kinds (of any kind, where none is named), or a net of this
// stage that reads fewer ohms to ground.
struct Danger {
    std::string id;
    std::optional<Look> seen;
    Flaw flaw = Flaw::none;
    std::vector<std::string> kinds;
    std::string stage;
    double below_ohms = 0.0;
    KeepsPowerFrom keeps_power_from = KeepsPowerFrom::port;
    std::string reason;   // a sentence
    std::string instead;  // what is done instead, a sentence
};

}  // namespace eh
