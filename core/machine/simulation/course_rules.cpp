// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/simulation/course_rules.h"

#include <algorithm>
#include <cmath>

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
constexpr double overload_volts_share = 0.8;  // below this share of the set volts the source is overloaded
// A source of 3 A sees Rd between these volts (USB Type-C, from memory: vRd 0.85 to 2.45 V, open from 2.75 V
// on; between them, halfway).
constexpr double rd_seen_above_volts = 0.85;
constexpr double rd_seen_below_volts = 2.6;
constexpr double default_volts = 5.0;
constexpr double always_on_good_volts = 2.8;
constexpr double five_volts_good_from = 4.25;  // of a rail that the start waits for
constexpr double five_volts_good_to = 6.0;
constexpr double path_up_volts = 4.0;
// Along a CC wire. The 0.33 mA of a source of 3 A lose this much in a kilohm: a fifth of what is left for the
// talk, which swings by 1.1 V (USB Power Delivery, from memory).
constexpr double most_lost_volts = 0.3;
constexpr double enabled_volts = 0.6;  // of an enable pin that is divided from an input of 5 V
// The machine starts by itself or the technician presses power.
constexpr double to_boot_s = 1.2;
constexpr double to_run_s = 6.0;
constexpr double first_charge_delay_s = 1.5;
constexpr double charge_step_s = 0.8;
constexpr int charge_steps = 4;
// Of the contract's watts: a charger keeps its input some 5 % below what the source gives (common practice),
// lead and contacts take 5 % at 5 A, the converter 8 %.
constexpr double charger_share_usable = 0.83;
constexpr double least_adapter_volts = 8.5;

}  // namespace

bool CourseRules::need_met(const PlanNeed& need, int port, bool works_already) const {
    if (need.plugged_port >= 0 && need.plugged_port != model_.plugged_port())
        return true;
    if (need.habit && !model_.has(*need.habit))
        return true;
    const bool damaged = std::any_of(need.undamaged.begin(), need.undamaged.end(), [&](int block) {
        return model_.condition(block).dead || !model_.condition(block).present;
    });
    if (damaged)
        return false;
    double above = model_.resolve(need.above);
    double volts = 0.0;
    bool has_volts = false;
    if (need.node >= 0) {
        // What works lets go at fewer volts than it starts at, or it would flutter (common practice).
        constexpr double lets_go_share = 0.93;
        if (works_already && above > 0.0)
            above *= lets_go_share;
        volts = state_.volts_at(need.node);
        has_volts = true;
    }
    if (need.contract) {
        if (port < 0 || port != model_.plugged_port() || state_.source != SourceState::live)
            return false;
        const int controller = plan_.controller_of_port[static_cast<std::size_t>(port)];
        if (controller >= 0 && model_.condition(controller).holds_path_open)
            return false;
        volts = state_.source_volts;
        has_volts = true;
    }
    if (eases(need))
        above = std::min(above, need.eased_to_volts);
    if (has_volts && (volts < above || volts > model_.resolve(need.below)))
        return false;
    return std::all_of(need.blocks.begin(), need.blocks.end(),
                       [this](int b) { return state_.active[static_cast<std::size_t>(b)] != 0; }) &&
           std::all_of(need.unstopped.begin(), need.unstopped.end(),
                       [this](int b) { return state_.stopped[static_cast<std::size_t>(b)] == 0; });
}

bool CourseRules::eases(const PlanNeed& need) const {
    // Where the pack feeds the rail, nothing is drawn from what is no contract yet.
    const bool spared = need.eased_without_pack && pack_feeds();
    return !spared && std::any_of(need.eased_by.begin(), need.eased_by.end(),
                                  [this](Habit habit) { return model_.has(habit); });
}

bool CourseRules::pack_feeds() const {
    return plan_.pack >= 0 && model_.condition(plan_.pack).present && model_.param(plan_.pack, "volts") > 0.0;
}

bool CourseRules::needs_met(int block) const {
    const PlanBlock& b = plan_.blocks[static_cast<std::size_t>(block)];
    const bool works = state_.active[static_cast<std::size_t>(block)] != 0;
    return std::all_of(b.needs.begin(), b.needs.end(),
                       [&](const PlanNeed& need) { return need_met(need, b.port, works); });
}

bool CourseRules::wants_active(int block) const {
    const auto& condition = model_.condition(block);
    return condition.present && !condition.dead && state_.stopped[static_cast<std::size_t>(block)] == 0 &&
           needs_met(block) && !waits_for_always_on(block) && !waits_for_machine(block);
}

