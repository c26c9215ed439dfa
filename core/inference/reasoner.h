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
#include "core/inference/design_search.h"
#include "core/inference/ranking.h"
#include "core/inference/severity_search.h"

namespace eh {

struct Suspects {
    std::shared_ptr<PredictionTable> table;  // the hypotheses that were weighed
    Ranking ranking;
};

// Its answers hang on what is asked alone, never on what was asked before.
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
    // What the hypotheses without combinations hang on: parts replaced, and how closely the severity of each
    // is looked at.
    struct BaseKey {
        std::vector<std::string> replaced;
        SeverityRanges severities;  // empty: evenly
        friend bool operator==(const BaseKey&, const BaseKey&) = default;
    };
    // Those hypotheses, weighed by the complaint: the same for all jobs with the same key.
    struct Base {
        std::shared_ptr<PredictionTable> table;
        std::vector<double> prior_factors;
    };
    // Predictions over some designs, and what was worked out over them.
    struct Outlook {
        std::shared_ptr<PredictionStore> store;
        mutable std::mutex mutex;
        mutable std::vector<std::pair<BaseKey, Base>> bases;  // last used first
    };
    // Hypotheses with their priors on this job, over an outlook.
    struct Question {
        std::shared_ptr<PredictionTable> table;
        std::vector<Hypothesis> hypotheses;
    };
    // What a search for designs was made with.
    struct Search {
        Beforehand beforehand;
        std::vector<Reading> readings;
        friend bool operator==(const Search&, const Search&) = default;
    };
    // Each of these: nothing when stopped.
    std::optional<Base> base(const Outlook& outlook, BaseKey key, const std::function<bool()>& stop) const;
    std::optional<Question> question(const Outlook& outlook, const Beforehand& beforehand,
                                     const SeverityRanges& severities,
                                     const std::function<bool()>& stop) const;
    // With the severities that fit the readings looked at more closely, and all of it simulated.
    std::optional<Question> close_question(const Outlook& outlook, const Beforehand& beforehand,
                                           const std::vector<Reading>& readings,
                                           const std::function<bool()>& stop,
                                           const std::function<void(double)>& progress) const;
    // The same as outlook_for() with the readings up to the last search, made anew only where it must be.
    std::shared_ptr<const Outlook> known_outlook(const Beforehand& beforehand,
                                                 const std::vector<Reading>& readings,
                                                 const std::function<bool()>& stop) const;
    // Designs that the readings do not speak against, where those of `wide_` are nearly all spoken against.
    std::shared_ptr<const Outlook> outlook_for(const Beforehand& beforehand,
                                               const std::vector<Reading>& readings,
                                               const std::function<bool()>& stop) const;
    std::optional<DesignShares> shares_around(const DesignSample& design, const Question& wide,
                                              const Ranking& ranking, const std::vector<Reading>& readings,
                                              const std::function<bool()>& stop) const;
    std::shared_ptr<const Outlook> outlook_over(const DesignShares& shares) const;
    std::optional<Suspects> weigh_over(const Outlook& outlook, const Beforehand& beforehand,
                                       const std::vector<Reading>& readings,
                                       const std::function<bool()>& stop,
                                       const std::function<void(double)>& progress) const;

    std::shared_ptr<PredictionStore> store_;
    AccuracyOptions accuracy_;
    std::shared_ptr<const Outlook> wide_;  // designs as they are met
    mutable std::mutex mutex_;
    mutable std::vector<std::pair<Search, std::shared_ptr<const Outlook>>> searches_;  // last made first
    mutable std::vector<std::pair<DesignShares, std::shared_ptr<const Outlook>>>
        narrower_;  // last used first
};

}  // namespace eh
