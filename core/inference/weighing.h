// SPDX-License-Identifier: GPL-3.0-or-later
// Weighs readings one by one, in their order: internal to the ranking.
#pragma once

#include <array>
#include <functional>
#include <vector>

#include "core/inference/ranking.h"
#include "core/inference/reading_fit.h"
#include "core/inference/unknown_effect.h"

namespace eh {

// Log of prior times likelihood so far. The differences are what each reading adds to what is known already,
// and they add up. One object is for one ranking.
class Weighing {
  public:
    // Keeps the references; computes missing columns of the table.
    Weighing(PredictionTable& table, const std::vector<double>& priors, const std::vector<Reading>& readings,
             const AccuracyOptions& accuracy, const std::function<bool()>& stop);

    // Everything of a ranking but its sums by part; empty once `stop` said true.
    Ranking run();

  private:
    struct Shares {
        double seen = 0.0;        // density of the reading
        double by_oddness = 0.0;  // of that, what means nothing
        double by_machine = 0.0;  // of that again, what the machine brings about, so that it comes again
    };

    void take_in(const std::vector<Reading>& readings);
    void make_room();
    std::vector<double> weigh(std::size_t h);
    double weigh_reading(std::size_t r, std::size_t h, std::vector<double>& weights);
    Shares shares(std::size_t r, std::size_t h, std::size_t s, const SampleTerms& sample);
    Shares shares_again(std::size_t r, std::size_t h, std::size_t s, const SampleTerms& sample);
    void leave_out_unsolved(std::size_t h, std::vector<double>& weights) const;
    void weigh_none_of_these();
    void add_suspicions(Ranking& ranking) const;
    void add_odd_readings(Ranking& ranking) const;
    [[nodiscard]] bool is_none(std::size_t h) const;
    bool stopped();

    PredictionTable& table_;
    const std::vector<double>& priors_;
    const AccuracyOptions& accuracy_;
    const std::function<bool()>& stop_;
    bool stopped_ = false;
    std::size_t count_;    // of hypotheses
    std::size_t samples_;  // the most that one has
    std::vector<const Reading*> used_;
    std::vector<int> before_;       // by reading: the one before that showed the same, -1 if there is none
    std::vector<ReadingFit> fits_;  // by reading that counts
    // By reading: density of its number coming again as it was, which is the same on every machine.
    std::vector<double> comes_again_;
    std::vector<std::array<int, 3>> channels_;  // of the quirk book, likewise
    QuirkBook quirks_;
    // By share of readings in which an unknown effect shows, reading, known hypothesis: log of the joint of a
    // machine like that hypothesis with such an effect.
    std::array<std::vector<std::vector<double>>, std::tuple_size_v<decltype(AccuracyOptions::unknown_shows)>>
        strange_;
    std::vector<std::vector<double>> joint_;  // [readings so far][hypothesis]
    // Share of a reading's density that comes from "it means nothing": [reading][hypothesis].
    std::vector<std::vector<double>> odd_share_;
    std::vector<double> machine_brings_;  // by reading: share of odd ones that the machine brings about

    // Of the hypothesis at hand, by reading and sample: share that is odd, and of that what the machine
    // brings about; by sample: density where it is not odd.
    std::vector<double> odd_;
    std::vector<double> own_;
    std::vector<double> meant_;
    std::vector<UnknownEffect> strange_machines_;  // by share of readings in which an unknown effect shows
};

}  // namespace eh
