// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/simulation/tester_course.h"

#include <cmath>
#include <limits>

#include "core/machine/simulation/course_rules.h"

namespace eh {
namespace {

constexpr double full_load_share = 0.9;
constexpr double first_volts = 5.0;
constexpr double plug_in_s = 0.15;  // until the first volts stand
constexpr double contract_s = 0.4;
constexpr double watched_s = 5.0;             // before the load is switched on
constexpr double overload_volts_share = 0.8;  // below this share of the set volts the source is overloaded
// A wire of more ohms carries neither the charger's pull-up nor the talk
// (core/machine/simulation/course_rules).
constexpr double most_signal_ohms = 900.0;
constexpr double forever = std::numeric_limits<double>::infinity();

class AtTester {
  public:
    AtTester(MachineModel& model, DcSolver& solver) : model_(model), solver_(solver), rules_(model, state_) {
        state_.active.assign(model.plan().blocks.size(), 0);
        state_.stopped.assign(model.plan().blocks.size(), 0);
        course_.active_blocks = state_.active;
        course_.settled = true;
    }

    Course run(bool loaded) {
        const bool talks = rules_.charger_block().kind->role == BlockRole::source_pd;
        const bool wire = model_.signal_wire_ohms() < most_signal_ohms;
        const double highest = rules_.highest_offer(talks ? model_.plan().topology().wanted_volts : forever);
        const double volts = !talks                  ? highest
                             : !wire                 ? 0.0
                             : rules_.source_talks() ? highest
                                                     : std::min(highest, first_volts);
        if (volts <= 0.0) {
            stand(SourceState::off, 0.0, forever, false);
            return std::move(course_);
        }
        start(volts);
        if (loaded) {
            stand(SourceState::live, volts, watched_s, false);
            course_.cycle_from = course_.phases.size();
        }
        stand(SourceState::live, volts, forever, loaded);
        if (loaded && lets_go())
            let_go(volts);
        return std::move(course_);
    }

  private:
    void stand(SourceState source, double volts, double lasts_s, bool loaded) {
        state_.source = source;
        state_.source_volts = volts;
        const double limit_amps = rules_.limit_amps_at(volts);
        model_.set_source(volts, limit_amps, rules_.fold());
        model_.load_plug(loaded ? volts / (full_load_share * rules_.promised_amps(volts)) : forever);
        const Solution solution = solver_.solve(model_.circuit());
        course_.solver_failed = course_.solver_failed || !solution.ok();
        state_.volts = solution.node_volts;
        Phase phase;
        phase.start_s = now_s_;
        phase.duration_s = lasts_s;
        phase.source = source;
        phase.contract_volts = volts;
        phase.meter_volts = state_.volts_at(model_.meter_node().index);
        phase.meter_amps =
            state_.volts.empty()
                ? 0.0
                : element_amps(model_.circuit().element(model_.source_element()), state_.volts);
        phase.node_volts = state_.volts;
        phase.block_watts = model_.block_watts(state_.volts);
        course_.phases.push_back(std::move(phase));
        now_s_ += lasts_s;
    }

    [[nodiscard]] bool lets_go() const {
        const bool holds_on = model_.source_protection().protection == Protection::foldback;
        const bool collapsed =
            state_.volts_at(model_.source_node().index) < overload_volts_share * state_.source_volts;
        return rules_.trips_early() || (collapsed && !holds_on);
    }

    // Up to its volts, with nothing drawn.
    void start(double volts) {
        stand(SourceState::off, 0.0, plug_in_s, false);
        if (volts > first_volts && rules_.charger_block().kind->role == BlockRole::source_pd)
            stand(SourceState::live, first_volts, contract_s, false);
    }

    // For good, or to try again with the load still there.
    void let_go(double volts) {
        const MachineModel::SourceProtection protection = model_.source_protection();
        Phase& load = course_.phases.back();
        load.duration_s = protection.trip_s;
        now_s_ = load.start_s + load.duration_s;
        if (protection.protection == Protection::latched) {
            stand(SourceState::latched, 0.0, forever, false);
            return;
        }
        const double began_s = course_.phases[course_.cycle_from].start_s;
        stand(SourceState::recovering, 0.0, protection.recover_s, false);
        start(volts);
        course_.cycling = true;
        course_.period_s = now_s_ - began_s;
    }

    MachineModel& model_;
    DcSolver& solver_;
    CourseState state_;
    CourseRules rules_;
    Course course_;
    double now_s_ = 0.0;
};

}  // namespace

Course run_at_tester(MachineModel& model, const BenchConfiguration& configuration, DcSolver& solver) {
    model.configure(configuration);
    model.set_live(true);
    Course course = AtTester(model, solver).run(configuration.tester == Tester::loaded);
    model.load_plug(forever);
    return course;
}

}  // namespace eh
