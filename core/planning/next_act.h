// SPDX-License-Identifier: GPL-3.0-or-later
// What to do next: the reading that tells most per minute, or the repair when it is due.
//
// Information is the mutual information, in bits, between the part at fault and what the reading would show.
// Minutes are the reading's own, the set-up still to be paid, and the risk expressed in minutes. Repairing is
// due when one part is nearly certain, or when no reading is expected to save more time than it takes (one
// step of look-ahead on the expected cost of repair) - and, where it takes heat or opening, when the suspect
// stood the test of two readings at its own pins (common practice: measure at the part before replacing it).
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/inference/ranking.h"
#include "core/planning/bench_costs.h"
#include "core/planning/customer_question.h"
#include "core/planning/danger_watch.h"
#include "core/planning/survey.h"

namespace eh {

// One thing that the reading may show, and what it would mean.
struct Telling {
    std::string shows;  // "about 3.3 Ω", "OL", "5 V, 0.05 to 0.2 A, steady"
    double probability = 0.0;
    std::string block;  // part that leads then, "" for nothing wrong / none of these
    HypothesisKind kind = HypothesisKind::fault;
    double leading_probability = 0.0;  // of that part, then
    int outcome = 0;                   // its number (outcome_bins.h)
};

// The two that a reading parts best, of those that matter most.
struct ToldApart {
    struct Side {
        std::string block;  // "" for nothing wrong / none of these
        HypothesisKind kind = HypothesisKind::fault;
    };
    Side first;
    Side second;
};

// Why a repair is due, strongest first.
enum class DueBecause {
    certain,        // the suspicion itself
    seen_broken,    // the part is changed whatever else is wrong
    let_go,         // the inlet let go of the shop's own plug when that was moved
    nothing_saves,  // likely enough, and no reading would save more than it costs
    nothing_left,   // no reading tells anything more
};

struct NextAct {
    bool repair = false;
    // A reading to take ...
    ReadingKind reading = ReadingKind::meter;
    std::string place;
    BenchConfiguration configuration;
    std::vector<Handling> work_first;  // on parts, before it
    bool cut_power_first = false;
    std::vector<Telling> tells;  // most probable first
    std::optional<ToldApart> told_apart;
    bool on_trial = false;        // taken to test a suspect before its repair
    bool again = false;           // taken before, and it fitted nothing
    bool to_show = false;         // what was put right works here, too
    bool before_power = false;    // a look that comes before power, for what the intake says
    bool before_opening = false;  // tried since it costs less than opening the case
    // ... or a part to put right.
    FaultInstance fault;  // the leading way in which it is at fault
    Work remedy = Work::none;
    double cures = 1.0;  // estimate: share of the cases that it puts right
    DueBecause because = DueBecause::nothing_left;

