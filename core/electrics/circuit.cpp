// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrics/circuit.h"

#include <cassert>
#include <utility>

#include "core/base/text.h"
#include "core/electrics/element_laws.h"

namespace eh {
namespace {

template <class... Ts>
struct Overloaded : Ts... {
    using Ts::operator()...;
};
template <class... Ts>
Overloaded(Ts...) -> Overloaded<Ts...>;

std::string number(double value) {
    return number_text("%.15g", value);
}

std::string positive_part(const std::string& x, double width) {
    return "(0.5*((" + x + ")+sqrt((" + x + ")*(" + x + ")+" + number(width * width) + ")))";
}

std::string soft_positive_part(const std::string& x, double width) {
    return "(max(" + x + ",0)+" + number(width) + "*ln(1+exp(-abs(" + x + ")/" + number(width) + ")))";
}

std::string minimum(const std::string& a, const std::string& b, double width) {
    return "(0.5*((" + a + ")+(" + b + ")-sqrt(((" + a + ")-(" + b + "))*((" + a + ")-(" + b + "))+" +
           number(width * width) + ")))";
}

std::string folded_limit(double limit_amps, double fold, const std::string& volts, double full_volts) {
    if (fold >= 1.0)
        return number(limit_amps);
    constexpr double width = laws::limit_rounding_share;
    const std::string share = minimum(positive_part(volts + "/" + number(full_volts), width), "1", width);
    return number(limit_amps) + "*(" + number(fold) + "+" + number(1.0 - fold) + "*" + share + ")";
}

class SpiceWriter {
  public:
    SpiceWriter(const Circuit& circuit, const std::string& title) : circuit_(circuit) {
        text_ = "* " + title + "\n.options reltol=1e-9 abstol=1e-13 vntol=1e-10 gmin=1e-15\n";
    }

    std::string write() {
        for (int i = 0; i < circuit_.element_count(); ++i) {
            serial_ = integer_text(i);
            std::visit([this](const auto& element) { line(element); }, circuit_.element(ElementId{i}));
        }
        return text_ + ".control\nset numdgt=12\nop\nprint all\n.endc\n.end\n";
    }

  private:
    std::string at(NodeId node) const { return node == ground ? "0" : "n" + integer_text(node.index); }
    std::string volts(NodeId a, NodeId b) const { return "(V(" + at(a) + ")-V(" + at(b) + "))"; }
    void behavioural(const std::string& tag, NodeId from, NodeId to, const std::string& amps) {
        text_ += "B" + tag + serial_ + " " + at(from) + " " + at(to) + " I=" + amps + "\n";
    }

    void line(const Resistor& e) {
        text_ += "R" + serial_ + " " + at(e.a) + " " + at(e.b) + " " + number(e.ohms) + "\n";
    }
    void line(const VoltageSource& e) {
        text_ += "V" + serial_ + " " + at(e.plus) + " " + at(e.minus) + " DC " + number(e.volts) + "\n";
    }
    void line(const CurrentSource& e) {
        text_ += "I" + serial_ + " " + at(e.from) + " " + at(e.to) + " DC " + number(e.amps) + "\n";
    }
    void line(const Diode& e) {
        text_ += "D" + serial_ + " " + at(e.anode) + " " + at(e.cathode) + " DM" + serial_ + "\n.model DM" +
                 serial_ + " D(IS=" + number(e.saturation_amps) + " N=" + number(e.emission) + ")\n";
    }
    void line(const PunchThrough& e) {
        const std::string v = volts(e.a, e.b);
        behavioural("P", e.a, e.b,
                    v + "/" + number(e.ohms) + "*(1+" + v + "*" + v + "/" +
                        number(e.knee_volts * e.knee_volts) + ")");
    }
    void line(const LimitedSource& e) {
        if (e.volts <= 0.0)
            return;
        const std::string v = volts(e.plus, e.minus);
        const std::string wanted =
            soft_positive_part("((" + number(e.volts) + "-" + v + ")/" + number(e.ohms) + ")",
                               laws::cutoff_rounding_share * e.limit_amps);
        behavioural("S", e.minus, e.plus,
                    minimum(wanted, folded_limit(e.limit_amps, e.fold, v, e.volts),
                            laws::limit_rounding_share * e.limit_amps));
    }
    void line(const ConstantPowerLoad& e) {
        const std::string v = volts(e.plus, e.minus);
        behavioural("L", e.plus, e.minus,
                    number(e.watts) + "*" + v + "/(" + v + "*" + v + "+" +
                        number(e.floor_volts * e.floor_volts) + ")");
    }
    void line(const Regulator& e) {
        if (e.volts <= 0.0)
            return;
        const std::string in = volts(e.in, ground);
        const std::string out = volts(e.out, ground);
        const double w = laws::volts_rounding;
        const std::string target =
            helper("T", positive_part(minimum(number(e.volts), in + "-" + number(e.dropout_volts), w), w));
        const std::string wanted =
            helper("W", soft_positive_part(
                            "((" + target + "-" + number(w / 2.0) + "-" + out + ")/" + number(e.ohms) + ")",
                            laws::cutoff_rounding_share * e.limit_amps));
        const std::string delivered =
            helper("D", minimum(wanted, folded_limit(e.limit_amps, e.fold, out, e.volts),
                                laws::limit_rounding_share * e.limit_amps));
        const std::string floor = number(laws::converter_floor_volts * laws::converter_floor_volts);
        const std::string quiescent =
            number(e.quiescent_amps) + "*" + in + "/sqrt(" + in + "*" + in + "+" + floor + ")";
        const std::string drawn = e.efficiency <= 0.0
                                      ? delivered
                                      : positive_part(out, w) + "*" + delivered + "/" + number(e.efficiency) +
                                            "*" + in + "/(" + in + "*" + in + "+" + floor + ")";
        behavioural("RI", e.in, ground, drawn + "+" + quiescent);
        behavioural("RO", ground, e.out, delivered);
    }

