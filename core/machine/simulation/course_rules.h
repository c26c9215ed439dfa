// SPDX-License-Identifier: GPL-3.0-or-later
// What each part of a machine wants to become, from how things stand: whether a block comes alive, what the
// charger gives next, how far the machine starts, how much the pack takes, what is said on the CC line.
// The rules are in force one moment at a time; core/machine/simulation/course.cpp carries out the wishes when
// they are due.
#pragma once

#include <vector>

#include "core/machine/simulation/course.h"

namespace eh {

// How a machine stands at one moment.
struct CourseState {
    std::vector<char> active;   // by block
    std::vector<char> stopped;  // by block: shut down at a short, until the power is cut
    SourceState source = SourceState::off;
    double source_volts = 0.0;  // that the charger holds
    MachineStage stage = MachineStage::off;
    int charge_step = 0;        // of charge_steps, or default_volts_step
    bool pack_cut_off = false;  // by its own protection
    std::vector<double> volts;  // by node; empty before the first operating point

    [[nodiscard]] double volts_at(int node) const {
        return volts.empty() ? 0.0 : volts[static_cast<std::size_t>(node)];
    }
};

// As a charge step: a few watts are taken at 5 V, past the steps of a charge.
inline constexpr int default_volts_step = 100;

// What something wants to be, and how long it takes to get there.
struct SourceWish {
    SourceState state = SourceState::off;
    double volts = 0.0;
    double delay_s = 0.0;
};
struct StageWish {
    MachineStage stage = MachineStage::off;
    double delay_s = 0.0;
};
struct ChargeWish {
    int step = 0;
    double delay_s = 0.0;
};

class CourseRules {
  public:
    // Both must outlive the rules, which read them as they are at each question.
    CourseRules(const MachineModel& model, const CourseState& state)
        : model_(model), plan_(model.plan()), state_(state) {}

    // Present, sound, and with all that it needs.
    [[nodiscard]] bool wants_active(int block) const;
    // Whether a block works into a short that its regulator stops at, or that it opens at.
    [[nodiscard]] bool output_is_shorted(int block) const;
    // Whether the pack's own protection parts it from a machine that draws all it can give; for good, once it
    // has. Requires a pack.
    [[nodiscard]] bool pack_cuts_off() const;
    [[nodiscard]] StageWish wanted_stage() const;
    // Requires a plugged port.
    [[nodiscard]] SourceWish wanted_source() const;
    // Requires a pack.
    [[nodiscard]] ChargeWish wanted_charge() const;
    // Whether what the machine checks before charging (adapter ID) is met. Requires a pack.
    [[nodiscard]] bool charge_checks_met() const;
    // Into the pack at a step of the ramp, of what charger and machine leave. Requires a pack.
    [[nodiscard]] double charge_watts_at(int step) const;
    // That the charging circuit takes from its input at default_volts_step: what its make takes, as far as
    // the charger has them. 0 for a block that never takes any.
    [[nodiscard]] double watts_at_default(int charger) const;
    // How far charger and machine get in this state.
    [[nodiscard]] NegotiationEnd talk_now() const;

    // The charger that is connected. Requires one, as do the functions below.
    [[nodiscard]] const ChargerSpec& charger() const;
    [[nodiscard]] const PlanBlock& charger_block() const;
    // Whether charger and lead talk at all.
    [[nodiscard]] bool source_talks() const;
    // The highest volts that it offers, up to so many.
    [[nodiscard]] double highest_offer(double up_to_volts) const;
    // Whether a charger that protects itself too early gives more than it will.
    [[nodiscard]] bool trips_early() const;
    // Amps that it says it gives at so many volts, through this lead; amps at which it limits then, and what
    // share of those it keeps into a short.
    [[nodiscard]] double promised_amps(double volts) const;
    [[nodiscard]] double limit_amps_at(double volts) const;
    [[nodiscard]] double fold() const;
    // Of these amps, what the charger gives through this lead: more than 3 A only where it is marked for
    // them.

  private:
    [[nodiscard]] bool need_met(const PlanNeed& need, int port, bool works_already = false) const;
    [[nodiscard]] bool needs_met(int block) const;
    [[nodiscard]] bool trips(const PlanBlock& block) const;
    [[nodiscard]] bool waits_for_always_on(int block) const;
    [[nodiscard]] bool waits_for_machine(int block) const;
    // Of the 5 V rail; what it should have where the machine has none.
    [[nodiscard]] double five_volts() const;
    [[nodiscard]] bool lacks(int controller, NeedPurpose purpose) const;
    [[nodiscard]] bool peers_alive(int controller) const;
    // The highest volts that a controller's program asks for.
    [[nodiscard]] double asks_for_up_to(int controller) const;
    // The highest volts that charger offers and machine asks for.
    [[nodiscard]] double agreed_volts(int controller) const;
    // Whether a machine that stands by goes on to start.
    [[nodiscard]] bool eases(const PlanNeed& need) const;
    [[nodiscard]] bool pack_feeds() const;
    [[nodiscard]] bool may_start() const;
    // Whether the plugged port's controller goes beyond 5 V as far as rail and path decide it.
    [[nodiscard]] bool may_ask_for_more() const;
    // Of the CC line, from the charger's own ground.
    [[nodiscard]] double volts_at_charger_cc() const;
    // Whether what the charger sends arrives at that controller: kilohms in the wire drown it.
    [[nodiscard]] bool hears(int controller) const;
    [[nodiscard]] bool adapter_powers() const;
    // Whether a working machine makes do with 5 V, since nothing more is to be had of this charger and lead.
    [[nodiscard]] bool makes_do_with_default() const;
    // Current flows into a pack only from a rail that stands above it: not from one that the pack feeds.
    [[nodiscard]] bool rail_above_pack() const;
    [[nodiscard]] bool charger_input_sags() const;

    const MachineModel& model_;
    const MachinePlan& plan_;
    const CourseState& state_;
};

}  // namespace eh