bool CourseRules::waits_for_machine(int block) const {
    if (block != plan_.five_volt_supply || plan_.mainboard < 0 || model_.has(Habit::five_volts_gate_start) ||
        model_.has(Habit::controllers_on_five_volts))
        return false;
    const bool on = state_.stage == MachineStage::booting || state_.stage == MachineStage::running;
    // Nothing but the charger is attached on the bench.
    return model_.has(Habit::five_volts_when_attached) || (!on && model_.has(Habit::five_volts_with_machine));
}

bool CourseRules::waits_for_always_on(int block) const {
    return block == plan_.five_volt_supply && plan_.always_on_node > 0 &&
           model_.has(Habit::always_on_gates_five_volts) &&
           state_.volts_at(plan_.always_on_node) < always_on_good_volts;
}

bool CourseRules::output_is_shorted(int block) const {
    constexpr double shorted_share = 0.5;  // of the set volts
    constexpr double limit_share = 0.95;
    if (state_.active[static_cast<std::size_t>(block)] == 0)
        return false;
    const PlanBlock& b = plan_.blocks[static_cast<std::size_t>(block)];
    if (trips(b))
        return true;
    for (int e = b.first_element; e < b.first_element + b.element_count; ++e) {
        const PlanElement& element = plan_.elements[static_cast<std::size_t>(e)];
        if (!element.stops_when_shorted)
            continue;
        const double set = model_.resolve(element.values[value_volts]);
        const double amps = delivered_amps(std::get<Regulator>(model_.circuit().element({e})), state_.volts);
        if (state_.volts_at(element.to) < shorted_share * set &&
            amps > limit_share * model_.resolve(element.values[value_limit_amps]))
            return true;
    }
    return false;
}

bool CourseRules::trips(const PlanBlock& block) const {
    const auto& trip = block.kind->opens_at_short;
    if (!trip || !model_.has(trip->habit) || model_.plugged_port() < 0 || state_.source != SourceState::live)
        return false;
    const auto behind = block.pin_nodes.find(trip->pin);
    return behind != block.pin_nodes.end() && behind->second >= 0 &&
           state_.volts_at(behind->second) < trip->below_volts;
}

const ChargerSpec& CourseRules::charger() const {
    return model_.charger_spec();
}

const PlanBlock& CourseRules::charger_block() const {
    return plan_.blocks[static_cast<std::size_t>(model_.charger_block())];
}

bool CourseRules::peers_alive(int controller) const {
    const PlanBlock& block = plan_.blocks[static_cast<std::size_t>(controller)];
    return state_.active[static_cast<std::size_t>(controller)] != 0 &&
           std::all_of(block.peers.begin(), block.peers.end(),
                       [this](int p) { return state_.active[static_cast<std::size_t>(p)] != 0; });
}

bool CourseRules::trips_early() const {
    return !state_.volts.empty() &&
           element_amps(model_.circuit().element(model_.source_element()), state_.volts) >
               model_.condition(model_.charger_block()).gives_up_to_amps;
}

bool CourseRules::source_talks() const {
    return !model_.condition(model_.charger_block()).never_talks &&
           !model_.condition(model_.lead_block()).never_talks;
}

double CourseRules::volts_at_charger_cc() const {
    const double cc = state_.volts_at(model_.source_signal_node().index);
    if (model_.return_ohms() <= 0.0 || state_.volts.empty())
        return cc;
    // The machine's ground, and with it the CC line, is lifted by what comes back through too many ohms.
    return cc + model_.return_ohms() *
                    element_amps(model_.circuit().element(model_.source_element()), state_.volts);
}

double CourseRules::asks_for_up_to(int controller) const {
    double volts = model_.condition(controller).contract_limit_volts;
    // A program that says something else serves every controller that runs it.
    for (const PlanNeed& need : plan_.blocks[static_cast<std::size_t>(controller)].needs) {
        if (need.purpose != NeedPurpose::program)
            continue;
        for (const int memory : need.blocks)
            volts = std::min(volts, model_.condition(memory).contract_limit_volts);
    }
    return volts;
}

double CourseRules::highest_offer(double up_to_volts) const {
    const double ceiling = std::min(up_to_volts, model_.condition(model_.charger_block()).offers_up_to_volts);
    double best = 0.0;
    for (const ChargerOffer& offer : charger().offers) {
        if (offer.volts <= ceiling + 1e-9)
            best = std::max(best, offer.volts);
    }
    return best;
}

double CourseRules::agreed_volts(int controller) const {
    return std::max(default_volts,
                    highest_offer(std::min(plan_.topology().wanted_volts, asks_for_up_to(controller))));
}

