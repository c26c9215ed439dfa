#include "core/machine/course.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <limits>
#include <map>
#include <string>

namespace eh {
namespace {

// Timing and limits of the negotiation. USB PD: a sink waits 310-620 ms for capabilities, a source recovers
// for 0.66-1.0 s after a hard reset (kernel header pd.h); the attach window is the CC debounce of 100-200 ms
// (USB Type-C, from memory).
constexpr double attach_delay_s = 0.15;
constexpr double adapter_start_s = 0.05;
constexpr double contract_delay_s = 0.4;
constexpr double detach_delay_s = 0.02;
constexpr double hard_reset_delay_s = 0.05;
// Input capacitors carry a block that loses its supply for a moment, so that a collapse under load is seen.
constexpr double release_delay_s = 0.012;
// Sources deliver somewhat more than they promise before they protect themselves.
constexpr double overload_margin = 1.1;
constexpr double overload_volts_share = 0.8;  // below this share of the set volts the source is overloaded
constexpr double fold_back_share = 0.25;      // of the limit, into a dead short
// A source of 3 A (Rp 10 k to 5 V) sees Rd between these volts (USB Type-C, from memory: vRd 0.85-2.45 V).
constexpr double rd_seen_above_volts = 0.85;
constexpr double rd_seen_below_volts = 2.45;
constexpr double default_volts = 5.0;
constexpr double above_default_volts = 5.5;
// The machine starts by itself or the technician presses power.
constexpr double to_boot_s = 1.2;
constexpr double to_run_s = 6.0;
constexpr double first_charge_delay_s = 1.5;
constexpr double charge_step_s = 0.8;
constexpr int charge_steps = 4;
constexpr double charger_share_usable = 0.88;  // of the contract's watts, after losses
constexpr double least_adapter_volts = 8.5;
constexpr double pre_plug_horizon_s = 20.0;
// How far a fault may move an operating point that still counts as the sound machine's.
constexpr double nearby_share = 0.05;
constexpr double nearby_volts = 0.3;
constexpr int nearby_iterations = 10;

enum class Stage { off, stuck, standby, booting, running };

class Runner {
  public:
    Runner(MachineModel& model, DcSolver& solver, const CourseOptions& options)
        : model_(model), plan_(model.plan()), solver_(solver), options_(options) {}

    Course run(const BenchConfiguration& configuration) {
        BenchConfiguration before = configuration;
        before.charger_connected = false;
        const bool pack_feeds = begin(before) && plan_.pack >= 0 && model_.param(plan_.pack, "volts") > 0.0;
        if (!configuration.charger_connected) {
            drive(options_.horizon_s);
            return finish();
        }
        if (!pack_feeds) {
            begin(configuration);
            drive(options_.horizon_s);
            return finish();
        }
        // With a battery that holds charge the machine stands before the plug goes in.
        drive(pre_plug_horizon_s);
        const std::vector<char> stood = active_;
        const Stage stage = stage_;
        const std::vector<double> volts = volts_;
        begin(configuration);
        for (std::size_t b = 0; b < stood.size(); ++b)
            apply_block(static_cast<int>(b), stood[b] != 0);
        apply_stage(stage);
        volts_ = volts;
        drive(options_.horizon_s);
        return finish();
    }

  private:
    // One possible change: where it leads and when it is due.
    struct Pending {
        int target = -1;
        double due_s = std::numeric_limits<double>::infinity();
    };

    bool begin(const BenchConfiguration& configuration) {
        model_.configure(configuration);
        model_.set_live(true);
        circuit_is_faulty_ = model_.circuit_is_faulty();
        faulty_nodes_ = model_.faulty_nodes();
        course_ = {};
        now_s_ = 0.0;
        active_.assign(plan_.blocks.size(), 0);
        source_ = SourceState::off;
        source_volts_ = 0.0;
        stage_ = Stage::off;
        charge_step_ = 0;
        volts_.clear();
        pending_.assign(plan_.blocks.size() + 3, {});
        if (model_.plugged_port() >= 0)
            apply_source(SourceState::off, 0.0);
        return true;
    }

    std::size_t source_slot() const { return plan_.blocks.size(); }
    std::size_t stage_slot() const { return plan_.blocks.size() + 1; }
    std::size_t charge_slot() const { return plan_.blocks.size() + 2; }

