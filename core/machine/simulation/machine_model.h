// SPDX-License-Identifier: GPL-3.0-or-later
// One particular machine: a plan with drawn part values and faults, as a circuit whose states can be set.
//
// The model itself knows no time. core/machine/simulation/course.h drives its states;
// core/machine/simulation/observation.h reads it.
#pragma once

#include <algorithm>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/electrics/dc_solver.h"
#include "core/machine/model/bench_configuration.h"
#include "core/machine/model/fault.h"
#include "core/machine/model/machine_plan.h"
#include "core/machine/model/off_question.h"

namespace eh {

// A machine that would not charge mostly comes with an empty pack: estimate.
inline constexpr double empty_pack_share = 0.6;

// Whether an effect is a short to ground of those that PartDraw::alike_punching_through draws from one
// spread.
bool drawn_alike(const Effect& effect);

// Which machine of the many that share a plan: part values are drawn from their tolerances.
struct PartDraw {
    std::uint64_t seed = 0;
    // Quantile (0..1) for the first drawn value of a fault; lets a set of draws cover its range evenly.
    double severity = 0.5;
    // Quantile (0..1) of the volts from which the first short of the first fault grows, where it does; not
    // given: drawn.
    std::optional<double> knee = {};
    // State of the pack; not given: drawn.
    std::optional<bool> pack_empty = {};
    // Quantile (0..1) of how far a pack that is not empty is charged; not given: drawn.
    std::optional<double> pack_charge = {};
    // How the charger protects itself; not given: as the kit says.
    std::optional<Protection> protection = {};
    // The habits of its maker; not given: drawn.
    std::optional<ByHabit<bool>> habits = {};
    // Shorts to ground are drawn from one spread for all parts, and whether they punch through is given: the
    // draw then has a weight (MachineModel::weight). Parts on one net then show the very same shorts, and
    // only what is known of them beforehand tells them apart.
    std::optional<bool> alike_punching_through = {};
    // By fault: which of the independent streams of draws it takes its values from; stream 0 begins with the
    // severity. Not given: in the order of the faults. A fault keeps its values when others are left away.
    std::vector<int> streams = {};
    // All parts at their nominal values, faults at their medians.
    bool typical = true;
    // Multiplies every tolerance; for trying the reasoning on machines worse than it expects.
    double tolerance_factor = 1.0;
};

class EffectDraw;

class MachineModel {
  public:
    // Faults at blocks the plan does not have are ignored (a catalogue is shared by all topologies).
    MachineModel(const MachinePlan& plan, const std::vector<FaultInstance>& faults, const PartDraw& draw);
    // The same from a machine without faults whose draw differs in severity, knee and streams at most: much
    // faster.
    MachineModel(const MachineModel& sound, const std::vector<FaultInstance>& faults, const PartDraw& draw);

    [[nodiscard]] const MachinePlan& plan() const { return *plan_; }
    [[nodiscard]] Circuit& circuit() { return circuit_; }
    [[nodiscard]] const Circuit& circuit() const { return circuit_; }

    // How much more likely these faults draw these values than the spread that they were drawn from: 1 unless
    // shorts are drawn alike.
    [[nodiscard]] double weight() const { return weight_; }

    // What an instrument makes of what is there.
    struct InstrumentError {
        double volts_factor = 1.0;
        double amps_factor = 1.0;
        double lead_ohms = 0.0;
        bool shows_nothing = false;
    };

    // What the faults of a block amount to, for the state logic. Faults of removed and replaced blocks do not
    // count, nor do those of the customer's charger and lead when the shop's own are used.
    struct BlockCondition {
        bool present = true;  // not removed
        bool dead = false;
        bool holds_path_open = false;  // a controller that never lets its port's path close
        double contract_limit_volts = 1e9;
        double offers_up_to_volts = 1e9;
        double carries_up_to_amps = 1e9;
        double gives_up_to_amps = 1e9;
        bool never_talks = false;
        double asleep_probability = 0.0;  // of a pack
        InstrumentError error;            // of the shop's instruments
    };

    // Sets the machine up as configured, everything off. Requires a port of this topology when a charger is
    // connected, and a net of it when the bench supply is.
    void configure(const BenchConfiguration& configuration);

