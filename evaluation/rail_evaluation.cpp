// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluation/rail_evaluation.h"

#include <cmath>

#include "core/base/random.h"
#include "core/board/net_expectation.h"

namespace eh {
namespace {

constexpr double board_to_board_ln = 0.2;
constexpr double twin_to_twin_ln = 0.1;
constexpr double model_off_ln = 0.7;
constexpr double meter_share = 0.005;
constexpr double meter_digit_ohms = 0.01;
constexpr double nulled_within_ohms = 0.03;
constexpr std::size_t model_samples = 24;

class Bench {
  public:
    explicit Bench(std::uint64_t seed) : random_(seed) {}

    double rail_ohms() { return 0.15 * std::pow(8.0 / 0.15, random_.uniform()); }
    double spread(double ohms, double ln) { return ohms * std::exp(ln * random_.normal()); }
    double between(double least, double most) { return least + (most - least) * random_.uniform(); }
    int below(int count) { return random_.below(count); }

    // As a meter shows it with leads that were nulled more or less.
    NetValue read(double ohms) {
        const double leads = between(0.1, 0.3);
        const double shown =
            ohms * (1.0 + meter_share * random_.normal()) + leads + nulled_within_ohms * random_.normal();
        NetValue value;
        value.lead_ohms = leads;
        value.value = std::max(0.0, std::round(shown / meter_digit_ohms) * meter_digit_ohms);
        return value;
    }

    // Some of what may be known of a rail whose kind has so many ohms, and this board's own.
    std::vector<NetEvidence> evidence(double kind_ohms, double own_ohms) {
        std::vector<NetEvidence> known;
        const int which = 1 + below(7);  // at least one of the three
        if ((which & 1) != 0)
            known.push_back(
                twin_evidence(NetQuantity::ohms, read(spread(own_ohms, twin_to_twin_ln)), "twin"));
        if ((which & 2) != 0) {
            std::vector<NetValue> boards;
            for (int b = 1 + below(5); b > 0; --b)
                boards.push_back(read(spread(kind_ohms, board_to_board_ln)));
            if (const auto own = own_evidence(NetQuantity::ohms, boards))
                known.push_back(*own);
        }
        if ((which & 4) != 0) {
            const double middle = spread(kind_ohms, model_off_ln);
            std::vector<double> samples(model_samples);
            for (double& sample : samples)
                sample = spread(middle, board_to_board_ln);
            if (const auto model = model_evidence(NetQuantity::ohms, samples))
                known.push_back(*model);
        }
        return known;
    }

  private:
    Random random_;
};

}  // namespace

RailScore evaluate_rails(int tries, std::uint64_t seed) {
    RailScore score;
    Bench bench(seed);
    for (int i = 0; i < tries; ++i) {
        const double kind_ohms = bench.rail_ohms();
        const double own_ohms = bench.spread(kind_ohms, board_to_board_ln);
        const auto known = bench.evidence(kind_ohms, own_ohms);
        const auto sound = judge_net(NetQuantity::ohms, bench.read(own_ohms), known).verdict;
        ++score.sound;
        score.sound_called_short += sound == NetVerdict::short_ ? 1 : 0;
        score.sound_called_low += sound == NetVerdict::low ? 1 : 0;
        score.sound_not_known += sound == NetVerdict::not_enough_known ? 1 : 0;
        const double short_ohms = own_ohms * std::pow(10.0, bench.between(-2.0, -1.0));
        const double beside = own_ohms * short_ohms / (own_ohms + short_ohms);
        const auto shorted = judge_net(NetQuantity::ohms, bench.read(beside), known).verdict;
        ++score.shorted;
        score.shorted_called_short += shorted == NetVerdict::short_ ? 1 : 0;
        score.shorted_called_low += shorted == NetVerdict::low ? 1 : 0;
        score.shorted_called_normal += shorted == NetVerdict::normal ? 1 : 0;
    }
    return score;
}

}  // namespace eh