    double minutes = 0.0;        // own time and set-up
    double setup_minutes = 0.0;  // part of it that is set-up
    double kept_minutes = 0.0;   // part of the set-up that the repair is likely to need in any case
    double risk_minutes = 0.0;
    double bits = 0.0;
    double bits_per_minute = 0.0;
    double liking = 0.0;          // the same with the school's preference: what orders the list
    double saving_minutes = 0.0;  // expected saving over repairing at once; may be negative
};

// What a technician likes to begin with; counts when acts are put in order, as if those readings told more.
enum class School { none, outside_in, ohms_first, thermal_first };
inline constexpr int school_count = 4;

struct NextOptions {
    std::size_t most = 3;  // acts returned, of as many places as there are (most_varied)
    bool case_may_be_opened = true;
    School school = School::none;
    // What each kind needs: is_equipped() in act_list.h.
    std::vector<ReadingKind> instruments{
        ReadingKind::meter,   ReadingKind::net_volts, ReadingKind::net_ohms,  ReadingKind::firmware,
        ReadingKind::wiggle,  ReadingKind::hot_part,  ReadingKind::injection, ReadingKind::look,
        ReadingKind::through, ReadingKind::talk};
    bool known_good_parts = true;           // jacks, packs and the like to plug in for a reading
    bool reflow_first = false;              // of two schools: warm a chip's joints before replacing it
    std::vector<std::string> reflowed;      // parts that were, since the job began
    std::vector<std::string> out_of_reach;  // nets that no probe gets at: their readings are not proposed
    std::vector<std::string> facts;         // of the intake, that are so
    std::vector<std::string> facts_asked;   // of the intake: answered, or nobody knew
    bool part_ordered = false;              // the job waits for a part
    bool second_instruments = true;         // another meter to read with where the usual one is in doubt
};

// The job laid by until a part is there, which is ordered: beside a repair that is due and needs a new part.
struct Parking {
    std::string block;     // that a part is ordered for
    double minutes = 0.0;  // to order it and to lay the job by
    friend bool operator==(const Parking&, const Parking&) = default;
};

struct NextStep {
    std::vector<NextAct> acts;  // best first; a due repair stands first
    bool repair_due = false;
    bool all_put_right = false;       // by work done so far, as surely as a repair is due: time to prove it
    double repair_now_minutes = 0.0;  // expected cost of the best repair at once, failures included
    std::optional<CustomerQuestion> question;  // to ask beside the acts; nothing once a repair is due
    std::optional<Survey> survey;      // as one act, where some of it is worth reading and the case is closed
    std::optional<Parking> parking;    // beside a due repair by a new part; nothing where it was ordered
    std::vector<DangerFound> dangers;  // that keep power away; what they forbid is not among the acts
};

// Configurations that readings can be taken in from here, without parts removed; most useful first. Their
// columns make the candidates of next_acts.
std::vector<BenchConfiguration> reachable_configurations(const BenchConfiguration& now,
                                                         const MachinePlan& plan);

// Others for the meter alone, where what was read in this port asks for them: the power button pressed after
// a contract at which next to nothing flows, the plug held to its good side where nothing flowed or the meter
// dropped out, the customer's charger and lead at a load tester (common practice for all three).
std::vector<BenchConfiguration> occasional_configurations(const BenchConfiguration& now,
                                                          const MachinePlan& plan,
                                                          const std::vector<Reading>& taken);

// Every configuration with all parts in their places: ports, plug sides, whose charger and lead, battery in
// and out.
std::vector<BenchConfiguration> usual_configurations(const MachinePlan& plan);

// Configurations that feed a shorted net from the bench supply: nets that the suspects make likely to be
// shorted, at volts and a limit that harm nothing on them (common practice: start at 1 V or less). Where that
// was done and warmed nothing, once more at as many volts as warm a part by hand, never above the net's own
// (common practice: raise slowly). Most likely short first; from known columns of ohms only.
std::vector<BenchConfiguration> injection_configurations(const PredictionTable& table, const Ranking& ranking,
                                                         const std::vector<Reading>& taken,
                                                         const BenchConfiguration& now);

// Proposes from columns that are known already (PredictionTable::known_*): never computes predictions. `now`
// is how the bench stands; readings already taken in the same configuration are not proposed again.
NextStep next_acts(const PredictionTable& table, const Ranking& ranking, const std::vector<Reading>& taken,
                   const BenchConfiguration& now, const BenchCosts& costs, const NextOptions& options = {});

// Computes the columns that next_acts can use from here. False when stopped.
bool prepare_candidates(PredictionTable& table, const Ranking& ranking, const std::vector<Reading>& taken,
                        const BenchConfiguration& now, const std::function<bool()>& stop = {},
                        const std::function<void(double)>& progress = {});

// For people: "Meter at port 2, side A", "Ohms of VBUS of port 2 to ground, battery out",
// "Replace the surge protector of port 2".
std::string describe(const NextAct& act, const MachinePlan& plan);

// Of a part of the machine or of what is plugged in; its id where there is none.
std::string part_title(const MachinePlan& plan, const std::string& id);

}  // namespace eh