    [[nodiscard]] const BenchConfiguration& configuration() const { return configuration_; }
    // The port that the charger feeds; -1 where it feeds none.
    [[nodiscard]] int plugged_port() const { return plugged_port_; }
    // Ohms that faults put into what leads the plugged port's current back to the charger.
    [[nodiscard]] double return_ohms() const { return return_ohms_; }
    // What the faults make of a block. Requires an index of the plan.
    [[nodiscard]] const BlockCondition& condition(int block) const;
    // Probability that pushing the plug makes the meter drop out, in this configuration.
    [[nodiscard]] double drop_probability() const;
    // Whether faults that are in play change the circuit itself, and not only states and words.
    [[nodiscard]] bool circuit_is_faulty() const;
    // By node: whether such a fault sits at it.
    [[nodiscard]] std::vector<char> faulty_nodes() const;
    // Quantile (0..1) of when somebody glances at the meter in the first seconds; drawn like a part's value,
    // since neither people nor machines are equally quick.
    [[nodiscard]] double glance_quantile() const { return glance_quantile_; }
    // What the firmware would say about the battery because of a fault, or "".
    [[nodiscard]] const std::string& firmware_says() const { return firmware_says_; }
    // The error of the inline meter or the multimeter (an index of the plan; none for -1) that is in use.
    [[nodiscard]] InstrumentError error_of(int instrument) const {
        return instrument < 0 ? InstrumentError{} : condition(instrument).error;
    }
    // How full the machine says the pack is: known to this width.
    struct Percent {
        double value = 0.0;
        double width = 0.0;
    };
    [[nodiscard]] Percent battery_percent() const;

    // States and parameters, applied to the circuit at once.
    void set_active(int block, bool active);
    void set_live(bool live);
    void set_param(int block, const std::string& name, double value);
    [[nodiscard]] double param(int block, const std::string& name) const;
    [[nodiscard]] double resolve(const PlanValue& value) const;
    // How the charger in use protects itself. Makes differ, so that it is drawn like a part's value.
    struct SourceProtection {
        Protection protection = Protection::hiccup;
        double trip_s = 0.0;
        double recover_s = 0.0;
    };
    // Requires a charger that is connected.
    [[nodiscard]] SourceProtection source_protection() const;
    // What is plugged in: blocks of the plan, and the kit's word on the charger. Require a charger that is
    // connected.
    [[nodiscard]] int charger_block() const { return charger_block_; }
    [[nodiscard]] int lead_block() const { return lead_block_; }
    [[nodiscard]] const ChargerSpec& charger_spec() const { return *charger_spec_; }
    // What the charger in use, as it is, and its lead promise of the amps of an offer. Requires a plugged
    // port.
    [[nodiscard]] double promised_of(double offered_amps) const {
        return std::min({offered_amps, condition(lead_block()).carries_up_to_amps,
                         condition(charger_block()).carries_up_to_amps});
    }
    [[nodiscard]] bool has(Habit habit) const { return habits_[static_cast<std::size_t>(habit)]; }
    // Voltage, limit and fold of the charger in use; 0 V: off.
    void set_source(double volts, double limit_amps, double fold);

    [[nodiscard]] ElementId source_element() const { return source_element_; }
    // The bench supply, and the node it feeds; ground when it is off.
    [[nodiscard]] ElementId supply_element() const { return supply_element_; }
    [[nodiscard]] NodeId supply_node() const { return supply_node_; }
    [[nodiscard]] NodeId source_node() const { return source_node_; }
    [[nodiscard]] NodeId source_signal_node() const { return source_signal_node_; }  // CC at the charger
    [[nodiscard]] NodeId meter_node() const { return meter_node_; }
    // Heat in each block at these node volts, watts, by block index.
    [[nodiscard]] std::vector<double> block_watts(const std::vector<double>& node_volts) const;
    // Of that, heat in the shunts of the first fault.
    [[nodiscard]] double first_shunt_watts(const std::vector<double>& node_volts) const;

    // Of the wire in the lead that carries the talk; infinity where it is broken. Requires a charger that is
    // connected.
    [[nodiscard]] double signal_wire_ohms() const;
    // What draws from the bare plug in a tester: so many ohms; infinity: nothing.
    void load_plug(double ohms);