    // --- what each part wants to become -----------------------------------------------------------------

    bool need_met(const PlanNeed& need, int port) const {
        if (need.plugged_port >= 0 && need.plugged_port != model_.plugged_port())
            return true;
        double volts = 0.0;
        bool has_volts = false;
        if (need.node >= 0) {
            volts = volts_at(need.node);
            has_volts = true;
        }
        if (need.contract) {
            if (port < 0 || port != model_.plugged_port() || source_ != SourceState::live)
                return false;
            volts = source_volts_;
            has_volts = true;
        }
        if (has_volts && (volts < model_.resolve(need.above) || volts > model_.resolve(need.below)))
            return false;
        return std::all_of(need.blocks.begin(), need.blocks.end(),
                           [this](int b) { return active_[static_cast<std::size_t>(b)] != 0; });
    }

    bool needs_met(int block) const {
        const PlanBlock& b = plan_.blocks[static_cast<std::size_t>(block)];
        return std::all_of(b.needs.begin(), b.needs.end(),
                           [&](const PlanNeed& need) { return need_met(need, b.port); });
    }

    bool wants_active(int block) const {
        const auto& condition = model_.condition(block);
        return condition.present && !condition.dead && needs_met(block);
    }

    const ChargerSpec& charger() const { return plan_.charger_spec(model_.plugged_port()); }
    const PlanBlock& charger_block() const {
        const Port& port = plan_.topology().ports[static_cast<std::size_t>(model_.plugged_port())];
        return plan_.blocks[static_cast<std::size_t>(plan_.charger_block(port.family))];
    }
    int charger_index() const { return plan_.find_block(charger_block().id); }

    bool peers_alive(int controller) const {
        const PlanBlock& block = plan_.blocks[static_cast<std::size_t>(controller)];
        return active_[static_cast<std::size_t>(controller)] != 0 &&
               std::all_of(block.peers.begin(), block.peers.end(),
                           [this](int p) { return active_[static_cast<std::size_t>(p)] != 0; });
    }

    // Of these amps, what the charger gives through this lead: more than 3 A only where it is marked for
    // them.
    double carried(double amps) const {
        const Port& port = plan_.topology().ports[static_cast<std::size_t>(model_.plugged_port())];
        return std::min(amps, model_.condition(plan_.lead_block(port.family)).carries_up_to_amps);
    }

    // The highest volts that charger offers and machine asks for.
    double agreed_volts(int controller) const {
        const double ceiling =
            std::min({plan_.topology().wanted_volts, model_.condition(controller).contract_limit_volts,
                      model_.condition(charger_index()).offers_up_to_volts});
        double best = default_volts;
        for (const ChargerOffer& offer : charger().offers) {
            if (offer.volts <= ceiling + 1e-9)
                best = std::max(best, offer.volts);
        }
        return best;
    }

    struct SourceWish {
        SourceState state;
        double volts;
        double delay_s;
    };

    SourceWish wanted_source() const {
        const ChargerSpec& spec = charger();
        const MachineModel::SourceProtection protection = model_.source_protection();
        const bool pd = charger_block().kind->role == BlockRole::source_pd;
        const SourceWish stay{source_, source_volts_, 0.0};
        const double offered = model_.condition(charger_index()).offers_up_to_volts;
        const double cc = volts_at(model_.source_signal_node().index);
        const bool rd_seen = !pd || (cc > rd_seen_above_volts && cc < rd_seen_below_volts);
        switch (source_) {
            case SourceState::off: {
                const double first = pd ? default_volts : spec.offers.back().volts;
                if (!rd_seen || offered <= 0.0)
                    return stay;
                return {SourceState::live, first, pd ? attach_delay_s : adapter_start_s};
            }
            case SourceState::recovering:
                return {SourceState::off, 0.0, protection.recover_s};
            case SourceState::latched:
                return stay;
            case SourceState::live:
                break;
        }
        if (volts_at(model_.source_node().index) < overload_volts_share * source_volts_) {
            if (protection.protection == Protection::hiccup)
                return {SourceState::recovering, 0.0, protection.trip_s};
            if (protection.protection == Protection::latched)
                return {SourceState::latched, 0.0, protection.trip_s};
        }
        if (!rd_seen)
            return {SourceState::off, 0.0, detach_delay_s};
        if (!pd)
            return stay;
        const int controller = plan_.controller_of_port[static_cast<std::size_t>(model_.plugged_port())];
        const bool speaks = controller >= 0 && peers_alive(controller);
        if (source_volts_ > above_default_volts && !speaks)
            return {SourceState::recovering, 0.0, hard_reset_delay_s};
        if (source_volts_ < above_default_volts && speaks && agreed_volts(controller) > above_default_volts)
            return {SourceState::live, agreed_volts(controller), contract_delay_s};
        return stay;
    }

