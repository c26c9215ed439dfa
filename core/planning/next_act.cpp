// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/next_act.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/planning/act_list.h"
#include "core/planning/act_proposer.h"
#include "core/planning/repair_act.h"
#include "core/planning/source_swap.h"
#include "core/planning/trial.h"
#include "core/planning/tried_work.h"

namespace eh {
namespace {

// Which of what could be done comes first.
class Chooser {
  public:
    Chooser(const PredictionTable& table, const Ranking& ranking, const std::vector<Reading>& taken,
            const BenchConfiguration& now, const BenchCosts& costs, const NextOptions& options)
        : table_(table),
          plan_(table.plan()),
          ranking_(ranking),
          taken_(taken),
          now_(now),
          costs_(costs),
          options_(options),
          dangers_(dangers_found(plan_, taken, now)),
          proposer_(table, ranking, taken, now, costs, options, dangers_) {}

    NextStep run() {
        step_.dangers = dangers_;
        step_.all_put_right = work_has_put_all_right(parties(), now_, costs_);
        step_.repair_now_minutes = repair_now_minutes(parties().probability, parties(), costs_);
        Proposals proposals = proposer_.propose_all();
        step_.acts = std::move(proposals.acts);
        std::stable_sort(step_.acts.begin(), step_.acts.end(),
                         [](const NextAct& a, const NextAct& b) { return a.liking > b.liking; });
        const auto swap = untried_swap();
        step_.acts = one_of_a_kind(std::move(step_.acts));
        add_repair(!swap.has_value());
        if (swap && !step_.repair_due)
            put_first(step_.acts, *swap);
        for (const auto& first : {proposals.trial, proposals.again, proposals.lift}) {
            if (!first)
                continue;
            if (step_.repair_due)
                step_.acts.erase(step_.acts.begin());
            step_.repair_due = false;
            put_first(step_.acts, *first);
        }
        put_cheap_work_first();
        look_at_what_let_go();
        cut_power_before_opening();
        look_before_power();
        std::vector<BenchConfiguration> ways =
            ways_unread(plan_, now_, proposer_.taken_readings(), dangers_, costs_);
        if (step_.all_put_right)
            only_show_it(ways);
        offer_survey(std::move(ways));
        offer_parking();
        if (!step_.repair_due && !step_.all_put_right)
            step_.question = best_question(parties(), table_, options_.facts_asked, costs_);
        step_.acts = most_varied(std::move(step_.acts), options_.most);
        return std::move(step_);
    }

  private:
    [[nodiscard]] const Parties& parties() const { return proposer_.parties(); }

    // It works: what is left is to show it at every port and plug side. Nothing is opened for more.
    void only_show_it(const std::vector<BenchConfiguration>& ways) {
        step_.acts.clear();
        for (const BenchConfiguration& at : ways) {
            if (const auto act = proposer_.meter_at(at)) {
                step_.acts.push_back(*act);
                step_.acts.back().to_show = true;
            }
        }
    }

    // The survey as one act, where it is due and there is more than one reading left of it: to show that it
    // works, or because some of it tells anything.
    void offer_survey(std::vector<BenchConfiguration> ways) {
        const bool tells = std::any_of(step_.acts.begin(), step_.acts.end(), [&](const NextAct& act) {
            return act.reading == ReadingKind::meter && !act.repair &&
                   std::find(ways.begin(), ways.end(), act.configuration) != ways.end();
        });
        if (ways.size() < 2 || !tells || now_.case_open || step_.repair_due || proposer_.power_strains())
            return;
        const double minutes = survey_minutes(ways, now_, plan_, costs_);
        step_.survey = Survey{std::move(ways), minutes};
    }

    // A new part may have to come first.
    void offer_parking() {
        if (!step_.repair_due || options_.part_ordered || step_.acts.front().remedy != Work::replace)
            return;
        step_.parking = Parking{step_.acts.front().fault.block, costs_.order_minutes};
    }

    // Work of minutes that may well be the repair comes before what tells more.
    void put_cheap_work_first() {
        const auto cheap = step_.repair_due
                               ? std::nullopt
                               : due_cheap_work(table_, ranking_, now_, parties().list.front().block);
        const auto act = std::find_if(step_.acts.begin(), step_.acts.end(), [&](const NextAct& one) {
            return cheap && one.work_first == std::vector{*cheap};
        });
        if (act != step_.acts.end())
            std::rotate(step_.acts.begin(), act, act + 1);
    }

