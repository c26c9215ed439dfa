// SPDX-License-Identifier: GPL-3.0-or-later
// The charge path as it should stand and as it most likely stands: what the bench page draws along its lanes.
#pragma once

#include <string>
#include <vector>

#include "core/inference/ranking.h"

namespace eh {

struct NetView {
    std::string net;
    double sound_volts = 0.0;   // median over the samples of a sound machine
    double likely_volts = 0.0;  // median under the leading suspicion
};

struct PathView {
    BenchConfiguration configuration;
    std::vector<NetView> nets;  // in the order of the topology
    MeterSummary sound_meter;   // median volts and amps at the plug of a sound machine
    MeterSummary likely_meter;
    std::vector<double>
        sound_ohms;  // by net: median ohms to ground of a sound machine, infinity is OL; may be empty
};

// From known columns only; empty nets when the column of this configuration is not there yet.
PathView path_view(const PredictionTable& table, const Ranking& ranking,
                   const BenchConfiguration& configuration);

// What a hypothesis makes one expect of a reading, for people: "5.0 V, 0.12 A, steady". Empty when its column
// is not known.
std::string expectation_text(const PredictionTable& table, std::size_t hypothesis, const Reading& reading);

}  // namespace eh
