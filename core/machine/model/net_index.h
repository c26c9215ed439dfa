// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

#include "core/machine/model/topology.h"

namespace eh {

// The index of a net among topology.nets, as plans and views count them; -1 where the machine has none of
// that id.
[[nodiscard]] int net_index(const Topology& topology, const std::string& id);

}  // namespace eh