    // --- what is said on the CC line ----------------------------------------------------------------------

    bool lacks(int controller, NeedPurpose purpose) const {
        const PlanBlock& block = plan_.blocks[static_cast<std::size_t>(controller)];
        return std::any_of(block.needs.begin(), block.needs.end(), [&](const PlanNeed& need) {
            return need.purpose == purpose && !need_met(need, block.port);
        });
    }

    NegotiationEnd talk_now() const {
        const bool pd = model_.plugged_port() >= 0 && charger_block().kind->role == BlockRole::source_pd;
        if (!pd || source_ != SourceState::live)
            return NegotiationEnd::silent;
        const int controller = plan_.controller_of_port[static_cast<std::size_t>(model_.plugged_port())];
        const bool there = controller >= 0 && model_.condition(controller).present &&
                           !model_.condition(controller).dead && !lacks(controller, NeedPurpose::power);
        if (source_volts_ < above_default_volts && !there)
            return NegotiationEnd::unanswered;
        if (source_volts_ < above_default_volts && lacks(controller, NeedPurpose::program))
            return model_.acknowledges_without_program() ? NegotiationEnd::unrequested
                                                         : NegotiationEnd::unanswered;
        if (source_volts_ < above_default_volts && !peers_alive(controller)) {
            // It may only be on its way.
            if (wants_active(controller) && active_[static_cast<std::size_t>(controller)] == 0)
                return NegotiationEnd::unanswered;
            return model_.asks_without_partners() ? NegotiationEnd::asked_less : NegotiationEnd::unrequested;
        }
        if (source_volts_ < above_default_volts && agreed_volts(controller) > above_default_volts)
            return NegotiationEnd::unanswered;  // on its way
        const double wanted = plan_.topology().wanted_volts;
        double offered = 0.0;
        for (const ChargerOffer& offer : charger().offers) {
            if (offer.volts <= std::min(wanted, model_.condition(charger_index()).offers_up_to_volts) + 1e-9)
                offered = std::max(offered, offer.volts);
        }
        constexpr double same_volts_share = 0.95;
        const double agreed = source_volts_;
        if (agreed >= same_volts_share * wanted)
            return NegotiationEnd::contract;
        return agreed >= same_volts_share * offered ? NegotiationEnd::short_offer
                                                    : NegotiationEnd::asked_less;
    }

    Stage wanted_stage(double& delay_s) const {
        delay_s = 0.0;
        if (plan_.mainboard < 0)
            return Stage::off;
        if (model_.condition(plan_.mainboard).dead)
            return needs_met(plan_.mainboard) ? Stage::stuck : Stage::off;
        if (active_[static_cast<std::size_t>(plan_.mainboard)] == 0)
            return Stage::off;
        switch (stage_) {
            case Stage::off:
            case Stage::stuck:
                return Stage::standby;
            case Stage::standby:
                delay_s = to_boot_s;
                return Stage::booting;
            case Stage::booting:
                delay_s = to_run_s;
                return Stage::running;
            case Stage::running:
                return Stage::running;
        }
        return Stage::off;
    }

    bool adapter_powers() const {
        return model_.plugged_port() >= 0 && source_ == SourceState::live &&
               source_volts_ > least_adapter_volts;
    }

    bool charge_checks_met() const {
        const PlanBlock& pack = plan_.blocks[static_cast<std::size_t>(plan_.pack)];
        return std::all_of(pack.charge_needs.begin(), pack.charge_needs.end(),
                           [&](const PlanNeed& need) { return need_met(need, pack.port); });
    }

