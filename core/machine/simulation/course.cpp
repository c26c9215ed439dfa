// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/simulation/course.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <limits>
#include <map>
#include <optional>
#include <string>

#include "core/machine/simulation/course_rules.h"
#include "core/machine/simulation/point_search.h"

namespace eh {
namespace {

// Input capacitors carry a block that loses its supply for a moment, so that a collapse under load is seen.
constexpr double release_delay_s = 0.012;
constexpr double pre_plug_horizon_s = 20.0;
constexpr double chips_wake_volts = 1.6;  // from about here on (common practice: no chip starts below)
constexpr double pack_cut_off_s = 0.005;  // of a protection circuit at a short (common practice)
constexpr int most_starts = 60;           // more than any source retries before its cycle is known
constexpr int stopped_target = 2;         // of a block: off, and not to come back
// How far a fault may move an operating point that still counts as the sound machine's.
constexpr double nearby_share = 0.05;
constexpr double nearby_volts = 0.3;
constexpr int nearby_iterations = 10;

class Runner {
  public:
    Runner(MachineModel& model, DcSolver& solver, const CourseOptions& options)
        : model_(model), plan_(model.plan()), solver_(solver), options_(options), rules_(model, state_) {}

    Course run(const BenchConfiguration& configuration) {
        StandingMachine standing;
        if (configuration.charger_connected)
            standing = standing_before(configuration);
        begin(configuration);
        // With a battery that holds charge the machine stands before the plug goes in.
        if (!standing.volts.empty()) {
            for (std::size_t b = 0; b < standing.active.size(); ++b)
                apply_block(static_cast<int>(b), standing.active[b] != 0);
            apply_stage(standing.stage);
            state_.volts = std::move(standing.volts);
        }
        drive(options_.horizon_s);
        return finish();
    }

  private:
    // One possible change: where it leads and when it is due.
    struct Pending {
        int target = -1;
        double due_s = std::numeric_limits<double>::infinity();
    };

    // Without volts where no pack feeds it.
    StandingMachine standing_before(BenchConfiguration configuration) {
        StandingMachine* const known = options_.standing;
        if (known != nullptr && !known->volts.empty())
            return *known;
        configuration.charger_connected = false;
        begin(configuration);
        const bool pack_feeds = plan_.pack >= 0 && model_.param(plan_.pack, "volts") > 0.0;
        if (!pack_feeds)
            return {};
        drive(pre_plug_horizon_s);
        StandingMachine standing{state_.active, state_.stage, state_.volts};
        if (known != nullptr)
            *known = standing;
        return standing;
    }

    void begin(const BenchConfiguration& configuration) {
        model_.configure(configuration);
        // A gentle supply at one net wakes no chip.
        model_.set_live(configuration.charger_connected || configuration.battery_in ||
                        !configuration.injection || configuration.injection->volts > chips_wake_volts);
        circuit_is_faulty_ = model_.circuit_is_faulty();
        faulty_nodes_ = model_.faulty_nodes();
        course_ = {};
        now_s_ = 0.0;
        state_ = {};
        state_.active.assign(plan_.blocks.size(), 0);
        state_.stopped.assign(plan_.blocks.size(), 0);
        starts_.assign(plan_.blocks.size(), 0);
        pending_.assign(plan_.blocks.size() + 4, {});
        if (model_.plugged_port() >= 0)
            apply_source(SourceState::off, 0.0);
    }

    std::size_t source_slot() const { return plan_.blocks.size(); }
    std::size_t stage_slot() const { return plan_.blocks.size() + 1; }
    std::size_t charge_slot() const { return plan_.blocks.size() + 2; }
    std::size_t pack_slot() const { return plan_.blocks.size() + 3; }

    // --- applying changes --------------------------------------------------------------------------------

    void apply_block(int block, bool active) {
        state_.active[static_cast<std::size_t>(block)] = active ? 1 : 0;
        model_.set_active(block, active);
    }

    void apply_source(SourceState state, double volts) {
        state_.source = state;
        state_.source_volts = volts;
        model_.set_source(state == SourceState::live ? volts : 0.0, rules_.limit_amps_at(volts),
                          rules_.fold());
    }

