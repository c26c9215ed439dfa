// SPDX-License-Identifier: GPL-3.0-or-later
// Core values as the JSON that eager-hound-cli prints (docs/formats.md).
#pragma once

#include <nlohmann/json.hpp>

#include "core/planning/hour_plan.h"

namespace eh::cli {

nlohmann::json to_json(const Ranking& ranking, const PredictionTable& table,
                       const std::vector<Reading>& readings);
// Each explanation by itself, the likeliest first, not summed by part.
nlohmann::json explanations_to_json(const Ranking& ranking, const PredictionTable& table,
                                    const std::vector<Reading>& readings);
nlohmann::json to_json(const NextAct& act, const MachinePlan& plan);
nlohmann::json to_json(const HourPlan& hour, const MachinePlan& plan);
nlohmann::json to_json(const CustomerQuestion& question);
nlohmann::json to_json(const Survey& survey);
nlohmann::json to_json(const MeterSummary& meter);
nlohmann::json to_json(const BenchConfiguration& configuration);

}  // namespace eh::cli