    // An intermediate result as the voltage of a node of its own, so that expressions do not grow by nesting.
    std::string helper(const std::string& tag, const std::string& expression) {
        const std::string node = "h" + tag + serial_;
        text_ += "BH" + tag + serial_ + " " + node + " 0 V=" + expression + "\n";
        return "V(" + node + ")";
    }

    const Circuit& circuit_;
    std::string text_;
    std::string serial_;
};

}  // namespace

Circuit::Circuit() : Circuit(std::vector<std::string>{"gnd"}) {}

Circuit::Circuit(std::vector<std::string> node_names) : node_names_(std::move(node_names)) {
    assert(node_names_.size() > 0 && node_names_[0] == "gnd");
    for (std::size_t n = 0; n < node_names_.size(); ++n)
        mark_changed(0);
}

void Circuit::mark_changed(std::uint64_t what) {
    // Steele, Lea and Flood's mixer (splitmix64): equal sequences give equal fingerprints, others practically
    // never.
    std::uint64_t z = structure_fingerprint_ + what + 0x9e3779b97f4a7c15ULL;
    z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ULL;
    z = (z ^ (z >> 27)) * 0x94d049bb133111ebULL;
    structure_fingerprint_ = z ^ (z >> 31);
}

NodeId Circuit::node(const std::string& name) {
    const NodeId known = find_node(name);
    if (known.index >= 0)
        return known;
    node_names_.push_back(name);
    mark_changed(0);
    return {node_count() - 1};
}

NodeId Circuit::find_node(const std::string& name) const {
    if (name == "0")
        return ground;
    for (int i = 0; i < node_count(); ++i) {
        if (node_names_[static_cast<std::size_t>(i)] == name)
            return {i};
    }
    return {-1};
}

const std::string& Circuit::node_name(NodeId node) const {
    assert(node.index >= 0 && node.index < node_count());
    return node_names_[static_cast<std::size_t>(node.index)];
}

void Circuit::mark_element(const Element& element) {
    mark_changed(1 + element.index());
    for (const NodeId node : nodes_of(element)) {
        assert(node.index >= 0 && node.index < node_count() && "element on a node of another circuit");
        mark_changed(static_cast<std::uint64_t>(node.index));
    }
}

void Circuit::replace(ElementId id, Element element) {
    elements_[static_cast<std::size_t>(id.index)] = element;
    structure_fingerprint_ = 0;
    for (int n = 0; n < node_count(); ++n)
        mark_changed(0);
    for (const Element& each : elements_)
        mark_element(each);
}

ElementId Circuit::add(std::string name, const Element& element) {
    mark_element(element);
    elements_.push_back(element);
    element_names_.push_back(std::move(name));
    return {element_count() - 1};
}

const Element& Circuit::element(ElementId id) const {
    assert(id.index >= 0 && id.index < element_count());
    return elements_[static_cast<std::size_t>(id.index)];
}

const std::string& Circuit::element_name(ElementId id) const {
    assert(id.index >= 0 && id.index < element_count());
    return element_names_[static_cast<std::size_t>(id.index)];
}

std::array<NodeId, 2> nodes_of(const Element& element) {
    using Ends = std::array<NodeId, 2>;
    return std::visit(Overloaded{
                          [](const Resistor& e) {
                              return Ends{e.a, e.b};
                          },
                          [](const VoltageSource& e) {
                              return Ends{e.plus, e.minus};
                          },
                          [](const CurrentSource& e) {
                              return Ends{e.from, e.to};
                          },
                          [](const Diode& e) {
                              return Ends{e.anode, e.cathode};
                          },
                          [](const PunchThrough& e) {
                              return Ends{e.a, e.b};
                          },
                          [](const LimitedSource& e) {
                              return Ends{e.plus, e.minus};
                          },
                          [](const ConstantPowerLoad& e) {
                              return Ends{e.plus, e.minus};
                          },
                          [](const Regulator& e) {
                              return Ends{e.in, e.out};
                          },
                      },
                      element);
}

std::string to_spice(const Circuit& circuit, const std::string& title) {
    return SpiceWriter(circuit, title).write();
}

}  // namespace eh
