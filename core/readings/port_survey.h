// SPDX-License-Identifier: GPL-3.0-or-later
// The port table: every port, both plug sides, battery in and out, and whether they are alike.
//
// Amps of two places are compared by a moderated t test: their scatter is pooled from readings that were
// taken again the same way, and held near what is usual (common practice: plugging again moves the amps by
// some percent) as long as there are few of those; after Smyth, "Linear models and empirical Bayes methods",
// Stat. Appl. Genet. Mol. Biol. 3 (2004) (from memory).
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/readings/reading.h"

namespace eh {

// One row of the table: all readings that were taken the same way.
struct PortRow {
    std::string port;
    PlugSide side = PlugSide::a;
    bool battery_in = true;
    Owner charger = Owner::bench;
    int readings = 0;
    MeterPattern pattern = MeterPattern::dark;  // of the last
    double volts = 0.0;                         // means
    double amps = 0.0;
    bool amps_known = false;
    double amps_sigma = 0.0;  // of the mean
};

enum class Likeness {
    alike,
    different,
    cannot_tell,  // the noise would hide a difference that matters
};

struct PortComparison {
    std::size_t first = 0;  // rows
    std::size_t second = 0;
    Likeness likeness = Likeness::cannot_tell;
    double amps = 0.0;        // second minus first
    double noise_amps = 0.0;  // a difference below this may be noise (99 %)
    std::string why;          // "0.130 A against 0.450 A: more than the noise (0.021 A)"
};

enum class PortsVerdict {
    too_few,  // fewer than two ports measured
    alike,    // all of them
    one_stands_out,
    different,  // more than one way
    cannot_tell,
};

struct PortSurvey {
    std::vector<PortRow> rows;                 // by port, side, battery, charger
    std::vector<PortComparison> of_ports;      // same side, battery and charger
    std::vector<PortComparison> of_sides;      // same port
    std::vector<PortComparison> of_batteries;  // same port and side, battery in against out
    PortsVerdict verdict = PortsVerdict::too_few;
    std::string odd_port;              // of one_stands_out
    std::string says;                  // the verdict, for people
    std::vector<std::string> missing;  // what has not been measured: "Port 2, side B"
};

// Surveys the readings of the meter that are not set aside. Rows of parts removed or replaced since are
// another machine: only readings with the same parts as the last meter reading count.
PortSurvey survey_ports(const std::vector<Reading>& readings, const Topology& topology);

}  // namespace eh
