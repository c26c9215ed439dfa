// SPDX-License-Identifier: GPL-3.0-or-later
// How a machine is built, where nobody has looked: kinds of machine that look the same from outside, weighed
// by the readings.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/inference/reasoner.h"
#include "core/machine/model/knowledge.h"

namespace eh {

// The kinds with as many inlets of each look as this one, itself among them, in the order of the knowledge.
// One that is known by its name (Topology::share 0) is alike to itself alone.
std::vector<const Topology*> alike_from_outside(const Knowledge& knowledge, const Topology& topology);

struct ArchitectureShare {
    std::string topology;
    double met = 0.0;  // before any reading
    double now = 0.0;
};

// One kind that may be, with what reasons about it.
struct ArchitectureCandidate {
    const Topology* topology = nullptr;
    const Reasoner* reasoner = nullptr;
};

// Bayes over the candidates, each with all its faults and designs: `met` times how likely it makes the
// readings. Only readings that all candidates have a place for count, so that all are judged by the same.
// Shares sum to 1. Nothing when stopped. Requires candidates; where none has a share, all are alike.
std::optional<std::vector<ArchitectureShare>> weigh_architectures(
    const std::vector<ArchitectureCandidate>& candidates, const Beforehand& beforehand,
    const std::vector<Reading>& readings, const std::function<bool()>& stop = {},
    const std::function<void(double)>& progress = {});

// The kind that is likelier than one that was fixed, where the readings speak against that: it has less than
// a twentieth and the other more than half. nullptr where they do not, or where the fixed one was not
// weighed. It is for the technician to say; nothing is overruled.
const ArchitectureShare* contradicting(const std::vector<ArchitectureShare>& shares,
                                       const std::string& fixed);

}  // namespace eh
