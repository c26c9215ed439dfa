// SPDX-License-Identifier: GPL-3.0-or-later
// The quick line: what was typed, and how it was understood.
#include <fmt/core.h>

#include "core/entry/quick_line.h"
#include "core/machine/knowledge/load_knowledge.h"

int main() {
    const auto knowledge = eh::load_knowledge(eh::default_data_directory());
    if (!knowledge) {
        fmt::print("{}\n", knowledge.error().text());
        return 1;
    }
    const eh::Topology& topology = *knowledge->find_topology("usbc-two-chained");
    for (const char* typed :
         {"p2 vbus 3r3", "p1 5.02 0.18", "vbus p1 ol", "p2 5.1v 0.2a cycling", "vbus p9 3"}) {
        const auto entry = eh::parse_quick_line(typed, topology, {});
        fmt::print("{:<22}{}\n", typed, entry ? entry->echo : "refused: " + entry.error().message);
    }
}
