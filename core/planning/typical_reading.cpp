// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/typical_reading.h"

#include <algorithm>
#include <cmath>
#include <utility>
#include <vector>

#include "core/inference/likelihood.h"
#include "core/machine/model/fault_reach.h"
#include "core/machine/model/net_index.h"
#include "core/planning/act_list.h"
#include "core/planning/off_numbers.h"
#include "core/planning/removal.h"
#include "core/prediction/expectation.h"

namespace eh {
namespace {

constexpr double negligible_probability = 1e-4;  // of a hypothesis

template <typename Edges>
int bin_of(const Edges& edges, double value) {
    return static_cast<int>(std::upper_bound(edges.begin(), edges.end(), value) - edges.begin());
}

// Numbers with how likely each is.
class WeighedNumbers {
  public:
    void add(double number, double weight) {
        if (weight > 0.0 && std::isfinite(number))
            numbers_.emplace_back(number, weight);
    }
    // Half of the weight is on either side; nothing where there is none.
    [[nodiscard]] std::optional<double> middle() {
        std::sort(numbers_.begin(), numbers_.end());
        double total = 0.0;
        for (const auto& [number, weight] : numbers_)
            total += weight;
        double below = 0.0;
        for (const auto& [number, weight] : numbers_) {
            below += weight;
            if (2.0 * below >= total)
                return number;
        }
        return std::nullopt;
    }

  private:
    std::vector<std::pair<double, double>> numbers_;
};

class Typical {
  public:
    Typical(const PredictionTable& table, const Ranking& ranking, const BenchConfiguration& now,
            const NextAct& act, int outcome)
        : table_(table), plan_(table.plan()), ranking_(ranking), now_(now), act_(act), outcome_(outcome) {}

    std::optional<ReadingValue> operator()(const MeterReading&) const {
        using Meter = Traits<MeterReading>;
        WeighedNumbers volts;
        WeighedNumbers amps;
        std::optional<MeterSummary> shown;
        over_views([&](const PoweredView& view, double weight) {
            const MeterSummary& meter = view.meter;
            const bool unlit = meter.pattern == MeterPattern::dark || meter.pattern == MeterPattern::flash;
            const int outcome = unlit ? static_cast<int>(meter.pattern)
                                      : Meter::lit_outcome(bin_of(Meter::volt_edges, meter.volts),
                                                           bin_of(Meter::amp_edges, meter.amps),
                                                           meter.pattern == MeterPattern::cycling);
            if (outcome != outcome_)
                return;
            shown = shown ? shown : meter;
            volts.add(meter.volts, weight);
            amps.add(meter.amps, weight);
        });
        if (!shown)
            return std::nullopt;
        shown->volts = volts.middle().value_or(shown->volts);
        shown->amps = amps.middle().value_or(shown->amps);
        return MeterReading{*shown};
    }
    std::optional<ReadingValue> operator()(const NetVoltsReading& blank) const {
        const auto net = static_cast<std::size_t>(net_index(plan_.topology(), blank.net));
        WeighedNumbers volts;
        over_views([&](const PoweredView& view, double weight) {
            if (bin_of(Traits<NetVoltsReading>::edges, view.net_volts[net]) == outcome_)
                volts.add(view.net_volts[net], weight);
        });
        const auto middle = volts.middle();
        return middle ? std::optional<ReadingValue>(NetVoltsReading{blank.net, *middle, std::nullopt})
                      : std::nullopt;
    }
    std::optional<ReadingValue> operator()(NetOhmsReading value) const {
        return with_number(std::move(value), Traits<NetOhmsReading>::edges, true);
    }
    std::optional<ReadingValue> operator()(ThroughReading value) const {
        return with_number(std::move(value), Traits<NetOhmsReading>::edges, true);
    }
    std::optional<ReadingValue> operator()(BetweenReading value) const {
        return with_number(std::move(value), Traits<NetOhmsReading>::edges, true);
    }
    std::optional<ReadingValue> operator()(PackReading value) const {
        return with_number(value, Traits<PackReading>::edge_volts(plan_), false);
    }
    std::optional<ReadingValue> operator()(const HotPartReading&) const {
        const auto hottest = typical_hottest();
        return hottest ? std::optional<ReadingValue>(*hottest) : std::nullopt;
    }
    std::optional<ReadingValue> operator()(InjectionReading value) const {
        const auto hottest = typical_hottest();
        if (!hottest)
            return std::nullopt;
        value.hottest = *hottest;
        WeighedNumbers volts;
        WeighedNumbers amps;
        over_views([&](const PoweredView& view, double weight) {
            volts.add(view.meter.volts, weight);
            amps.add(view.meter.amps, weight);
        });
        value.supply.volts = volts.middle().value_or(0.0);
        value.supply.amps = amps.middle().value_or(0.0);
        return value;
    }
    std::optional<ReadingValue> operator()(FirmwareReading value) const {
        value.message = static_cast<FirmwareMessage>(outcome_);
        return value;
    }
    std::optional<ReadingValue> operator()(const TalkReading&) const {
        return TalkReading{static_cast<NegotiationEnd>(outcome_)};
    }
    std::optional<ReadingValue> operator()(const SignReading&) const {
        return SignReading{static_cast<MachineSign>(outcome_)};
    }
    std::optional<ReadingValue> operator()(const WiggleReading&) const {
        return WiggleReading{outcome_ == 1};
    }
    std::optional<ReadingValue> operator()(LookReading value) const {
        value.seen = static_cast<Look>(outcome_);
        return value;
    }
    std::optional<ReadingValue> operator()(BoardLookReading value) const {
        if (outcome_ > 0) {
            const std::string& part = plan_.blocks[static_cast<std::size_t>(outcome_ - 1)].id;
            value.found = {{part, likeliest_flaw(part), Flaw::none}};
        }
        return value;
    }
    // Diode mode is not proposed.
    std::optional<ReadingValue> operator()(const DiodeReading&) const { return std::nullopt; }

