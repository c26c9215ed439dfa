// SPDX-License-Identifier: GPL-3.0-or-later
// What a prediction store holds as bytes, and back: the content of a cache, not an exchange format.
#pragma once

#include <string>
#include <string_view>

#include "core/base/result.h"
#include "core/prediction/prediction_store.h"

namespace eh {

class PredictionArchive {
  public:
    // All that was simulated of machines with at most two faults whose parts are all in their places: what
    // every job on the same topology needs again.
    static std::string write(const PredictionStore& store);

    // Adds to a store what write() made of one over the same plan with the same options; what the store has
    // already stays. Refuses bytes that are cut off or name faults, parts or nets that the plan does not
    // have; the store then is as it was.
    static Outcome read(std::string_view bytes, PredictionStore& store);
};

}  // namespace eh
