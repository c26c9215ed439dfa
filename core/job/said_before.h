// SPDX-License-Identifier: GPL-3.0-or-later
// What the program held when the work began, so that it can be judged by what cured.
#pragma once

#include <cstdint>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <vector>

#include "core/machine/model/work.h"

namespace eh {

class JsonReader;

// Work on a part, and how probable the program held it that this is what cures.
struct SaidRepair {
    std::string block;
    Work work = Work::none;
    double probability = 0.0;
    friend bool operator==(const SaidRepair&, const SaidRepair&) = default;
};

struct SaidBefore {
    std::int64_t said_ms = 0;         // 0: nothing was said
    std::vector<SaidRepair> repairs;  // most probable first
    friend bool operator==(const SaidBefore&, const SaidBefore&) = default;
};

// As the job file holds it; read_said() gives back an equal one.
nlohmann::json write_said(const SaidBefore& said);
// Refuses (JsonRefused) probabilities outside 0 to 1.
SaidBefore read_said(const JsonReader& field);

}  // namespace eh