  private:
    // Calls take(hypothesis, probability) for those of weight that show anything.
    template <typename Take>
    void over_hypotheses(Take take) const {
        for (const Suspicion& suspicion : ranking_.suspicions) {
            const HypothesisKind kind = table_.hypotheses()[suspicion.hypothesis].kind;
            if (suspicion.probability > negligible_probability && kind != HypothesisKind::none_of_these)
                take(suspicion.hypothesis, suspicion.probability);
        }
    }

    template <typename Take>
    void over_views(Take take) const {
        const auto column = table_.known_powered(act_.configuration);
        if (column == nullptr)
            return;
        over_hypotheses([&](std::size_t h, double probability) {
            const Views& views = (*column)[h];
            const auto& weights = ranking_.sample_weights[h];
            for (std::size_t s = 0; s < std::min(views.size(), weights.size()); ++s) {
                if (views[s].valid)
                    take(views[s], probability * weights[s]);
            }
        });
    }

    // Where a part is lifted for the reading, the others show what they showed on the whole board, and it
    // shows nothing of its own.
    template <typename Take>
    void over_numbers(Take take) const {
        std::vector<std::string> lifted;
        std::set_difference(act_.configuration.removed.begin(), act_.configuration.removed.end(),
                            now_.removed.begin(), now_.removed.end(), std::back_inserter(lifted));
        Reading asked = reading_of(act_);
        if (!lifted.empty())
            asked.configuration = measured_off(now_);
        const auto column = known_number_column(table_, asked);
        if (column == nullptr)
            return;
        over_hypotheses([&](std::size_t h, double probability) {
            std::size_t shown = h;
            for (const std::string& part : lifted)
                shown = left_without(table_, shown, part);
            const Numbers& numbers = (*column)[shown];
            const auto& weights = ranking_.sample_weights[h];
            for (std::size_t s = 0; s < std::min(numbers.size(), weights.size()); ++s) {
                if (!std::isnan(numbers[s]))
                    take(numbers[s], probability * weights[s]);
            }
        });
    }

    template <typename Value, typename Edges>
    std::optional<ReadingValue> with_number(Value value, const Edges& edges, bool last_is_open) const {
        auto& number = Traits<Value>::number(value);
        number.reset();
        if (last_is_open && outcome_ == static_cast<int>(edges.size()))
            return value;
        WeighedNumbers numbers;
        over_numbers([&](double shown, double weight) {
            if (bin_of(edges, shown) == outcome_)
                numbers.add(shown, weight);
        });
        number = numbers.middle();
        return number ? std::optional<ReadingValue>(std::move(value)) : std::nullopt;
    }

    [[nodiscard]] std::optional<HotPartReading> typical_hottest() const {
        if (outcome_ == 0)
            return HotPartReading{};
        const auto block = static_cast<std::size_t>(outcome_ - 1);
        WeighedNumbers rises;
        over_views([&](const PoweredView& view, double weight) {
            if (hottest_part(view).block == block)
                rises.add(double{view.rise_kelvin[block]}, weight);
        });
        const auto middle = rises.middle();
        return middle ? std::optional(HotPartReading{plan_.blocks[block].id, *middle}) : std::nullopt;
    }

    // What is seen of the part, where anything is.
    [[nodiscard]] Look likeliest_flaw(const std::string& part) const {
        LookShares seen{};
        over_hypotheses([&](std::size_t h, double probability) {
            const LookShares shares =
                look_shares(plan_, table_.hypotheses()[h].faults, part, act_.configuration);
            for (std::size_t l = 0; l < shares.size(); ++l)
                seen[l] += probability * shares[l];
        });
        return static_cast<Look>(std::max_element(seen.begin() + 1, seen.end()) - seen.begin());
    }

    const PredictionTable& table_;
    const MachinePlan& plan_;
    const Ranking& ranking_;
    const BenchConfiguration& now_;
    const NextAct& act_;
    int outcome_;
};

}  // namespace

std::optional<Reading> typical_reading(const PredictionTable& table, const Ranking& ranking,
                                       const BenchConfiguration& now, const NextAct& act, int outcome) {
    Reading reading = reading_of(act);
    auto value = std::visit(Typical(table, ranking, now, act, outcome), reading.value);
    if (!value)
        return std::nullopt;
    reading.value = std::move(*value);
    return reading;
}

}  // namespace eh