    void apply_stage(MachineStage stage) {
        state_.stage = stage;
        if (plan_.mainboard < 0)
            return;
        const char* param = nullptr;
        switch (stage) {
            case MachineStage::off:
                break;
            case MachineStage::stuck:
                param = "stuck_watts";
                break;
            case MachineStage::standby:
                param = "standby_watts";
                break;
            case MachineStage::booting:
                param = "boot_watts";
                break;
            case MachineStage::running:
                param = "run_watts";
                break;
        }
        model_.set_param(plan_.mainboard, "load_watts",
                         param == nullptr ? 0.0 : model_.param(plan_.mainboard, param));
        const bool core_is_on = stage == MachineStage::booting || stage == MachineStage::running;
        model_.set_param(plan_.mainboard, "core_volts",
                         core_is_on ? model_.param(plan_.mainboard, "core_on_volts") : 0.0);
        apply_switched_rail();
    }

    // The switched 3.3 V comes with the start, or early; what a short stopped stays down.
    void apply_switched_rail() {
        const MachineStage stage = state_.stage;
        const bool starts = stage == MachineStage::booting || stage == MachineStage::running;
        const bool early = stage != MachineStage::off && model_.has(Habit::switched_rail_comes_early);
        const bool stopped = state_.stopped[static_cast<std::size_t>(plan_.mainboard)] != 0;
        model_.set_param(
            plan_.mainboard, "switched_volts",
            (starts || early) && !stopped ? model_.param(plan_.mainboard, "switched_on_volts") : 0.0);
    }

    void apply_charge(int step) {
        state_.charge_step = step;
        const bool charges = step > 0 && step != default_volts_step;
        model_.set_param(plan_.pack, "charging_watts", charges ? rules_.charge_watts_at(step) : 0.0);
        for (const int charger : plan_.chargers) {
            if (plan_.blocks[static_cast<std::size_t>(charger)].param_slots.contains("taken_watts"))
                model_.set_param(charger, "taken_watts",
                                 step == default_volts_step ? rules_.watts_at_default(charger) : 0.0);
        }
    }

    // --- the clock ---------------------------------------------------------------------------------------

    void wish(std::size_t slot, int current, int target, double delay_s) {
        Pending& pending = pending_[slot];
        if (target == current) {
            pending = {};
        } else if (pending.target != target) {
            pending = {target, now_s_ + delay_s};
        }
    }

    static int tenths(double volts) { return static_cast<int>(std::lround(volts * 10.0)); }

    static int source_code(SourceState state, double volts) {
        return static_cast<int>(state) * 10000 + tenths(volts);
    }

    void collect_wishes() {
        for (std::size_t b = 0; b < plan_.blocks.size(); ++b) {
            const PlanBlock& block = plan_.blocks[b];
            if (block.kind->needs.empty())
                continue;
            // What a leak feeds starts and falls again for ever: it never gets up.
            const bool shorted = rules_.output_is_shorted(static_cast<int>(b)) || starts_[b] > most_starts;
            const bool wanted = !shorted && rules_.wants_active(static_cast<int>(b));
            wish(b, state_.active[b],
                 shorted  ? stopped_target
                 : wanted ? 1
                          : 0,
                 wanted ? block.kind->delay_s : release_delay_s);
        }
        if (model_.plugged_port() >= 0) {
            const SourceWish source = rules_.wanted_source();
            wish(source_slot(), source_code(state_.source, state_.source_volts),
                 source_code(source.state, source.volts), source.delay_s);
        }
        const StageWish stage = rules_.wanted_stage();
        wish(stage_slot(), static_cast<int>(state_.stage), static_cast<int>(stage.stage), stage.delay_s);
        if (plan_.pack >= 0) {
            const ChargeWish charge = rules_.wanted_charge();
            wish(pack_slot(), state_.pack_cut_off ? 1 : 0, rules_.pack_cuts_off() ? 1 : 0, pack_cut_off_s);
            wish(charge_slot(), state_.charge_step, charge.step,
                 charge.step > state_.charge_step ? charge.delay_s : 0.0);
        }
    }

