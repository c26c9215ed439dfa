// SPDX-License-Identifier: GPL-3.0-or-later
// Everything the program knows about rework and parts, read from data/rework.
#pragma once

#include <filesystem>
#include <vector>

#include "core/base/result.h"
#include "core/parts/capacitor_choice.h"
#include "core/parts/footprint.h"
#include "core/parts/receptacle_pins.h"
#include "core/rework/alloy.h"
#include "core/rework/heat_setup.h"
#include "core/rework/step_list.h"
#include "core/shop/advice.h"

namespace eh {

struct ReworkBook {
    AlloyBook alloys;
    std::vector<HeatPart> heat_parts;
    RepairBook repairs;
    std::vector<Footprint> footprints;
    std::vector<BiasBand> bias_bands;
    ReceptaclePinMap receptacle;
    std::vector<AdviceRule> advice;  // of the handover

    // nullptr where there is none with this id.
    [[nodiscard]] const HeatPart* find_heat_part(const std::string& id) const;
    [[nodiscard]] const Footprint* find_footprint(const std::string& id) const;
};

// Reads alloys.json, heat_parts.json, repairs.json, footprints.json, bias_bands.json and receptacle_pins.json
// of the rework folder of a data directory, and its advice.json. Fails with the first file that cannot be
// used, and when a repair names a heat part that is not there.
Result<ReworkBook> load_rework(const std::filesystem::path& data_directory);

}  // namespace eh