    // Ohms from end to end of the worst wire of a part that stands by itself, in this configuration; infinity
    // where one is open. Contacts that a plug closes are not among them.
    [[nodiscard]] double through_ohms(int block) const;
    // Volts that a multimeter shows in diode mode, red on ground and black on the net, machine off (1 mA,
    // common practice): what drops over the diodes that chips have from ground to their pins. Infinity above
    // 2 V. Requires a configuration without power.
    [[nodiscard]] double diode_drop(int net, DcSolver& solver) const;
    // Ohms to ground at a net as a multimeter shows them: machine off, 0.3 V test volts through 300 Ω.
    // Returns infinity above `range_ohms`. With a bare plug in a port, nets that its contacts lead to are
    // measured at those contacts.
    [[nodiscard]] double ohms_to_ground(int net, DcSolver& solver, double range_ohms = 2e7);
    // The same from one net to another; the second one is met on the board.
    [[nodiscard]] double ohms_between(int net, int other, DcSolver& solver, double range_ohms = 2e7);
    // Volts at the connector of the pack, which is unplugged. An empty one has 2.4 to 3.2 V a cell, one that
    // was left empty for long 0.8 to 2.6 (common practice); one that its protection has put to sleep shows
    // none. NaN where the machine has no pack.
    [[nodiscard]] double pack_alone_volts() const;
    // What the multimeter shows of the machine as it is configured, without power: one of the above. Infinity
    // is OL, NaN: no operating point was found. Requires indices of the plan.
    [[nodiscard]] double answer(const OffQuestion& question, DcSolver& solver);

  private:
    static constexpr double open_ohms = 1e9;
    static constexpr double smallest_ohms = 1e-4;

    struct AppliedEffect {
        int block = 0;
        const FaultSpec* fault = nullptr;
        bool of_first = false;  // of stream 0
        Effect effect;
        double ohms = 0.0;
        double amps = 0.0;        // gives_up_to
        double knee_volts = 0.0;  // 0: plain resistance
        int element = -1;         // plan element (series, open)
        ElementId shunt;          // circuit element (shunt)
    };

    void draw_values(const PartDraw& draw);
    // In model_faults.cpp.
    void add_effects(const std::vector<FaultInstance>& faults, const PartDraw& draw);
    void add_effect(AppliedEffect applied, const FaultInstance& fault, EffectDraw& drawing);
    bool add_shunt(AppliedEffect& applied);
    void put_effect(const AppliedEffect& applied);
    [[nodiscard]] bool is_at_plugged_port(const PlanBlock& block, const std::string& pin) const;
    static void put_error(InstrumentError& error, const Effect& effect);

    void fill_pack();
    void follow_pack();
    void refresh_limited();
    void find_source();
    void refresh_block(int block);
    void refresh_element(int index);
    [[nodiscard]] NodeId probed_node(int net) const;
    [[nodiscard]] double ohms_from_to(NodeId node, NodeId other, DcSolver& solver, double range_ohms);
    [[nodiscard]] bool is_faint(const PlanElement& element) const;
    void refresh_leakages();
    void set_supply();
    [[nodiscard]] bool condition_holds(const PlanElement& element) const;
    [[nodiscard]] bool effect_counts(const AppliedEffect& effect) const;
    [[nodiscard]] Element make_element(const PlanElement& element, bool on, double added_ohms,
                                       double factor) const;

    const MachinePlan* plan_;
    Circuit circuit_;  // element i is plan element i; then each node's leakage; the fault shunts come last
    BenchConfiguration configuration_;
    int plugged_port_ = -1;
    int touched_port_ = -1;  // that a plug is in, the charger's or a bare one
    int source_port_ = -1;   // that the connected charger is made for, be it in there or at a tester
    double return_ohms_ = 0.0;
    int charger_block_ = -1;
    int lead_block_ = -1;
    const ChargerSpec* charger_spec_ = nullptr;
    bool live_ = false;
    bool limits_amps_ = false;  // what flows through the path is limited now
    double weight_ = 1.0;
    std::optional<Protection> other_protection_;  // of a charger of another make than the kit's
    double recover_factor_ = 1.0;
    ByHabit<bool> habits_{};
    double nominal_pack_volts_ = 0.0;
    double pack_charge_ = 0.5;  // quantile
    double glance_quantile_ = 0.5;
    double sleeps_ = 0.5;               // quantile: the pack is asleep where its probability is above this
    double broken_ohms_ = open_ohms;    // past what is open
    double faint_ohms_ = 0.0;           // what an ohmmeter sees of an element that is there under power only
    std::vector<double> leakage_ohms_;  // by node, ground left out
    std::vector<ElementId> leakages_;   // likewise
    std::vector<double> factors_;       // by plan element
    std::vector<double> drawn_slots_;   // parameters as drawn
    std::vector<double> slots_;         // parameters as they stand now
    std::vector<char> active_;
    std::vector<BlockCondition> conditions_;
    std::vector<AppliedEffect> effects_;
    std::vector<double> added_ohms_;  // by plan element
    std::vector<char> opened_;        // by plan element
    std::string firmware_says_;
    ElementId source_element_;
    ElementId supply_element_;
    NodeId supply_node_;
    ElementId ohmmeter_current_, ohmmeter_inside_;
    NodeId source_node_, source_signal_node_, meter_node_;
};

}  // namespace eh