    // An inlet that let go of the shop's own plug is looked into before anything is asked elsewhere.
    void look_at_what_let_go() {
        const std::string& suspect = parties().list.front().block;
        const auto look = std::find_if(step_.acts.begin(), step_.acts.end(), [&](const NextAct& act) {
            return !act.repair && act.reading == ReadingKind::look && act.place == suspect;
        });
        if (step_.repair_due || look == step_.acts.end() ||
            !proposer_.taken_readings().show_letting_go(suspect, plan_))
            return;
        std::rotate(step_.acts.begin(), look, look + 1);
    }

    // Common practice: all power is cut for minutes before a case is opened for longer.
    void cut_power_before_opening() {
        constexpr double worth_cutting = 0.05;  // that something hangs (estimate)
        if (step_.repair_due || now_.case_open || step_.acts.empty() ||
            !step_.acts.front().configuration.case_open ||
            hang_probability(table_, ranking_, now_) < worth_cutting)
            return;
        const auto cut = std::find_if(step_.acts.begin(), step_.acts.end(), [](const NextAct& act) {
            return act.cut_power_first && act.work_first.empty() && !act.configuration.case_open;
        });
        if (cut == step_.acts.end())
            return;
        cut->before_opening = true;
        std::rotate(step_.acts.begin(), cut, cut + 1);
    }

    // Where the intake says that it got wet: not after power was on, for it has stood that.
    void look_before_power() {
        const auto& asked = plan_.knowledge().catalogue.facts;
        const bool wet = std::any_of(asked.begin(), asked.end(), [&](const IntakeFact& fact) {
            const auto& so = options_.facts;
            return fact.look_first && std::find(so.begin(), so.end(), fact.id) != so.end();
        });
        const bool was_fed = std::any_of(taken_.begin(), taken_.end(), [](const Reading& reading) {
            return !reading.set_aside && !is_by_eye(reading.kind()) && feeds_machine(reading.configuration);
        });
        const auto look = std::find_if(step_.acts.begin(), step_.acts.end(), [](const NextAct& act) {
            return !act.repair && act.reading == ReadingKind::board_look;
        });
        if (!wet || was_fed || step_.repair_due || look == step_.acts.end())
            return;
        look->before_power = true;
        std::rotate(step_.acts.begin(), look, look + 1);
    }

    [[nodiscard]] std::optional<NextAct> untried_swap() const {
        const auto swapped = due_source_swap(parties().list.front(), taken_, now_, plan_, costs_);
        return swapped ? proposer_.meter_at(*swapped) : std::nullopt;
    }

    void add_repair(bool swap_tried) {
        const TakenReadings& known = proposer_.taken_readings();
        const auto seen_broken = [&](const std::string& block) {
            return known.show_broken(block) || known.show_letting_go(block, plan_);
        };
        const Party& top = up_for_repair(parties(), seen_broken);
        if (top.kind != HypothesisKind::fault || !std::isfinite(top.repair_minutes))
            return;
        const bool broken = seen_broken(top.block);
        const auto because = why_due(top, plan_, now_, broken, !taken_.empty(), step_.acts, costs_);
        if (!swap_tried || !because)
            return;
        const Party& first = broken ? top : first_to_repair(parties());
        step_.repair_due = true;
        step_.acts.insert(step_.acts.begin(), repair_act(first, ranking_, table_, now_, options_));
        const bool let_go = *because == DueBecause::seen_broken && !known.show_broken(first.block);
        step_.acts.front().because = let_go ? DueBecause::let_go : *because;
    }

    const PredictionTable& table_;
    const MachinePlan& plan_;
    const Ranking& ranking_;
    const std::vector<Reading>& taken_;
    const BenchConfiguration& now_;
    const BenchCosts& costs_;
    const NextOptions& options_;
    std::vector<DangerFound> dangers_;
    ActProposer proposer_;
    NextStep step_;
};

}  // namespace

NextStep next_acts(const PredictionTable& table, const Ranking& ranking, const std::vector<Reading>& taken,
                   const BenchConfiguration& now, const BenchCosts& costs, const NextOptions& options) {
    return Chooser(table, ranking, taken, now, costs, options).run();
}

}  // namespace eh
