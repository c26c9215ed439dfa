// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/habits.h"

#include "core/machine/model/net_index.h"
#include "core/machine/simulation/observation.h"
#include "tests/support/shop.h"

namespace eh::test {

std::vector<Reading> readings_of(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                                 const ByHabit<bool>& habits) {
    PartDraw draw;
    draw.habits = habits;
    MachineModel model(plan, faults, draw);
    DcSolver solver;
    std::vector<Reading> readings;
    const auto id = [&] { return "r" + std::to_string(readings.size()); };
    for (const char* port : {"p1", "p2"}) {
        for (const bool battery_in : {true, false}) {
            BenchConfiguration bench = plugged(port);
            bench.battery_in = battery_in;
            const PoweredView view = look_at(model, bench, solver);
            readings.push_back(
                meter_reading(id(), bench, view.meter.pattern, view.meter.volts, view.meter.amps));
            for (const char* net : {"vin", "chgin", "main", "aon3v3", "pd3v3", "5vport"}) {
                const auto n = static_cast<std::size_t>(net_index(plan.topology(), net));
                readings.push_back(volts_reading(id(), bench, net, double{view.net_volts[n]}));
            }
        }
    }
    return readings;
}

}  // namespace eh::test
