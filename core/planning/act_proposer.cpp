// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/act_proposer.h"

#include <algorithm>

#include "core/inference/board_look.h"
#include "core/machine/model/fault_reach.h"
#include "core/planning/act_list.h"
#include "core/planning/alike.h"
#include "core/planning/injections.h"
#include "core/planning/removal.h"
#include "core/planning/school.h"
#include "core/planning/trial.h"
#include "core/planning/tried_work.h"

namespace eh {
namespace {

constexpr double negligible_probability = 1e-4;
constexpr double worth_a_look = 0.02;             // suspicion from which a part is looked at by itself
constexpr double in_doubt = 0.02;                 // suspicion from which an instrument is set aside
constexpr double worth_removing = 0.05;           // suspicion from which taking a part off is considered
constexpr double least_bits = 0.02;               // less is not worth a line
constexpr double worth_a_trial_minutes = 10.0;    // of repair, from which a suspect is tested first
constexpr double most_trial_minutes = 5.0;        // that such a reading may take
constexpr double trial_bits_for_a_minute = 0.05;  // that it must tell more to be worth a minute more
constexpr double least_trial_bits = 0.3;          // of what it tells when one doubts the suspect

}  // namespace

ActProposer::ActProposer(const PredictionTable& table, const Ranking& ranking,
                         const std::vector<Reading>& taken, const BenchConfiguration& now,
                         const BenchCosts& costs, const NextOptions& options,
                         const std::vector<DangerFound>& dangers)
    : table_(table),
      plan_(table.plan()),
      ranking_(ranking),
      taken_(taken),
      known_readings_(taken, ranking, may_hang(table, ranking, now)),
      now_(now),
      costs_(costs),
      options_(options),
      dangers_(dangers),
      parties_(make_parties(ranking, table, now, costs)),
      repair_now_minutes_(eh::repair_now_minutes(parties_.probability, parties_, costs)),
      foresight_(table, ranking, taken),
      power_strains_(power_would_strain(table, ranking, now)) {
    for (std::size_t h = 0; h < table.hypotheses().size(); ++h) {
        const HypothesisKind kind = table.hypotheses()[h].kind;
        const bool weighty =
            parties_.p_hypothesis[h] > negligible_probability && kind != HypothesisKind::none_of_these;
        if (weighty || kind == HypothesisKind::nothing_wrong)
            weighty_.push_back(h);
    }
    const Party& top = parties_.list.front();
    top_block_ = top.block.empty() ? -1 : plan_.find_block(top.block);
    const bool wants_trial =
        top_block_ >= 0 && top.suspicion >= costs.repair_due_probability &&
        top.repair_minutes >= worth_a_trial_minutes &&
        !plan_.blocks[static_cast<std::size_t>(top_block_)].is_outside() &&
        !was_taken_off(taken, top.block) && !known_readings_.show_broken(top.block) &&
        !known_readings_.show_letting_go(top.block, plan_) &&
        readings_at_part(taken, plan_, top_block_) < trials_wanted(parties_, plan_.knowledge().catalogue);
    if (wants_trial)
        tried_block_ = top_block_;
}

bool ActProposer::wanted(ReadingKind kind) const {
    return is_equipped(options_, kind);
}

bool ActProposer::within_reach(const std::string& net) const {
    const auto& out = options_.out_of_reach;
    return std::find(out.begin(), out.end(), net) == out.end();
}

bool ActProposer::may_stand(const BenchConfiguration& configuration) const {
    if (configuration.second_instruments && (!options_.second_instruments || !meter_is_in_doubt()))
        return false;
    if (forbidding(dangers_, configuration) != nullptr)
        return false;
    return configuration.lent.empty() || (options_.known_good_parts && options_.case_may_be_opened);
}

bool ActProposer::meter_is_in_doubt() const {
    return now_.second_instruments || !ranking_.odd.empty() || suspicion_of(plan_.inline_meter) > in_doubt;
}

double ActProposer::suspicion_of(int block) const {
    return block < 0 ? 0.0 : eh::suspicion_of(ranking_, plan_.blocks[static_cast<std::size_t>(block)].id);
}

void ActProposer::consider(NextAct act, const Contingency& table, double extra_risk) {
    if (tried_block_ >= 0)
        consider_as_trial(act, table, extra_risk);
    if (!found_.again && known_readings_.to_be_retaken(act.reading, act.place, act.configuration)) {
        found_.again = weighed(act, table, extra_risk);
        found_.again->again = true;
    }
    if (table.bits() < least_bits)
        return;
    NextAct telling = weighed(std::move(act), table, extra_risk);
    if (telling.bits >= least_bits)
        found_.acts.push_back(std::move(telling));
}

void ActProposer::consider_as_trial(const NextAct& act, const Contingency& table, double extra_risk) {
    const double bits = table.bits_on_trial();
    // Nobody strains a likely short with more power only to be surer of it.
    const bool strains = power_strains_ && feeds_machine(act.configuration);
    if (strains || extra_risk > 0.0 || bits < least_trial_bits ||
        !is_at_part(act.reading, act.place, act.configuration, plan_, tried_block_))
        return;
    NextAct trial = weighed(act, table);
    const double own = trial.minutes - trial.kept_minutes + trial.risk_minutes;
    const double worth = bits - trial_bits_for_a_minute * own;
    if (own > most_trial_minutes || (found_.trial && worth <= trial_worth_))
        return;
    const bool repeats = std::any_of(taken_.begin(), taken_.end(), [&](const Reading& reading) {
        return !reading.set_aside && reading.kind() == act.reading && reading.place() == act.place;
    });
    if (repeats)
        return;
    trial.on_trial = true;
    trial_worth_ = worth;
    found_.trial = std::move(trial);
}

NextAct ActProposer::weighed(NextAct act, const Contingency& table, double extra_risk) const {
    const auto kind = static_cast<std::size_t>(act.reading);
    const double fresh = known_readings_.freshness(act.reading, act.place, act.configuration);
    act.bits = fresh * table.bits();
    act.work_first = work_between(now_, act.configuration);
    act.cut_power_first = cuts_power_between(now_, act.configuration);
    act.setup_minutes = setup_minutes(now_, act.configuration, plan_, costs_);
    act.minutes = act.setup_minutes + costs_.reading_minutes[kind];
    act.risk_minutes = costs_.risk_minutes[kind] + extra_risk;
    // Opening that the repair will need in any case is not lost, and neither is work that is the repair.
    act.kept_minutes =
        std::min(act.setup_minutes, minutes_kept(parties_, now_, act.configuration, plan_, costs_));
    const double own = act.minutes - act.kept_minutes;
    act.bits_per_minute = act.bits / (own + act.risk_minutes);
    act.liking = fresh * table.deciding_bits() / (own + act.risk_minutes + costs_.note_minutes) *
                 order_factor(act, now_, options_.school, power_strains_);
    act.saving_minutes = fresh * (repair_now_minutes_ - table.cost_after(costs_)) - own - act.risk_minutes;
    act.tells = table.tellings(act.reading, plan_);
    act.told_apart = table.told_apart();
    return act;
}

double ActProposer::unknown_shows(const NextAct& act) const {
    constexpr double at_the_suspect = 0.5;
    constexpr double elsewhere = 0.03;
    const bool there =
        top_block_ >= 0 && is_at_part(act.reading, act.place, act.configuration, plan_, top_block_);
    return there ? at_the_suspect : elsewhere;
}

template <typename OutcomesOf>
Contingency ActProposer::tabulate(const NextAct& act, OutcomesOf outcomes_of) const {
    Contingency table(parties_);
    for (const std::size_t h : weighty_)
        outcomes_of(h, table);
    table.finish(unknown_shows(act));
    return table;
}

void ActProposer::propose_view(ReadingKind kind, const std::string& place, int net,
                               const BenchConfiguration& configuration, const PoweredColumn& column) {
    if (!wanted(kind) || known_readings_.hold(kind, place, configuration))
        return;
    NextAct act = act_at(kind, place, configuration);
    const bool inside =
        kind == ReadingKind::net_volts || kind == ReadingKind::hot_part || kind == ReadingKind::injection;
    if (inside) {
        if (!options_.case_may_be_opened)
            return;
        act.configuration.case_open = true;
    }
    const Foresight::Asked asked = foresight_.asked(reading_of(act));
    Alike known;
    consider(act, tabulate(act, [&](std::size_t h, Contingency& table) {
                 table.add(h, known.outcomes(asked, column[h], ranking_.sample_weights[h],
                                             [&] { return foresight_.outcomes(asked, net, h, column); }));
             }));
}

bool ActProposer::speaks(const std::string& port) const {
    const int index = plan_.port_index(port);
    return index >= 0 && plan_.controller_of_port[static_cast<std::size_t>(index)] >= 0;
}

void ActProposer::propose_powered(const BenchConfiguration& configuration) {
    const auto column = table_.known_powered(configuration);
    if (column == nullptr || !configuration.charger_connected)
        return;
    propose_view(ReadingKind::meter, "", -1, configuration, *column);
    if (!configuration.second_instruments)
        propose_view(ReadingKind::firmware, "", -1, configuration, *column);
    // A part that is lent, or another meter, is for the plug's reading and what the machine says.
    if (!configuration.lent.empty() || configuration.second_instruments)
        return;
    // Lamps are watched as the machine stands: nobody moves a plug for them.
    if (configuration == plugged_into(plan_.topology(), now_))
        propose_view(ReadingKind::sign, "", -1, configuration, *column);
    propose_view(ReadingKind::wiggle, "", -1, configuration, *column);
    if (speaks(configuration.port))
        propose_view(ReadingKind::talk, "", -1, configuration, *column);
    propose_view(ReadingKind::hot_part, "", -1, configuration, *column);
    const auto& nets = plan_.topology().nets;
    for (std::size_t n = 0; n < nets.size(); ++n) {
        if (within_reach(nets[n].id))
            propose_view(ReadingKind::net_volts, nets[n].id, static_cast<int>(n), configuration, *column);
    }
}

void ActProposer::propose_injection() {
    for (const BenchConfiguration& configuration : injection_configurations(table_, ranking_, taken_, now_)) {
        const std::string& net = configuration.injection->net;
        const bool may_feed =
            within_reach(net) && (was_measured(taken_, net) || !wanted(ReadingKind::net_ohms));
        const auto column = may_feed ? table_.known_powered(configuration) : nullptr;
        if (column != nullptr)
            propose_view(ReadingKind::injection, "", -1, configuration, *column);
    }
}

void ActProposer::propose_looks() {
    for (const Party& party : parties_.list) {
        const int index = party.block.empty() ? -1 : plan_.find_block(party.block);
        if (party.suspicion < worth_a_look || index < 0 || is_second_of_its_part(parties_, party))
            continue;
        const PlanBlock& block = plan_.blocks[static_cast<std::size_t>(index)];
        NextAct act = act_at(ReadingKind::look, party.block, now_);
        if (!block.is_outside() && !block.kind->seen_from_outside) {
            if (!options_.case_may_be_opened)
                continue;
            act.configuration.case_open = true;
        }
        if (known_readings_.hold(act.reading, act.place, act.configuration))
            continue;
        const BenchConfiguration configuration = act.configuration;
        consider(act, tabulate(act, [&](std::size_t h, Contingency& table) {
                     const LookShares shares =
                         look_shares(plan_, table_.hypotheses()[h].faults, party.block, configuration);
                     table.add(h, {shares.begin(), shares.end()});
                 }));
    }
}

void ActProposer::propose_board_look() {
    NextAct act = act_at(ReadingKind::board_look, "", now_);
    act.configuration.case_open = true;
    if (!options_.case_may_be_opened || known_readings_.hold(act.reading, act.place, act.configuration))
        return;
    consider(act, tabulate(act, [&](std::size_t h, Contingency& table) {
                 table.add(h, board_look_shares(plan_, table_.hypotheses()[h].faults, now_));
             }));
}

void ActProposer::propose_number(const OffNumber& number) {
    const NextAct act = act_at(number.kind, number.place, number.configuration);
    const auto column = table_.known_number(act.configuration, number.question);
    if (column == nullptr || known_readings_.hold(act.reading, act.place, act.configuration))
        return;
    const Foresight::Asked asked = foresight_.asked(reading_of(act));
    consider(act, tabulate(act, [&](std::size_t h, Contingency& table) {
                 table.add(h, foresight_.outcomes(asked, h, h, *column));
             }));
}

void ActProposer::propose_numbers() {
    const auto& nets = plan_.topology().nets;
    const auto reached = [&](int net) { return within_reach(nets[static_cast<std::size_t>(net)].id); };
    for (const OffNumber& number : off_numbers(plan_, ranking_, now_)) {
        const bool at_nets = number.question.of == OffQuestion::Of::between_nets;
        if (wanted(number.kind) &&
            (!at_nets || (reached(number.question.first) && reached(number.question.second))))
            propose_number(number);
    }
}

void ActProposer::propose_tried_work() {
    for (const BenchConfiguration& configuration : tried_work(table_, ranking_, now_)) {
        const bool opens = configuration.case_open && !now_.case_open;
        const auto column = may_stand(configuration) && (!opens || options_.case_may_be_opened)
                                ? table_.known_powered(configuration)
                                : nullptr;
        if (column == nullptr)
            continue;
        propose_view(ReadingKind::meter, "", -1, configuration, *column);
        propose_view(ReadingKind::firmware, "", -1, configuration, *column);
    }
}

void ActProposer::propose_ohms(const BenchConfiguration& standing) {
    const BenchConfiguration configuration = measured_off(standing);
    const auto& nets = plan_.topology().nets;
    for (std::size_t n = 0; n < nets.size(); ++n) {
        const auto column =
            within_reach(nets[n].id) ? table_.known_ohms(configuration, static_cast<int>(n)) : nullptr;
        if (column == nullptr)
            continue;
        if (!known_readings_.hold(ReadingKind::net_ohms, nets[n].id, configuration)) {
            NextAct act = act_at(ReadingKind::net_ohms, nets[n].id, configuration);
            const Foresight::Asked asked = foresight_.asked(reading_of(act));
            Alike known;
            consider(act, tabulate(act, [&](std::size_t h, Contingency& table) {
                         table.add(h, known.outcomes(asked, (*column)[h], ranking_.sample_weights[h], [&] {
                             return foresight_.outcomes(asked, h, h, *column);
                         }));
                     }));
        }
        propose_removal(n, configuration, *column);
    }
}

void ActProposer::propose_removal(std::size_t net, const BenchConfiguration& standing,
                                  const NumberColumn& column) {
    const int node = plan_.net_nodes[net];
    for (const Party& part : parties_.list) {
        const int index = part.block.empty() ? -1 : plan_.find_block(part.block);
        if (part.suspicion < worth_removing || index < 0 || is_second_of_its_part(parties_, part))
            continue;
        const PlanBlock& block = plan_.blocks[static_cast<std::size_t>(index)];
        const bool on_net = std::any_of(block.pin_nodes.begin(), block.pin_nodes.end(),
                                        [&](const auto& pin) { return pin.second == node; });
        if (!on_net || !block.kind->remove_minutes)
            continue;
        BenchConfiguration configuration = standing;
        configuration.board_out = standing.board_out || block.kind->needs_board_out;
        insert_block(configuration.removed, part.block);
        if (configuration.removed == standing.removed ||
            known_readings_.hold(ReadingKind::net_ohms, plan_.topology().nets[net].id, configuration))
            continue;
        // Off the board, the suspect's own fault is gone and the others show what they showed before.
        NextAct act = act_at(ReadingKind::net_ohms, plan_.topology().nets[net].id, configuration);
        const Foresight::Asked asked = foresight_.asked(reading_of(act));
        const Contingency told = tabulate(act, [&](std::size_t h, Contingency& table) {
            const std::size_t left = left_without(table_, h, part.block);
            table.add(h, foresight_.outcomes(asked, h, left, column));
        });
        // What heat names on a shorted net is lifted before anything else is measured.
        if (&part == &parties_.list.front() && known_readings_.heat_names(part.block, act.place)) {
            found_.lift = weighed(act, told, costs_.remove_risk_minutes);
            found_.lift->on_trial = true;
        }
        consider(act, told, costs_.remove_risk_minutes);
    }
}

std::optional<NextAct> ActProposer::meter_at(const BenchConfiguration& at) const {
    const auto column = wanted(ReadingKind::meter) && may_stand(at) ? table_.known_powered(at) : nullptr;
    if (column == nullptr)
        return std::nullopt;
    const NextAct act = act_at(ReadingKind::meter, "", at);
    const Foresight::Asked asked = foresight_.asked(reading_of(act));
    return weighed(act, tabulate(act, [&](std::size_t h, Contingency& table) {
                       table.add(h, foresight_.outcomes(asked, -1, h, *column));
                   }));
}

Proposals ActProposer::propose_all() {
    for (const BenchConfiguration& configuration : reachable_configurations(now_, plan_)) {
        if (may_stand(configuration))
            propose_powered(configuration);
    }
    for (const BenchConfiguration& configuration : occasional_configurations(now_, plan_, taken_)) {
        const auto column = may_stand(configuration) ? table_.known_powered(configuration) : nullptr;
        if (column != nullptr)
            propose_view(ReadingKind::meter, "", -1, configuration, *column);
    }
    propose_tried_work();
    if (wanted(ReadingKind::look)) {
        propose_looks();
        propose_board_look();
    }
    if (options_.case_may_be_opened)
        propose_numbers();
    if (wanted(ReadingKind::injection) && options_.case_may_be_opened)
        propose_injection();
    if (wanted(ReadingKind::net_ohms) && options_.case_may_be_opened) {
        propose_ohms(now_);
        if (options_.second_instruments && suspicion_of(plan_.multimeter) > in_doubt) {
            BenchConfiguration other = now_;
            other.second_instruments = !other.second_instruments;
            propose_ohms(other);
        }
    }
    return std::move(found_);
}

}  // namespace eh
