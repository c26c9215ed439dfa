// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/hour_plan.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/planning/typical_reading.h"

namespace eh {
namespace {

// A way that is not followed to its end yet.
struct Open {
    HourFork* fork = nullptr;
    double probability = 0.0;  // from here on
    double minutes = 0.0;      // when its next act begins
    std::vector<Reading> taken;
    BenchConfiguration now;
    Ranking ranking;
};

class HourPlanner {
  public:
    HourPlanner(PredictionTable& table, const BenchCosts& costs, const NextOptions& next_options,
                const HourOptions& options, const std::function<bool()>& stop,
                const std::function<void(double)>& progress)
        : table_(table),
          priors_(priors_of(table.hypotheses())),
          costs_(costs),
          next_options_(next_options),
          options_(options),
          stop_(stop),
          progress_(progress) {}

    std::optional<HourPlan> run(Open start) {
        HourFork root;
        start.fork = &root;
        HourPlan plan;
        if (!follow(start, &plan.dangers))
            return std::nullopt;
        while (!open_.empty()) {
            const auto likeliest =
                std::max_element(open_.begin(), open_.end(),
                                 [](const Open& a, const Open& b) { return a.probability < b.probability; });
            const Open next = std::move(*likeliest);
            open_.erase(likeliest);
            if (steps_ < options_.most_steps && !follow(next))
                return std::nullopt;
            if (progress_)
                progress_(static_cast<double>(steps_) / static_cast<double>(steps_ + open_.size()));
        }
        plan.first = std::move(root.then);
        plan.end = root.end;
        for (HourStep& step : plan.first)
            join_alike(step);
        return plan;
    }

  private:
    [[nodiscard]] bool stopped() const { return stop_ && stop_(); }

    // Adds what is next on a way, and the ways that go on from there. False when stopped.
    bool follow(const Open& way, std::vector<DangerFound>* dangers = nullptr) {
        if (!prepare_candidates(table_, way.ranking, way.taken, way.now, stop_))
            return false;
        NextStep next = next_acts(table_, way.ranking, way.taken, way.now, costs_, next_options_);
        if (dangers != nullptr)
            *dangers = next.dangers;
        ++steps_;
        HourFork& fork = *way.fork;
        if (next.acts.empty()) {
            fork.end = next.all_put_right ? HourEnd::all_put_right : HourEnd::nothing_left;
            return true;
        }
        fork.end = HourEnd::goes_on;
        fork.then.push_back({std::move(next.acts.front()), way.minutes, {}});
        return fork.then.front().act.repair || add_forks(fork.then.front(), way);
    }

    bool add_forks(HourStep& step, const Open& way) {
        double named = 0.0;
        std::vector<Open> ways;
        for (const Telling& telling : step.act.tells) {
            if (step.forks.size() == options_.most_forks)
                break;
            auto reading = typical_reading(table_, way.ranking, way.now, step.act, telling.outcome);
            if (!reading)
                continue;
            reading->id = "planned-" + integer_text(static_cast<long long>(way.taken.size()));
            Open on{nullptr,
                    way.probability * telling.probability,
                    step.begins_minutes + step.act.minutes,
                    way.taken,
                    standing_after(step.act),
                    {}};
            on.taken.push_back(std::move(*reading));
            on.ranking = rank(table_, priors_, on.taken, {}, stop_);
            if (stopped())
                return false;
            step.forks.push_back(fork_of(telling, on.ranking));
            named += telling.probability;
            ways.push_back(std::move(on));
        }
        constexpr double worth_a_line = 0.02;
        if (1.0 - named > worth_a_line)
            step.forks.push_back(anything_else(1.0 - named));
        for (std::size_t f = 0; f < ways.size(); ++f) {
            ways[f].fork = &step.forks[f];
            if (ways[f].minutes >= options_.minutes)
                step.forks[f].end = HourEnd::hour_over;
            else if (ways[f].probability >= options_.worth_following)
                open_.push_back(std::move(ways[f]));
        }
        return true;
    }

    static HourFork fork_of(const Telling& telling, const Ranking& then) {
        const PartSuspicion& leads = then.parts.front();
        HourFork fork;
        fork.shows = {telling.shows};
        fork.probability = telling.probability;
        fork.block = leads.block;
        fork.kind = leads.kind;
        fork.leading_probability = std::min(leads.probability, 1.0);
        return fork;
    }
    static HourFork anything_else(double probability) {
        HourFork fork;
        fork.probability = probability;
        fork.kind = HypothesisKind::none_of_these;
        return fork;
    }

    // What was lifted for a reading stays so until the next act says otherwise; what was lent, the supply,
    // the tester and the other instruments are put away.
    static BenchConfiguration standing_after(const NextAct& act) {
        BenchConfiguration standing = act.configuration;
        standing.injection.reset();
        standing.lent.clear();
        standing.tester = Tester::none;
        standing.second_instruments = false;
        return standing;
    }

    // Outcomes that lead to the same suspect and the same act are one fork.
    static void join_alike(HourStep& step) {
        std::vector<HourFork> joined;
        for (HourFork& fork : step.forks) {
            const auto same = std::find_if(joined.begin(), joined.end(),
                                           [&](const HourFork& other) { return lead_alike(other, fork); });
            if (same == joined.end()) {
                joined.push_back(std::move(fork));
                continue;
            }
            const double both = same->probability + fork.probability;
            same->leading_probability = (same->probability * same->leading_probability +
                                         fork.probability * fork.leading_probability) /
                                        both;
            same->probability = both;
            same->shows.push_back(std::move(fork.shows.front()));
        }
        step.forks = std::move(joined);
        for (HourFork& fork : step.forks) {
            for (HourStep& next : fork.then)
                join_alike(next);
        }
    }

    static bool lead_alike(const HourFork& a, const HourFork& b) {
        const auto act_of = [](const HourFork& fork) {
            const NextAct& act = fork.then.front().act;
            return std::tuple(act.repair, act.reading, act.place, act.configuration, act.fault, act.remedy);
        };
        return !a.shows.empty() && !b.shows.empty() && a.kind == b.kind && a.block == b.block &&
               a.end == HourEnd::goes_on && b.end == HourEnd::goes_on && act_of(a) == act_of(b);
    }

    PredictionTable& table_;
    std::vector<double> priors_;
    const BenchCosts& costs_;
    const NextOptions& next_options_;
    const HourOptions& options_;
    const std::function<bool()>& stop_;
    const std::function<void(double)>& progress_;
    std::vector<Open> open_;
    std::size_t steps_ = 0;
};

}  // namespace

std::optional<HourPlan> plan_hour(PredictionTable& table, const Ranking& ranking,
                                  const std::vector<Reading>& taken, const BenchConfiguration& now,
                                  const BenchCosts& costs, const NextOptions& next_options,
                                  const HourOptions& options, const std::function<bool()>& stop,
                                  const std::function<void(double)>& progress) {
    return HourPlanner(table, costs, next_options, options, stop, progress)
        .run({nullptr, 1.0, 0.0, taken, now, ranking});
}

}  // namespace eh
