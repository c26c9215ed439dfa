// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/fault.h"

#include <algorithm>
#include <array>

#include "core/electrics/engineering.h"

namespace eh {

Result<FaultInstance> parse_fault_instance(const std::string& text) {
    const auto at = text.find('@');
    if (at == std::string::npos || at == 0 || at + 1 >= text.size())
        return refused("a fault is written fault@part, for instance protector_shorted@sp2=3.3", text);
    const auto equals = text.find('=', at);
    FaultInstance fault{text.substr(0, at),
                        text.substr(at + 1, equals == std::string::npos ? equals : equals - at - 1)};
    if (equals == std::string::npos)
        return fault;
    const auto slash = text.find('/', equals);
    const auto ohms = parse_quantity_as(
        text.substr(equals + 1, slash == std::string::npos ? slash : slash - equals - 1), Unit::ohms);
    if (!ohms || ohms->over_limit)
        return refused("ohms are wanted behind the “=”", text);
    fault.ohms = ohms->value;
    if (slash != std::string::npos) {
        const auto knee = parse_quantity_as(text.substr(slash + 1), Unit::volts);
        if (!knee || knee->value <= 0.0)
            return refused("volts above 0 are wanted behind the “/”", text);
        fault.knee_volts = knee->value;
    }
    return fault;
}

}  // namespace eh
