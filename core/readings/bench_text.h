// SPDX-License-Identifier: GPL-3.0-or-later
// How the machine stood on the bench, for people, and the names of its nets and parts.
#pragma once

#include <string>

#include "core/machine/model/bench_configuration.h"
#include "core/machine/model/topology.h"

namespace eh {

// "Port 2, side A, battery in".
std::string describe(const BenchConfiguration& configuration, const Topology& topology);

// The title, or the id itself where the machine has no such net or part.
std::string title_of_net(const Topology& topology, const std::string& id);
std::string title_of_block(const Topology& topology, const std::string& id);

// "VBUS of port 2", with how the machine stood where parts are off it or were worked on.
std::string net_and_work(const std::string& net, const BenchConfiguration& bench, const Topology& topology);

}  // namespace eh
