// SPDX-License-Identifier: GPL-3.0-or-later
// What it says that a machine was brought in at all: somebody saw it not charge, charge slowly or drop out.
//
// Faults that nobody would notice at any plug are found in few such machines; among the ways in which a fault
// may show, those count that do show. Without this a diode that is open where nothing needs it looks as
// likely as nothing wrong.
#pragma once

#include <functional>
#include <optional>
#include <vector>

#include "core/prediction/prediction_table.h"

namespace eh {

// With what the customer brought, in that port: how the machine is charged at home.
BenchConfiguration as_brought_in(const Topology& topology, const std::string& port);
// All of these, both ways up.
std::vector<BenchConfiguration> ways_to_plug_in(const Topology& topology);

// Whether somebody would notice that a machine is not a sound one with the same parts, at this plug.
bool is_noticed(const PoweredView& view, const PoweredView& sound);

struct Complaint {
    // By hypothesis of a table, then by sample: how much it counts, summing to 1.
    std::vector<std::vector<double>> sample_weights;
    std::vector<double> prior_factors;  // by hypothesis
};

// Simulates what is missing. Nothing when stopped.
std::optional<Complaint> weigh_complaint(PredictionTable& table, const std::function<bool()>& stop = {});

}  // namespace eh
