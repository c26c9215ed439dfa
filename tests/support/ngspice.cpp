// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/ngspice.h"

#include <unistd.h>

#include <catch2/catch.hpp>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <sstream>

#include "core/electrics/dc_solver.h"

namespace eh::test {

std::map<std::string, double> ngspice_operating_point(const std::string& netlist) {
    static int serial = 0;
    const auto path = std::filesystem::temp_directory_path() /
                      ("eager-hound-" + std::to_string(getpid()) + "-" + std::to_string(++serial) + ".cir");
    std::ofstream(path) << netlist;
    std::map<std::string, double> volts;
    std::string output;
    if (FILE* pipe = popen(("ngspice -b " + path.string() + " 2>&1").c_str(), "r")) {
        char line[512];
        while (std::fgets(line, sizeof line, pipe) != nullptr) {
            output += line;
            char name[128];
            double value = 0.0;
            if (std::sscanf(line, " %127s = %lf", name, &value) == 2)
                volts[name] = value;
        }
        pclose(pipe);
    }
    std::filesystem::remove(path);
    INFO(output);
    REQUIRE_FALSE(volts.empty());
    return volts;
}

void require_agreement(const Circuit& circuit, const std::string& title, double relative,
                       double absolute_volts, double hint_share) {
    DcSolver solver;
    const Solution solution = solver.solve(circuit);
    INFO(title << ": " << solution.problem());
    REQUIRE(solution.ok());
    // ngspice starts its iterations near the answer (it has no fall-back for folding sources), five percent
    // off; the point it ends at is its own, since .nodeset is released before the last iterations.
    std::string hints;
    for (int n = 1; n < circuit.node_count(); ++n)
        hints += ".nodeset V(n" + std::to_string(n) +
                 ")=" + std::to_string(hint_share * solution.volts({n})) + "\n";
    std::string netlist = to_spice(circuit, title);
    netlist.insert(netlist.find(".control"), hints);
    const auto reference = ngspice_operating_point(netlist);
    for (int n = 1; n < circuit.node_count(); ++n) {
        const double here = solution.volts({n});
        CAPTURE(title, circuit.node_name({n}), here);
        const auto there = reference.find("n" + std::to_string(n));
        REQUIRE(there != reference.end());
        CHECK(std::abs(here - there->second) <= relative * std::abs(there->second) + absolute_volts);
    }
}

}  // namespace eh::test
