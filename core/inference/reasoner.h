// SPDX-License-Identifier: GPL-3.0-or-later
// From what is known of a job to its suspects: hypotheses, combinations of faults where they count, ranking.
#pragma once

#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <vector>

#include "core/inference/combinations.h"
#include "core/inference/complaint.h"
#include "core/inference/ranking.h"

namespace eh {

struct Suspects {
    std::shared_ptr<PredictionTable> table;  // the hypotheses that were weighed
    Ranking ranking;
};

class Reasoner {
  public:
    explicit Reasoner(std::shared_ptr<PredictionStore> store, AccuracyOptions accuracy = {});

    [[nodiscard]] const std::shared_ptr<PredictionStore>& store() const { return store_; }
    [[nodiscard]] const AccuracyOptions& accuracy() const { return accuracy_; }

    // Weighs all hypotheses against the readings; simulates what is missing. `stop` is asked now and then;
    // when it says true, nothing is returned. `progress` receives 0..1. Safe to use from several threads.
    std::optional<Suspects> weigh(const Beforehand& beforehand, const std::vector<Reading>& readings,
                                  const std::function<bool()>& stop = {},
                                  const std::function<void(double)>& progress = {}) const;

  private:
    // Hypotheses without combinations, weighed by the complaint: the same for all jobs with the same parts
    // replaced.
    struct Base {
        std::shared_ptr<PredictionTable> table;
        std::vector<double> prior_factors;
    };
    // Nothing when stopped.
    std::optional<Base> base(const Beforehand& beforehand, const std::function<bool()>& stop) const;

    std::shared_ptr<PredictionStore> store_;
    AccuracyOptions accuracy_;
    mutable std::mutex mutex_;
    mutable std::map<std::vector<std::string>, Base> bases_;  // by replaced
};

}  // namespace eh
