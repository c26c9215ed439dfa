// SPDX-License-Identifier: GPL-3.0-or-later
// A network of resistors, sources, diodes, converters and loads at direct current.
//
// The circuit is plain data: values may be changed at any time and solved again (core/electrics/dc_solver.h).
// Every element is voltage-controlled, that is, its currents are a smooth function of its node voltages; only
// the ideal voltage source adds an unknown current. Smoothness (no kinks) is what lets Newton's method work.
//
// Not for: alternating current, transients, semiconductors beyond the simple exponential diode.
#pragma once

#include <array>
#include <cstdint>
#include <string>
#include <variant>
#include <vector>

#include "core/electrics/shared_names.h"

namespace eh {

// Index of a node inside one circuit. Node 0 is ground.
struct NodeId {
    int index = 0;
    friend bool operator==(NodeId, NodeId) = default;
};
inline constexpr NodeId ground{0};

struct ElementId {
    int index = -1;
};

struct Resistor {
    NodeId a, b;
    double ohms;  // > 0
};

// Ideal: holds volts between plus and minus whatever flows.
struct VoltageSource {
    NodeId plus, minus;
    double volts;
};

// Pushes amps through itself from `from` to `to`.
struct CurrentSource {
    NodeId from, to;
    double amps;
};

// Shockley's equation at 27 °C: I = Is (exp(V / (n Vt)) - 1).
struct Diode {
    NodeId anode, cathode;
    double saturation_amps = 1e-9;
    double emission = 1.0;
};

// A short that grows with volts, as damaged semiconductors and cracked ceramics do:
// I = V / R * (1 + (V / Vk)^2). `ohms` is what an ohmmeter's small test voltage sees.
struct PunchThrough {
    NodeId a, b;
    double ohms;        // > 0
    double knee_volts;  // > 0
};

// A charger, bench supply or pack: `volts` behind `ohms` until limit_amps, delivers only (takes no current).
// With fold < 1 the limit shrinks as the output collapses: at 0 V only fold * limit_amps flows (fold-back);
// with fold = 1 the limit is constant.
struct LimitedSource {
    NodeId plus, minus;
    double volts;
    double ohms;        // > 0
    double limit_amps;  // > 0
    double fold = 1.0;  // 0..1
};

// Takes `watts`, as converters behind it do; below floor_volts it lets go.
struct ConstantPowerLoad {
    NodeId plus, minus;
    double watts;
    double floor_volts = 1.0;  // > 0
};

// Voltage regulator: holds `volts` at out as long as the input is `dropout_volts` above it and the current
// stays under limit_amps; never takes current back from its output. With fold < 1 the limit shrinks as the
// output collapses, as a source's does.
// efficiency = 0: linear (input current = output current); otherwise switching with that efficiency.
// volts = 0 switches it off.
struct Regulator {
    NodeId in, out;
    double volts;
    double dropout_volts;
    double ohms;        // output resistance, > 0
    double limit_amps;  // > 0
    double efficiency = 0.0;
    double quiescent_amps = 0.0;
    double fold = 1.0;  // 0..1
};

using Element = std::variant<Resistor, VoltageSource, CurrentSource, Diode, PunchThrough, LimitedSource,
                             ConstantPowerLoad, Regulator>;

class Circuit {
  public:
    Circuit();
    // With these nodes, each named once, “gnd” first.
    explicit Circuit(std::vector<std::string> node_names);

    // The node of that name, made when new. "gnd" and "0" are ground.
    NodeId node(const std::string& name);
    // The node of that name, or nothing known: index -1.
    [[nodiscard]] NodeId find_node(const std::string& name) const;
    [[nodiscard]] const std::string& node_name(NodeId node) const;
    // Number of nodes, ground included.
    [[nodiscard]] int node_count() const { return static_cast<int>(node_names_.size()); }

    // Adds an element under a name used in messages and in exported netlists. Requires nodes of this circuit
    // and the value ranges stated at each element.
    ElementId add(std::string name, const Element& element);

    // Makes copies cheap, which then refer to the names that there are now.
    void share_names() {
        node_names_.share();
        element_names_.share();
    }

    // Of nodes and elements in their order, without names and values: equal fingerprints mean equal
    // structure.
    [[nodiscard]] std::uint64_t structure_fingerprint() const { return structure_fingerprint_; }

    [[nodiscard]] int element_count() const { return static_cast<int>(elements_.size()); }
    [[nodiscard]] const Element& element(ElementId id) const;
    [[nodiscard]] const std::string& element_name(ElementId id) const;
    [[nodiscard]] const std::vector<Element>& elements() const { return elements_; }

    // Puts a new element, on other nodes perhaps, in the place of one.
    void replace(ElementId id, Element element);

    // Mutable access to one element's values. Its nodes must stay as they are, but for those of a linear
    // element to ground, whose place in the equations every structure has.
    template <typename T>
    T& get(ElementId id) {
        return std::get<T>(elements_[static_cast<std::size_t>(id.index)]);
    }

  private:
    void mark_changed(std::uint64_t what);
    void mark_element(const Element& element);

    std::uint64_t structure_fingerprint_ = 0;
    SharedNames node_names_;
    SharedNames element_names_;
    std::vector<Element> elements_;
};

// The nodes an element lies between; a regulator also uses ground.
std::array<NodeId, 2> nodes_of(const Element& element);

// The circuit as a netlist for a SPICE-class simulator, one `.op` analysis, node names kept. Nonlinear
// elements become behavioural current sources with the same equations as the solver's.
std::string to_spice(const Circuit& circuit, const std::string& title);

}  // namespace eh