    // Current flows into a pack only from a rail that stands above it: not from one that the pack feeds.
    bool rail_above_pack() const {
        const auto rail = plan_.blocks[static_cast<std::size_t>(plan_.pack)].pin_nodes.find("rail");
        return rail == plan_.blocks[static_cast<std::size_t>(plan_.pack)].pin_nodes.end() ||
               volts_at(rail->second) > model_.param(plan_.pack, "open_circuit_volts");
    }

    double charge_watts_at(int step) const {
        const double wanted = model_.param(plan_.pack, "charge_watts");
        double offered = 0.0;
        for (const ChargerOffer& offer : charger().offers) {
            if (offer.volts <= source_volts_ + 0.1)
                offered = std::max(offered, offer.volts * carried(offer.amps));
        }
        const double machine = plan_.mainboard >= 0 ? model_.param(plan_.mainboard, "run_watts") : 0.0;
        const double left = std::max(0.0, offered * charger_share_usable - machine);
        return std::min(wanted, left) * step / charge_steps;
    }

    int wanted_charge_step(double& delay_s) const {
        delay_s = 0.0;
        if (plan_.pack < 0 || !model_.condition(plan_.pack).present || !adapter_powers())
            return 0;
        const bool board_works = stage_ != Stage::off && stage_ != Stage::stuck;
        if (!board_works || !charge_checks_met() || !rail_above_pack() ||
            model_.param(plan_.pack, "charge_watts") <= 0.0)
            return 0;
        delay_s = charge_step_ == 0 ? first_charge_delay_s : charge_step_s;
        return std::min(charge_step_ + 1, charge_steps);
    }

    // --- applying changes --------------------------------------------------------------------------------

    void apply_block(int block, bool active) {
        active_[static_cast<std::size_t>(block)] = active ? 1 : 0;
        model_.set_active(block, active);
    }

    void apply_source(SourceState state, double volts) {
        source_ = state;
        source_volts_ = volts;
        double amps = charger().offers.front().amps;
        for (const ChargerOffer& offer : charger().offers) {
            if (std::abs(offer.volts - volts) < 0.1)
                amps = carried(offer.amps);
        }
        const double fold =
            model_.source_protection().protection == Protection::foldback ? fold_back_share : 1.0;
        model_.set_source(state == SourceState::live ? volts : 0.0, amps * overload_margin, fold);
    }

    void apply_stage(Stage stage) {
        stage_ = stage;
        if (plan_.mainboard < 0)
            return;
        const char* param = nullptr;
        switch (stage) {
            case Stage::off:
                break;
            case Stage::stuck:
                param = "stuck_watts";
                break;
            case Stage::standby:
                param = "standby_watts";
                break;
            case Stage::booting:
                param = "boot_watts";
                break;
            case Stage::running:
                param = "run_watts";
                break;
        }
        model_.set_param(plan_.mainboard, "load_watts",
                         param == nullptr ? 0.0 : model_.param(plan_.mainboard, param));
    }

    void apply_charge(int step) {
        charge_step_ = step;
        model_.set_param(plan_.pack, "charging_watts", step == 0 ? 0.0 : charge_watts_at(step));
    }

    // --- the clock ---------------------------------------------------------------------------------------

    double volts_at(int node) const { return volts_.empty() ? 0.0 : volts_[static_cast<std::size_t>(node)]; }

    void wish(std::size_t slot, int current, int target, double delay_s) {
        Pending& pending = pending_[slot];
        if (target == current) {
            pending = {};
        } else if (pending.target != target) {
            pending = {target, now_s_ + delay_s};
        }
    }

    static int source_code(SourceState state, double volts) {
        return static_cast<int>(state) * 10000 + static_cast<int>(std::lround(volts * 10.0));
    }

    void collect_wishes() {
        for (std::size_t b = 0; b < plan_.blocks.size(); ++b) {
            const PlanBlock& block = plan_.blocks[b];
            if (block.kind->needs.empty())
                continue;
            const bool wanted = wants_active(static_cast<int>(b));
            wish(b, active_[b], wanted ? 1 : 0, wanted ? block.kind->delay_s : release_delay_s);
        }
        if (model_.plugged_port() >= 0) {
            const SourceWish source = wanted_source();
            wish(source_slot(), source_code(source_, source_volts_), source_code(source.state, source.volts),
                 source.delay_s);
        }
        double delay_s = 0.0;
        const Stage stage = wanted_stage(delay_s);
        wish(stage_slot(), static_cast<int>(stage_), static_cast<int>(stage), delay_s);
        if (plan_.pack >= 0) {
            const int step = wanted_charge_step(delay_s);
            wish(charge_slot(), charge_step_, step, step > charge_step_ ? delay_s : 0.0);
        }
    }

