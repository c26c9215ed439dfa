// SPDX-License-Identifier: GPL-3.0-or-later
// How long a pack takes to charge, with the band that its age and the charger's watts leave.
#include <fmt/core.h>

#include "core/battery/charge_course.h"
#include "core/machine/knowledge/load_knowledge.h"

int main() {
    const auto knowledge = eh::load_knowledge(eh::default_data_directory());
    if (!knowledge) {
        fmt::print("{}\n", knowledge.error().text());
        return 1;
    }
    eh::ChargeSetup setup;
    setup.pack.cells = knowledge->chemistries.front();
    setup.pack.capacity_wh = 52.0;
    setup.charge_state = 0.1;
    setup.watts = 45.0;
    const auto time = eh::time_to_full(setup);
    if (!time) {
        fmt::print("{}\n", time.error().text());
        return 1;
    }
    fmt::print("{:.0f} minutes, {:.0f} to {:.0f}\n", time->expected_s / 60, time->least_s / 60,
               time->most_s / 60);
}
