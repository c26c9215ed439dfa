// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers that a multimeter shows at a machine without power, apart from ohms of a net to ground.
#pragma once

#include <compare>

namespace eh {

struct OffQuestion {
    enum class Of {
        diode_drop,    // volts in diode mode at the net `first`
        through_part,  // ohms from end to end of the part `first`, unplugged
        between_nets,  // ohms from the net `first` to the net `second`
        pack_volts,    // at the connector of the pack, unplugged
    };
    Of of = Of::diode_drop;
    int first = -1;  // indices of the plan; -1 where there is none
    int second = -1;
    friend auto operator<=>(const OffQuestion&, const OffQuestion&) = default;
};

}  // namespace eh