    void apply(std::size_t slot, int target) {
        if (slot == source_slot())
            apply_source(static_cast<SourceState>(target / 10000), (target % 10000) / 10.0);
        else if (slot == stage_slot())
            apply_stage(static_cast<MachineStage>(target));
        else if (slot == charge_slot())
            apply_charge(target);
        else if (slot == pack_slot()) {
            state_.pack_cut_off = true;
            model_.set_param(plan_.pack, "volts", 0.0);
        } else {
            if (target == stopped_target)
                state_.stopped[slot] = 1;
            starts_[slot] += target == 1 ? 1 : 0;
            apply_block(static_cast<int>(slot), target == 1);
            if (static_cast<int>(slot) == plan_.mainboard)
                apply_switched_rail();
        }
    }

    // What holds now and what is still to come, which counts with its time: a quick flutter is no cycle while
    // something slower is due.
    std::vector<int> standing_and_due() const {
        std::vector<int> all(state_.active.begin(), state_.active.end());
        all.push_back(state_.pack_cut_off ? 1 : 0);
        all.insert(all.end(), state_.stopped.begin(), state_.stopped.end());
        all.reserve(all.size() + 2 * pending_.size() + 4);
        for (const int held : {static_cast<int>(state_.source), tenths(state_.source_volts),
                               static_cast<int>(state_.stage), state_.charge_step})
            all.push_back(held);
        for (const Pending& pending : pending_) {
            all.push_back(pending.target);
            if (pending.target >= 0)
                all.push_back(static_cast<int>(std::lround((pending.due_s - now_s_) * 1000.0)));
        }
        return all;
    }

    // What the circuit depends on, in words for OperatingPoints.
    std::string circuit_states() const {
        std::string key(state_.active.begin(), state_.active.end());
        key += model_.plugged_port() >= 0 ? 'p' : 'n';
        key += static_cast<char>(state_.source);
        key += static_cast<char>(std::lround(state_.source_volts * 4.0));
        key += static_cast<char>(state_.stage);
        key += static_cast<char>(state_.charge_step);
        key += state_.pack_cut_off ? 'c' : 'f';
        return key;
    }

    // Takes an operating point that another machine is known to have nearly there.
    bool solve_nearby(const OperatingPoints* known, const std::string& states) {
        const auto* guess = known == nullptr ? nullptr : known->find(states);
        if (guess == nullptr)
            return false;
        // Faults that change only states and words leave the circuit of these states as it was.
        if (known == options_.sound && !circuit_is_faulty_) {
            state_.volts = *guess;
            point_is_solved_ = false;
            return true;
        }
        SolveOptions quick = PointSearch::options();
        quick.max_newton_iterations = nearby_iterations;
        quick.max_transient_steps = 0;
        Solution solution = solver_.solve(model_.circuit(), quick, guess);
        if (!solution.ok())
            return false;
        for (std::size_t n = 0; n < guess->size(); ++n) {
            // What the fault itself moves may be anywhere, as long as the rest stays.
            if (faulty_nodes_[n] == 0 && std::abs(solution.node_volts[n] - (*guess)[n]) >
                                             nearby_volts + nearby_share * std::abs((*guess)[n]))
                return false;
        }
        state_.volts = std::move(solution.node_volts);
        point_is_solved_ = true;
        return true;
    }

    bool solve() {
        const bool good = find_point();
        if (model_.plugged_port() >= 0 && state_.source == SourceState::live) {
            constexpr double strained_volts_share = 0.95;
            constexpr double strained_amps_share = 0.9;
            const auto& source = model_.circuit().get<LimitedSource>(model_.source_element());
            const double amps = element_amps(model_.circuit().element(model_.source_element()), state_.volts);
            if (!good || amps > strained_amps_share * source.limit_amps ||
                state_.volts_at(model_.source_node().index) < strained_volts_share * state_.source_volts)
                course_.source_strained = true;
        }
        return good;
    }

    bool find_point() {
        const bool by_states = options_.sound != nullptr || options_.learned != nullptr;
        const std::string states = by_states ? circuit_states() : std::string();
        if (!circuit_is_faulty_ && solve_nearby(options_.sound, states))
            return true;
        // Where the machine itself stood before is nearer than where a sound one stands.
        if (solve_nearby(options_.learned, states) || solve_nearby(options_.sound, states))
            return true;
        const std::optional<double> live_volts =
            model_.plugged_port() >= 0 && state_.source == SourceState::live
                ? std::optional(state_.source_volts)
                : std::nullopt;
        Solution solution = PointSearch(model_, solver_).find(state_.volts, live_volts);
        const bool good = solution.ok();
        point_is_solved_ = true;
        if (good || solution.status == SolveStatus::no_convergence)
            state_.volts = std::move(solution.node_volts);
        if (!good)
            course_.solver_failed = true;
        else if (options_.learned != nullptr)
            options_.learned->add(states, state_.volts);
        return good;
    }

