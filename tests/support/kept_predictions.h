// SPDX-License-Identifier: GPL-3.0-or-later
// Simulated machines that one test process leaves on disk for the next: each case of a test program runs as a
// process of its own, and most of them ask about the same few machines.
//
// Only what the same build of the same program simulated is taken, so that no case sees what another version
// of the model predicted.
#pragma once

#include <filesystem>

#include "core/prediction/prediction_store.h"

namespace eh::test {

// The folder of this test program.
std::filesystem::path kept_predictions();

// Adds what earlier processes left to a store.
void take_predictions(PredictionStore& store);

// Leaves what a store holds, together with what others left meanwhile; nothing is written where that is not
// more than the disk has.
void leave_predictions(PredictionStore& store);

}  // namespace eh::test
