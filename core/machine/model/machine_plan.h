// SPDX-License-Identifier: GPL-3.0-or-later
// A topology compiled for computation: names resolved to indices, parameters to param_slots.
//
// One plan serves any number of machine models (core/machine/simulation/machine_model.h) and threads; it is
// never changed after construction.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/machine/model/knowledge.h"

namespace eh {

// A number, or the slot of the parameter that supplies it.
struct PlanValue {
    double number = 0.0;
    int slot = -1;
};

// The values an element may have; which ones it uses depends on its type.
enum ElementValue : std::size_t {
    value_ohms,
    value_volts,
    value_limit_amps,
    value_fold,
    value_watts,
    value_floor_volts,
    value_dropout_volts,
    value_efficiency,
    value_quiescent_amps,
    value_saturation_amps,
    value_emission,
    value_amps,
    element_value_count
};

struct PlanElement {
    std::string name;
    int block = 0;
    int from = 0;  // circuit node index
    int to = 0;
    ElementType type = ElementType::resistor;
    ElementCondition when = ElementCondition::always;
    double tolerance = 0.0;
    std::optional<Habit> faint_by;
    std::optional<Habit> only_by;   // machines without this habit do not have it
    std::optional<Habit> never_by;  // nor do those with this one
    std::optional<Habit> folds_by;  // only machines of this habit have its fold
    bool stops_when_shorted = false;
    std::array<PlanValue, element_value_count> values;
};

struct PlanNeed {
    int node = -1;               // node whose volts are checked, or -1
    std::vector<int> blocks;     // all must work
    std::vector<int> unstopped;  // none may have opened at a short
    bool contract = false;
    int plugged_port = -1;  // the need is there only while the charger is in this port; -1: always
    PlanValue above{-1e9, -1};
    PlanValue below{1e9, -1};
    NeedPurpose purpose = NeedPurpose::power;
    std::vector<int> undamaged;   // blocks that must be neither dead nor missing
    std::optional<Habit> habit;   // only machines that have it need this
    std::vector<Habit> eased_by;  // machines with one of these are content with fewer volts
    double eased_to_volts = 0.0;
    bool eased_without_pack = false;
};

struct PlanBlock {
    std::string id;
    const BlockKind* kind = nullptr;
    int port = -1;       // index into the topology's ports, or -1
    std::string family;  // outside blocks: the inlet family they serve
    std::vector<PlanNeed> needs;
    std::vector<PlanNeed> charge_needs;
    std::vector<int> peers;  // controllers that must be alive too
    int first_element = 0;   // its elements are contiguous in MachinePlan::elements
    int element_count = 0;
    std::map<std::string, int> param_slots;  // parameter name -> slot
    std::map<std::string, int> pin_nodes;    // pin name -> node, -1 when open

    [[nodiscard]] bool is_instrument() const {
        return kind->role == BlockRole::inline_meter || kind->role == BlockRole::multimeter;
    }
    // Chargers, leads and instruments: nothing is opened to get at them.
    [[nodiscard]] bool is_outside() const { return !family.empty() || is_instrument(); }
};

// Made as a FittedPlan (simulation/known_ohms.h).
class MachinePlan {
  public:
    MachinePlan(const MachinePlan&) = delete;
    MachinePlan& operator=(const MachinePlan&) = delete;

    [[nodiscard]] const Knowledge& knowledge() const { return *knowledge_; }
    [[nodiscard]] const Topology& topology() const { return *topology_; }

    std::vector<std::string> node_names;  // by circuit node index, ground first
    std::vector<int> net_nodes;           // node of each net of the topology, in its order
    std::vector<NetVariety> net_variety;  // of each net, in the same order: the widest of the parts on it
    ByHabit<bool> impossible_habits{};    // that no machine of this plan has
    std::vector<PlanBlock> blocks;  // topology's blocks in their order, then chargers, leads, instruments
    std::vector<PlanElement> elements;
    std::vector<double> slot_values;  // defaults
    std::vector<double> slot_tolerances;
    std::vector<int> controller_of_port;  // block index by port index, -1 when the port has none
    std::vector<int> path_out_nodes;      // by port index: behind what closes once there is a contract, or -1
    std::vector<int> chargers;            // blocks that make the system rail
    int rail_node = 0;
    int mainboard = -1;
    int five_volt_supply = -1;
    int always_on_node = -1;  // what feeds the embedded controller
    int pack = -1;
    int inline_meter = -1;
    int multimeter = -1;

    // Indices by id; -1 where the plan has none.
    [[nodiscard]] int find_block(const std::string& id) const;
    [[nodiscard]] int port_index(const std::string& id) const;
    [[nodiscard]] int node(const std::string& name) const;
    // Charger and lead blocks for a family of inlets.
    [[nodiscard]] int charger_block(const std::string& family) const;
    [[nodiscard]] int lead_block(const std::string& family) const;
    [[nodiscard]] const ChargerSpec& charger_spec(int port) const;

  protected:
    // Requires a topology that parse_topology accepted against this knowledge; both must outlive the plan.
    MachinePlan(const Knowledge& knowledge, const Topology& topology);
    ~MachinePlan() = default;

  private:
    int add_node(const std::string& name);
    void add_variety();
    void add_impossible_habits();
    [[nodiscard]] int path_out_node(int port) const;
    [[nodiscard]] bool makes_five_volts(const PlanBlock& block) const;
    int add_block(const std::string& id, const BlockKind& kind,
                  const std::map<std::string, std::string>& pins,
                  const std::map<std::string, double>& params);
    PlanValue resolve(const ValueSpec& value, const PlanBlock& block) const;
    PlanNeed resolve(const Need& need, const Block& source, const PlanBlock& block) const;
    void add_outside(const std::string& family, const ChargerSpec& charger, const LeadSpec& lead);

    const Knowledge* knowledge_;
    const Topology* topology_;
};

// Ids of the blocks that stand outside the machine, by family of inlet.
std::string charger_block_id(const std::string& family);
std::string lead_block_id(const std::string& family);
// Id of the block of a kind of instrument.
std::string instrument_block_id(const BlockKind& kind);

}  // namespace eh
