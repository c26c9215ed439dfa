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
#include "core/inference/design_depth.h"
#include "core/inference/design_knowledge.h"
#include "core/inference/design_search.h"
#include "core/inference/ranking.h"
#include "core/inference/severity_search.h"
#include "core/machine/model/design_lesson.h"

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

    // What the readings tell of the machine's design. `proved` is the part that was at fault, "" while nobody
    // knows. About as slow as weighing a new job; empty when stopped.
    std::vector<HabitKnown> design_known(const Beforehand& beforehand, const std::vector<Reading>& readings,
                                         const std::string& proved = {},
                                         const std::function<bool()>& stop = {}) const;

    // What the next machine of this kind may learn from this one, of which the part at fault is proved. What
    // was learnt of the kind before plays no part in it, so that no lesson counts twice.
    std::optional<DesignLesson> lesson(Beforehand beforehand, const std::vector<Reading>& readings,
                                       const std::string& proved,
                                       const std::function<bool()>& stop = {}) const;

  private:
    // How closely each hypothesis is looked at; empty: as all are at first.
    struct Closeness {
        SeverityRanges severities;
        std::vector<Depth> depths;
        friend bool operator==(const Closeness&, const Closeness&) = default;
    };
    // What the hypotheses without combinations hang on: parts replaced, and how closely each is looked at.
    struct BaseKey {
        std::vector<std::string> replaced;
        Closeness closeness;
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
                                     const Closeness& closeness, const std::function<bool()>& stop) const;
    // With the severities that fit the readings looked at more closely, what counts in many designs, and all
    // of it simulated.
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
    // How well the designs that are met fit the readings.
    struct Fit {
        std::shared_ptr<const Outlook> outlook;
        Question wide;
        Ranking ranking;
        std::vector<double> evidence;  // log_evidence_of_designs()
        DesignSample best;
        // For the hypotheses that name another part than the leading one.
        std::optional<DesignSample> best_for_rivals;
    };
    std::optional<Fit> fit_of_designs(const Beforehand& beforehand, const std::vector<Reading>& readings,
                                      const std::function<bool()>& stop) const;
    // Which shares the designs near this one that fit the readings have, by a few hypotheses.
    std::optional<DesignShares> shares_around(const DesignSample& design, const DesignShares& met,
                                              const std::vector<Hypothesis>& likely,
                                              const std::vector<Reading>& readings,
                                              const std::function<bool()>& stop) const;
    // Shares and designs as they are met, knowing what is known of earlier machines of the kind.
    [[nodiscard]] DesignShares met_shares(const Beforehand& beforehand) const;
    std::shared_ptr<const Outlook> met_outlook(const Beforehand& beforehand) const;
    std::shared_ptr<const Outlook> outlook_over(const DesignShares& met,
                                                const std::vector<DesignShares>& drawn) const;
    // As the wide outlook is predicted, but of these designs, all of which every hypothesis is drawn in.
    [[nodiscard]] PredictionOptions options_over(std::vector<DesignSample> designs) const;
    std::optional<Suspects> weigh_over(const Outlook& outlook, const Beforehand& beforehand,
                                       const std::vector<Reading>& readings,
                                       const std::function<bool()>& stop,
                                       const std::function<void(double)>& progress) const;

    std::shared_ptr<PredictionStore> store_;
    AccuracyOptions accuracy_;
    std::shared_ptr<const Outlook> wide_;  // designs as they are met
    mutable std::mutex mutex_;
    mutable std::vector<std::pair<Search, std::shared_ptr<const Outlook>>> searches_;  // last made first
    // By the shares met and those drawn; last used first.
    mutable std::vector<
        std::pair<std::pair<DesignShares, std::vector<DesignShares>>, std::shared_ptr<const Outlook>>>
        narrower_;
};

}  // namespace eh
