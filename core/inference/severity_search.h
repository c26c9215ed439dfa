// SPDX-License-Identifier: GPL-3.0-or-later
// Where the severity of a fault must lie if it is the one: an ohmmeter tells a short of 3 ohms from one of 2,
// but of samples over three decades of ohms hardly one lies near it.
#pragma once

#include <functional>
#include <optional>
#include <vector>

#include "core/inference/ranking.h"

namespace eh {

// By hypothesis of the table: the range of severities that most of what fits the readings lies in; nothing
// where the fault has no severity, where it is out of the question, or where severities all over fit.
using SeverityRanges = std::vector<std::optional<SeverityRange>>;

// `ranking` is of this table and these readings, with these priors. The ohmmeter is asked first: it tells a
// severity by itself, while under power much else has its say. Ranges lie on a grid, so that one more reading
// rarely moves them. Empty when stopped. Requires a table whose hypotheses have no ranges yet.
SeverityRanges severity_ranges(PredictionTable& table, const std::vector<double>& priors,
                               const std::vector<Reading>& readings, const Ranking& ranking,
                               const AccuracyOptions& accuracy = {}, const std::function<bool()>& stop = {});

// The narrowest range of the grid that holds nearly all of the fit; nothing where none does. `fit` is by
// sample, not negative; samples have the severities of a store without ranges.
std::optional<SeverityRange> narrowest_range(const std::vector<double>& fit);

}  // namespace eh