double CourseRules::promised_amps(double volts) const {
    constexpr double same_volts = 0.1;
    double amps = charger().offers.front().amps;
    for (const ChargerOffer& offer : charger().offers) {
        if (std::abs(offer.volts - volts) < same_volts)
            amps = model_.promised_of(offer.amps);
    }
    return amps;
}

double CourseRules::limit_amps_at(double volts) const {
    // Sources deliver somewhat more than they promise before they protect themselves.
    constexpr double overload_margin = 1.1;
    return promised_amps(volts) * overload_margin;
}

double CourseRules::fold() const {
    constexpr double fold_back_share = 0.25;  // of the limit, into a dead short
    return model_.source_protection().protection == Protection::foldback ? fold_back_share : 1.0;
}

SourceWish CourseRules::wanted_source() const {
    const ChargerSpec& spec = charger();
    const MachineModel::SourceProtection protection = model_.source_protection();
    const bool pd = charger_block().kind->role == BlockRole::source_pd;
    const SourceWish stay{state_.source, state_.source_volts, 0.0};
    const double offered = model_.condition(model_.charger_block()).offers_up_to_volts;
    const double cc = volts_at_charger_cc();
    const bool rd_seen = !pd || (cc > rd_seen_above_volts && cc < rd_seen_below_volts);
    switch (state_.source) {
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
    if (state_.volts_at(model_.source_node().index) < overload_volts_share * state_.source_volts) {
        if (protection.protection == Protection::hiccup)
            return {SourceState::recovering, 0.0, protection.trip_s};
        if (protection.protection == Protection::latched)
            return {SourceState::latched, 0.0, protection.trip_s};
    }
    if (trips_early())
        return {protection.protection == Protection::latched ? SourceState::latched : SourceState::recovering,
                0.0, protection.trip_s};
    if (!rd_seen)
        return {SourceState::off, 0.0, detach_delay_s};
    if (!pd)
        return stay;
    const int controller = plan_.controller_of_port[static_cast<std::size_t>(model_.plugged_port())];
    const bool speaks = controller >= 0 && source_talks() && peers_alive(controller) && hears(controller);
    if (state_.source_volts > above_default_volts && !speaks)
        return {SourceState::recovering, 0.0, hard_reset_delay_s};
    if (state_.source_volts < above_default_volts && speaks && may_ask_for_more() &&
        agreed_volts(controller) > above_default_volts)
        return {SourceState::live, agreed_volts(controller), contract_delay_s};
    return stay;
}

bool CourseRules::lacks(int controller, NeedPurpose purpose) const {
    const PlanBlock& block = plan_.blocks[static_cast<std::size_t>(controller)];
    const bool works = state_.active[static_cast<std::size_t>(controller)] != 0;
    return std::any_of(block.needs.begin(), block.needs.end(), [&](const PlanNeed& need) {
        return need.purpose == purpose && !need_met(need, block.port, works);
    });
}

NegotiationEnd CourseRules::talk_now() const {
    const bool pd = model_.plugged_port() >= 0 && charger_block().kind->role == BlockRole::source_pd;
    if (!pd || state_.source != SourceState::live || !source_talks())
        return NegotiationEnd::silent;
    const int controller = plan_.controller_of_port[static_cast<std::size_t>(model_.plugged_port())];
    const bool there = controller >= 0 && model_.condition(controller).present && hears(controller) &&
                       !model_.condition(controller).dead && !lacks(controller, NeedPurpose::power);
    if (state_.source_volts < above_default_volts && !there)
        return NegotiationEnd::unanswered;
    if (state_.source_volts < above_default_volts && lacks(controller, NeedPurpose::program))
        return model_.has(Habit::acknowledges_without_program) ? NegotiationEnd::unrequested
                                                               : NegotiationEnd::unanswered;
    if (state_.source_volts < above_default_volts && !peers_alive(controller)) {
        // It may only be on its way.
        if (wants_active(controller) && state_.active[static_cast<std::size_t>(controller)] == 0)
            return NegotiationEnd::unanswered;
        return model_.has(Habit::asks_without_partners) ? NegotiationEnd::asked_less
                                                        : NegotiationEnd::unrequested;
    }
    if (state_.source_volts < above_default_volts && agreed_volts(controller) > above_default_volts)
        return may_ask_for_more() ? NegotiationEnd::unanswered  // on its way
                                  : NegotiationEnd::asked_less;
    const double wanted = plan_.topology().wanted_volts;
    const double offered = highest_offer(wanted);
    constexpr double same_volts_share = 0.95;
    const double agreed = state_.source_volts;
    if (agreed >= same_volts_share * wanted)
        return NegotiationEnd::contract;
    return agreed >= same_volts_share * offered ? NegotiationEnd::short_offer : NegotiationEnd::asked_less;
}

StageWish CourseRules::wanted_stage() const {
    if (plan_.mainboard < 0)
        return {};
    const bool stopped = state_.stopped[static_cast<std::size_t>(plan_.mainboard)] != 0;
    if (model_.condition(plan_.mainboard).dead || stopped)
        return {needs_met(plan_.mainboard) ? MachineStage::stuck : MachineStage::off};
    if (state_.active[static_cast<std::size_t>(plan_.mainboard)] == 0)
        return {};
    switch (state_.stage) {
        case MachineStage::off:
        case MachineStage::stuck:
            return {MachineStage::standby};
        case MachineStage::standby:
            return may_start() ? StageWish{MachineStage::booting, to_boot_s}
                               : StageWish{MachineStage::standby};
        case MachineStage::booting:
            return {MachineStage::running, to_run_s};
        case MachineStage::running:
            return {MachineStage::running};
    }
    return {};
}

bool CourseRules::pack_cuts_off() const {
    constexpr double limit_share = 0.95;
    if (state_.pack_cut_off)
        return true;
    const PlanBlock& pack = plan_.blocks[static_cast<std::size_t>(plan_.pack)];
    for (int e = pack.first_element; e < pack.first_element + pack.element_count; ++e) {
        const auto* cells = std::get_if<LimitedSource>(&model_.circuit().element({e}));
        if (cells != nullptr && cells->volts > 0.0 &&
            element_amps(*cells, state_.volts) > limit_share * cells->limit_amps)
            return true;
    }
    return false;
}

bool CourseRules::may_start() const {
    const Button button = model_.configuration().button;
    const bool rests = model_.has(Habit::rests_until_pressed) && button != Button::pressed;
    // What a charger makes of 5 V is too little to start on.
    if (button == Button::kept_off || rests || (!pack_feeds() && !adapter_powers()))
        return false;
    const bool deep =
        plan_.pack >= 0 && model_.condition(plan_.pack).present && model_.param(plan_.pack, "deep") > 0.5;
    if (deep && model_.has(Habit::deep_pack_blocks_start))
        return false;
    return !model_.has(Habit::five_volts_gate_start) ||
           (five_volts() > five_volts_good_from && five_volts() < five_volts_good_to);
}

double CourseRules::five_volts() const {
    if (plan_.five_volt_supply < 0)
        return default_volts;
    const PlanBlock& supply = plan_.blocks[static_cast<std::size_t>(plan_.five_volt_supply)];
    return state_.volts_at(supply.pin_nodes.at("out"));
}

bool CourseRules::hears(int controller) const {
    double nearest = 0.0;
    int pulled_up = 0;
    for (const auto& [pin, node] : plan_.blocks[static_cast<std::size_t>(controller)].pin_nodes) {
        if (pin.rfind("cc", 0) != 0 || node <= 0)
            continue;
        nearest = std::max(nearest, state_.volts_at(node));
        pulled_up += state_.volts_at(node) > rd_seen_above_volts ? 1 : 0;
    }
    // Both lines pulled up are no charger's (a debug accessory; USB Type-C, from memory).
    return pulled_up < 2 && state_.volts_at(model_.source_signal_node().index) - nearest < most_lost_volts;
}

bool CourseRules::may_ask_for_more() const {
    if (!model_.has(Habit::asks_once_rail_is_up) || plan_.chargers.empty())
        return true;
    const int behind = plan_.path_out_nodes[static_cast<std::size_t>(model_.plugged_port())];
    if (behind < 0)
        return true;
    const bool enabled = std::all_of(plan_.chargers.begin(), plan_.chargers.end(), [this](int charger) {
        const auto& pins = plan_.blocks[static_cast<std::size_t>(charger)].pin_nodes;
        const auto enable = pins.find("enable");
        return enable == pins.end() || enable->second < 0 || state_.volts_at(enable->second) > enabled_volts;
    });
    return enabled && state_.volts_at(behind) > path_up_volts &&
           state_.volts_at(plan_.rail_node) > path_up_volts;
}

bool CourseRules::adapter_powers() const {
    return model_.plugged_port() >= 0 && state_.source == SourceState::live &&
           state_.source_volts > least_adapter_volts;
}

bool CourseRules::makes_do_with_default() const {
    if (!model_.has(Habit::draws_at_5_volts) || model_.plugged_port() < 0 || !pack_feeds() ||
        state_.source != SourceState::live || state_.source_volts > above_default_volts)
        return false;
    const int controller = plan_.controller_of_port[static_cast<std::size_t>(model_.plugged_port())];
    if (controller < 0 || !peers_alive(controller) || lacks(controller, NeedPurpose::program))
        return false;
    const bool more_to_come =
        source_talks() && hears(controller) && agreed_volts(controller) > above_default_volts;
    return !more_to_come && std::any_of(plan_.chargers.begin(), plan_.chargers.end(), [this](int charger) {
        const auto& pins = plan_.blocks[static_cast<std::size_t>(charger)].pin_nodes;
        const auto in = pins.find("in");
        return in != pins.end() && !model_.condition(charger).dead && model_.condition(charger).present &&
               state_.volts_at(in->second) > path_up_volts;
    });
}

double CourseRules::watts_at_default(int charger) const {
    const PlanBlock& block = plan_.blocks[static_cast<std::size_t>(charger)];
    if (!block.param_slots.contains("watts_at_5_volts"))
        return 0.0;
    const double offered = default_volts * promised_amps(default_volts) * charger_share_usable;
    return std::min(model_.param(charger, "watts_at_5_volts"), offered);
}

bool CourseRules::charge_checks_met() const {
    const PlanBlock& pack = plan_.blocks[static_cast<std::size_t>(plan_.pack)];
    return std::all_of(pack.charge_needs.begin(), pack.charge_needs.end(),
                       [&](const PlanNeed& need) { return need_met(need, pack.port); });
}

bool CourseRules::rail_above_pack() const {
    // A charger that follows the pack keeps above it, by less than two of them differ.
    if (model_.has(Habit::rail_follows_pack) && !plan_.chargers.empty())
        return std::any_of(plan_.chargers.begin(), plan_.chargers.end(), [this](int charger) {
            return state_.active[static_cast<std::size_t>(charger)] != 0;
        });
    const auto rail = plan_.blocks[static_cast<std::size_t>(plan_.pack)].pin_nodes.find("rail");
    return rail == plan_.blocks[static_cast<std::size_t>(plan_.pack)].pin_nodes.end() ||
           state_.volts_at(rail->second) > model_.param(plan_.pack, "open_circuit_volts");
}

double CourseRules::charge_watts_at(int step) const {
    const double wanted = model_.param(plan_.pack, "charge_watts");
    double offered = 0.0;
    for (const ChargerOffer& offer : charger().offers) {
        if (offer.volts <= state_.source_volts + 0.1)
            offered = std::max(offered, offer.volts * model_.promised_of(offer.amps));
    }
    const double machine = plan_.mainboard >= 0 ? model_.param(plan_.mainboard, "run_watts") : 0.0;
    const double left = std::max(0.0, offered * charger_share_usable - machine);
    return std::min(wanted, left) * step / charge_steps;
}

bool CourseRules::charger_input_sags() const {
    constexpr double sagged_share = 0.9;  // of what the source gives; sound leads and contacts leave 0.95
    return std::any_of(plan_.chargers.begin(), plan_.chargers.end(), [this](int charger) {
        const auto& pins = plan_.blocks[static_cast<std::size_t>(charger)].pin_nodes;
        const auto in = pins.find("in");
        return in != pins.end() && state_.active[static_cast<std::size_t>(charger)] != 0 &&
               state_.volts_at(in->second) < sagged_share * state_.source_volts;
    });
}

ChargeWish CourseRules::wanted_charge() const {
    const bool board_works = state_.stage != MachineStage::off && state_.stage != MachineStage::stuck;
    if (board_works && makes_do_with_default())
        return {default_volts_step, first_charge_delay_s};
    if (plan_.pack < 0 || !model_.condition(plan_.pack).present || !adapter_powers())
        return {};
    // Volts above what a rail may have shut a board off as a whole.
    const bool shut_off = model_.has(Habit::five_volts_gate_start) && five_volts() > five_volts_good_to;
    if (!board_works || shut_off || !charge_checks_met() || !rail_above_pack() ||
        model_.param(plan_.pack, "charge_watts") <= 0.0)
        return {};
    if (state_.charge_step > 0 && model_.has(Habit::charger_spares_weak_input) && charger_input_sags())
        return {state_.charge_step};
    const int reached = state_.charge_step == default_volts_step ? 0 : state_.charge_step;
    return {std::min(reached + 1, charge_steps), reached == 0 ? first_charge_delay_s : charge_step_s};
}

}  // namespace eh