    void apply(std::size_t slot, int target) {
        if (slot == source_slot())
            apply_source(static_cast<SourceState>(target / 10000), (target % 10000) / 10.0);
        else if (slot == stage_slot())
            apply_stage(static_cast<Stage>(target));
        else if (slot == charge_slot())
            apply_charge(target);
        else
            apply_block(static_cast<int>(slot), target != 0);
    }

    std::string state_key() const {
        std::string key(active_.begin(), active_.end());
        key += static_cast<char>(source_);
        key += static_cast<char>(std::lround(source_volts_ * 4.0));
        key += static_cast<char>(stage_);
        key += static_cast<char>(charge_step_);
        // What is still to come counts with its time: a quick flutter is no cycle while something slower is
        // due.
        for (const Pending& pending : pending_) {
            if (pending.target < 0)
                key += 'n';
            else
                key += std::to_string(pending.target) + '@' +
                       std::to_string(std::lround((pending.due_s - now_s_) * 1000.0)) + ';';
        }
        return key;
    }

    // What the circuit depends on, in words for OperatingPoints.
    std::string circuit_states() const {
        std::string key(active_.begin(), active_.end());
        key += model_.plugged_port() >= 0 ? 'p' : 'n';
        key += static_cast<char>(source_);
        key += static_cast<char>(std::lround(source_volts_ * 4.0));
        key += static_cast<char>(stage_);
        key += static_cast<char>(charge_step_);
        return key;
    }

    // A last step this small leaves an error far below what any instrument shows: the steps shrink
    // quadratically.
    static SolveOptions point_options() {
        SolveOptions options;
        options.tolerance_volts = 1e-5;
        options.tolerance_relative = 1e-6;
        return options;
    }

    // Takes an operating point that another machine is known to have nearly there.
    bool solve_nearby(const OperatingPoints* known, const std::string& states) {
        const auto* guess = known == nullptr ? nullptr : known->find(states);
        if (guess == nullptr)
            return false;
        // Faults that change only states and words leave the circuit of these states as it was.
        if (known == options_.sound && !circuit_is_faulty_) {
            volts_ = *guess;
            point_is_solved_ = false;
            return true;
        }
        SolveOptions quick = point_options();
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
        volts_ = std::move(solution.node_volts);
        point_is_solved_ = true;
        return true;
    }