    void record(double until_s) {
        Phase phase;
        phase.start_s = now_s_;
        phase.duration_s = until_s - now_s_;
        phase.source = state_.source;
        if (model_.plugged_port() >= 0) {
            phase.contract_volts = state_.source == SourceState::live ? state_.source_volts : 0.0;
            phase.meter_volts = state_.volts_at(model_.meter_node().index);
            phase.meter_amps = element_amps(model_.circuit().element(model_.source_element()), state_.volts);
        }
        if (model_.supply_node().index > 0) {
            phase.meter_volts = state_.volts_at(model_.supply_node().index);
            phase.meter_amps = element_amps(model_.circuit().element(model_.supply_element()), state_.volts);
        }
        phase.talk = rules_.talk_now();
        phase.node_volts = state_.volts;
        phase.block_watts = model_.block_watts(state_.volts);
        phase.first_shunt_watts = model_.first_shunt_watts(state_.volts);
        course_.phases.push_back(std::move(phase));
    }

    void drive(double horizon_s) {
        std::map<std::vector<int>, std::size_t> seen;  // phase by what held and was due
        for (int event = 0; event < options_.max_events; ++event) {
            if (!solve())
                return;
            collect_wishes();
            double next_s = std::numeric_limits<double>::infinity();
            for (const Pending& pending : pending_)
                next_s = std::min(next_s, pending.due_s);
            if (!std::isfinite(next_s)) {
                record(next_s);
                course_.settled = true;
                return;
            }
            if (next_s > now_s_) {
                const auto [known, fresh] = seen.emplace(standing_and_due(), course_.phases.size());
                if (!fresh) {
                    course_.cycling = true;
                    course_.cycle_from = known->second;
                    course_.period_s = now_s_ - course_.phases[known->second].start_s;
                    return;
                }
                if (next_s > horizon_s) {
                    record(std::numeric_limits<double>::infinity());
                    return;
                }
                record(next_s);
                now_s_ = next_s;
            }
            for (std::size_t slot = 0; slot < pending_.size(); ++slot) {
                if (pending_[slot].due_s <= now_s_) {
                    const int target = pending_[slot].target;
                    pending_[slot] = {};
                    apply(slot, target);
                }
            }
        }
    }

    Course finish() {
        if (course_.phases.empty())
            record(std::numeric_limits<double>::infinity());
        course_.talk = talk_of(course_);
        // Whoever asks the solver about the machine as it stands now (how stiffly a net is held) finds it
        // there.
        if (!point_is_solved_)
            (void)solver_.solve(model_.circuit(), {}, &state_.volts);
        course_.stage = state_.stage;
        course_.machine_restarts =
            course_.cycling && plan_.mainboard >= 0 && starts_[static_cast<std::size_t>(plan_.mainboard)] > 1;
        course_.machine_started =
            state_.stage == MachineStage::booting || state_.stage == MachineStage::running;
        course_.charging = state_.charge_step > 0 && state_.charge_step != default_volts_step;
        course_.charge_refused = plan_.pack >= 0 && !rules_.charge_checks_met();
        course_.active_blocks = state_.active;
        return std::move(course_);
    }

    MachineModel& model_;
    const MachinePlan& plan_;
    DcSolver& solver_;
    CourseOptions options_;
    Course course_;
    CourseState state_;
    CourseRules rules_;
    double now_s_ = 0.0;
    bool circuit_is_faulty_ = false;
    bool point_is_solved_ = true;
    std::vector<char> faulty_nodes_;
    std::vector<Pending> pending_;
    std::vector<int> starts_;  // by block: how often it became active
};

}  // namespace

Course run_course(MachineModel& model, const BenchConfiguration& configuration, DcSolver& solver,
                  const CourseOptions& options) {
    return Runner(model, solver, options).run(configuration);
}

}  // namespace eh
