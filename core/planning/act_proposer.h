// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that could be measured or looked at from here, each with what it would tell; which of them comes
// first is next_act.cpp's. Internal to core/planning.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/planning/contingency.h"
#include "core/planning/foresight.h"
#include "core/planning/next_act.h"
#include "core/planning/off_numbers.h"
#include "core/planning/parties.h"
#include "core/planning/taken_readings.h"

namespace eh {

struct Proposals {
    std::vector<NextAct> acts;     // that tell anything, in no order
    std::optional<NextAct> trial;  // the best test of the leading suspect, where it wants one
    std::optional<NextAct> again;  // a reading that fitted nothing
    std::optional<NextAct> lift;   // what heat names on a shorted net comes off it
};

class ActProposer {
  public:
    // From columns that are known already. All that is passed outlives it, `dangers` too.
    ActProposer(const PredictionTable& table, const Ranking& ranking, const std::vector<Reading>& taken,
                const BenchConfiguration& now, const BenchCosts& costs, const NextOptions& options,
                const std::vector<DangerFound>& dangers);

    // To be called once.
    [[nodiscard]] Proposals propose_all();

    // The meter read there, however little it is expected to tell; nothing where the machine may not stand so
    // or what it would show is not known yet.
    [[nodiscard]] std::optional<NextAct> meter_at(const BenchConfiguration& at) const;

    // Whether a short is likely where power would strain it.
    [[nodiscard]] bool power_strains() const { return power_strains_; }
    [[nodiscard]] const Parties& parties() const { return parties_; }
    [[nodiscard]] const TakenReadings& taken_readings() const { return known_readings_; }

  private:
    [[nodiscard]] bool may_stand(const BenchConfiguration& configuration) const;
    [[nodiscard]] bool wanted(ReadingKind kind) const;
    [[nodiscard]] bool within_reach(const std::string& net) const;
    // Another meter is for a reading that does not fit, or for a meter that is suspected itself.
    [[nodiscard]] bool meter_is_in_doubt() const;
    [[nodiscard]] double suspicion_of(int block) const;
    // Adds the act when it tells anything.
    void consider(NextAct act, const Contingency& table, double extra_risk = 0.0);
    // Keeps the act as the test of the leading suspect when it is one, and worth more than the one that is
    // kept.
    void consider_as_trial(const NextAct& act, const Contingency& table, double extra_risk);
    [[nodiscard]] NextAct weighed(NextAct act, const Contingency& table, double extra_risk = 0.0) const;
    // Share of what an unknown effect would show as something else: looked for where the leading suspect
    // sits.
    [[nodiscard]] double unknown_shows(const NextAct& act) const;
    template <typename OutcomesOf>
    [[nodiscard]] Contingency tabulate(const NextAct& act, OutcomesOf outcomes_of) const;
    void propose_view(ReadingKind kind, const std::string& place, int net,
                      const BenchConfiguration& configuration, const PoweredColumn& column);
    // A barrel has no line to talk on.
    [[nodiscard]] bool speaks(const std::string& port) const;
    void propose_powered(const BenchConfiguration& configuration);
    void propose_injection();
    void propose_looks();
    // Whoever has the case open looks over the whole board.
    void propose_board_look();
    // A number of the multimeter that stands by itself, machine off.
    void propose_number(const OffNumber& number);
    void propose_numbers();
    void propose_tried_work();
    void propose_ohms(const BenchConfiguration& standing);
    // Take a suspect off this net and measure again.
    void propose_removal(std::size_t net, const BenchConfiguration& standing, const NumberColumn& column);

    const PredictionTable& table_;
    const MachinePlan& plan_;
    const Ranking& ranking_;
    const std::vector<Reading>& taken_;
    TakenReadings known_readings_;
    const BenchConfiguration& now_;
    const BenchCosts& costs_;
    const NextOptions& options_;
    const std::vector<DangerFound>& dangers_;
    Parties parties_;
    double repair_now_minutes_;
    Foresight foresight_;
    bool power_strains_;  // a likely short
    std::vector<std::size_t> weighty_;
    int top_block_ = -1;    // the leading suspect, -1 where it is no part
    int tried_block_ = -1;  // the leading suspect where it is to be tested, else -1
    double trial_worth_ = 0.0;
    Proposals found_;
};

}  // namespace eh