    bool solve() {
        const bool good = find_point();
        if (model_.plugged_port() >= 0 && source_ == SourceState::live) {
            constexpr double strained_volts_share = 0.95;
            constexpr double strained_amps_share = 0.9;
            const auto& source = model_.circuit().get<LimitedSource>(model_.source_element());
            const double amps = element_amps(model_.circuit().element(model_.source_element()), volts_);
            if (!good || amps > strained_amps_share * source.limit_amps ||
                volts_at(model_.source_node().index) < strained_volts_share * source_volts_)
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
        Solution solution =
            solver_.solve(model_.circuit(), point_options(), volts_.empty() ? nullptr : &volts_);
        const bool good = solution.ok();
        point_is_solved_ = true;
        if (good || solution.status == SolveStatus::no_convergence)
            volts_ = std::move(solution.node_volts);
        if (!good)
            course_.solver_failed = true;
        else if (options_.learned != nullptr)
            options_.learned->add(states, volts_);
        return good;
    }

    void record(double until_s) {
        Phase phase;
        phase.start_s = now_s_;
        phase.duration_s = until_s - now_s_;
        phase.source = source_;
        if (model_.plugged_port() >= 0) {
            phase.contract_volts = source_ == SourceState::live ? source_volts_ : 0.0;
            phase.meter_volts = volts_at(model_.meter_node().index);
            phase.meter_amps = element_amps(model_.circuit().element(model_.source_element()), volts_);
        }
        if (model_.supply_node().index > 0) {
            phase.meter_volts = volts_at(model_.supply_node().index);
            phase.meter_amps = element_amps(model_.circuit().element(model_.supply_element()), volts_);
        }
        phase.talk = talk_now();
        phase.node_volts = volts_;
        phase.block_watts = model_.block_watts(volts_);
        phase.first_shunt_watts = model_.first_shunt_watts(volts_);
        course_.phases.push_back(std::move(phase));
    }

    void drive(double horizon_s) {
        std::map<std::string, std::size_t> seen;
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
                const auto [known, fresh] = seen.emplace(state_key(), course_.phases.size());
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
            (void)solver_.solve(model_.circuit(), {}, &volts_);
        course_.machine_started = stage_ == Stage::booting || stage_ == Stage::running;
        course_.charging = charge_step_ > 0;
        course_.charge_refused = plan_.pack >= 0 && !charge_checks_met();
        course_.active_blocks = active_;
        return std::move(course_);
    }

    MachineModel& model_;
    const MachinePlan& plan_;
    DcSolver& solver_;
    CourseOptions options_;
    Course course_;
    double now_s_ = 0.0;
    std::vector<char> active_;
    SourceState source_ = SourceState::off;
    double source_volts_ = 0.0;
    Stage stage_ = Stage::off;
    int charge_step_ = 0;
    std::vector<double> volts_;
    bool circuit_is_faulty_ = false;
    bool point_is_solved_ = true;
    std::vector<char> faulty_nodes_;
    std::vector<Pending> pending_;
};

}  // namespace

Course run_course(MachineModel& model, const BenchConfiguration& configuration, DcSolver& solver,
                  const CourseOptions& options) {
    return Runner(model, solver, options).run(configuration);
}

bool holds_contract(const Phase& phase) {
    return phase.talk != NegotiationEnd::silent && phase.contract_volts > above_default_volts;
}

double contract_lasts_s(const Course& course, std::size_t phase) {
    double lasts_s = 0.0;
    // Once around is enough: what holds through a whole cycle holds for ever.
    for (std::size_t steps = 0; steps <= 2 * course.phases.size(); ++steps) {
        if (!holds_contract(course.phases[phase]))
            return lasts_s;
        lasts_s += course.phases[phase].duration_s;
        if (++phase == course.phases.size()) {
            if (!course.cycling)
                return lasts_s;
            phase = course.cycle_from;
        }
    }
    return std::numeric_limits<double>::infinity();
}

NegotiationEnd talk_of(const Course& course) {
    NegotiationEnd furthest = NegotiationEnd::silent;
    bool stood = false;
    for (std::size_t p = 0; p < course.phases.size(); ++p) {
        const Phase& phase = course.phases[p];
        const bool begins = holds_contract(phase) && (p == 0 || !holds_contract(course.phases[p - 1]));
        if (begins) {
            const double lasts_s = contract_lasts_s(course, p);
            stood = stood || lasts_s >= talk_after_s;
            // Accepted, but the volts collapsed before they were ready.
            if (lasts_s < talk_after_s)
                furthest = std::max(furthest, NegotiationEnd::unready);
        } else if (!holds_contract(phase) && phase.duration_s >= talk_after_s) {
            furthest = std::max(furthest, phase.talk);
        }
    }
    if (!stood)
        return furthest;
    const std::size_t first = course.cycling ? course.cycle_from : course.phases.size() - 1;
    const bool stands = std::all_of(course.phases.begin() + static_cast<std::ptrdiff_t>(first),
                                    course.phases.end(), holds_contract);
    return stands ? course.phases.back().talk : NegotiationEnd::torn;
}

const Phase& phase_at(const Course& course, double t_s) {
    assert(!course.phases.empty());
    double t = t_s;
    if (course.cycling && course.period_s > 0.0) {
        const double from = course.phases[course.cycle_from].start_s;
        if (t > from)
            t = from + std::fmod(t - from, course.period_s);
    }
    const auto after =
        std::upper_bound(course.phases.begin(), course.phases.end(), t,
                         [](double value, const Phase& phase) { return value < phase.start_s; });
    return after == course.phases.begin() ? course.phases.front() : *std::prev(after);
}

}  // namespace eh
