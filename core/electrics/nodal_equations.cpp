// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrics/nodal_equations.h"

#include <Eigen/LU>
#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

#include "core/electrics/element_laws.h"

namespace eh {

// Currents into the first and out of the second node of an element, by the volts of both. Elements between
// two nodes depend on the difference alone.
struct ElementCurrents {
    double into_first = 0.0;
    double out_of_second = 0.0;
    double d_first_first = 0.0;  // of into_first
    double d_first_second = 0.0;
    double d_second_first = 0.0;  // of out_of_second
    double d_second_second = 0.0;
};

namespace {

constexpr double smallest_pivot_share = 1e-14;  // of the largest; below it the system counts as singular
constexpr std::size_t most_structures = 512;

// Groups of nodes that conductive elements tie together.
class Groups {
  public:
    explicit Groups(int count) : parent_(static_cast<std::size_t>(count)) {
        std::iota(parent_.begin(), parent_.end(), 0);
    }
    int root(int i) {
        while (parent_[static_cast<std::size_t>(i)] != i)
            i = parent_[static_cast<std::size_t>(i)];
        return i;
    }
    void join(int a, int b) { parent_[static_cast<std::size_t>(root(a))] = root(b); }

  private:
    std::vector<int> parent_;
};

int find_floating_node(const Circuit& circuit) {
    Groups groups(circuit.node_count());
    for (const Element& element : circuit.elements()) {
        if (std::holds_alternative<CurrentSource>(element))
            continue;
        const auto [first, second] = nodes_of(element);
        groups.join(first.index, second.index);
        if (std::holds_alternative<Regulator>(element))
            groups.join(first.index, ground.index);
    }
    for (int i = 1; i < circuit.node_count(); ++i) {
        if (groups.root(i) != groups.root(0))
            return i;
    }
    return -1;
}

bool is_linear(const Element& element) {
    return std::holds_alternative<Resistor>(element) || std::holds_alternative<VoltageSource>(element) ||
           std::holds_alternative<CurrentSource>(element);
}

ElementCurrents through(const laws::Dual& amps) {
    const double slope = amps.slope[0];
    return {amps.value, amps.value, slope, -slope, slope, -slope};
}

struct CurvedLaw {
    double first_volts, second_volts;

    [[nodiscard]] double across() const { return first_volts - second_volts; }
    ElementCurrents operator()(const Resistor&) const { return {}; }
    ElementCurrents operator()(const VoltageSource&) const { return {}; }
    ElementCurrents operator()(const CurrentSource&) const { return {}; }
    ElementCurrents operator()(const Diode& e) const { return through(laws::diode_amps(e, across())); }
    ElementCurrents operator()(const PunchThrough& e) const {
        return through(laws::punch_through_amps(e, across()));
    }
    ElementCurrents operator()(const LimitedSource& e) const {
        return through(laws::Dual(0.0) - laws::limited_source_amps(e, across()));
    }
    ElementCurrents operator()(const ConstantPowerLoad& e) const {
        return through(laws::power_load_amps(e, across()));
    }
    ElementCurrents operator()(const Regulator& e) const {
        const laws::RegulatorAmps amps = laws::regulator_amps(e, first_volts, second_volts);
        return {amps.in.value,    amps.out.value,    amps.in.slope[0],
                amps.in.slope[1], amps.out.slope[0], amps.out.slope[1]};
    }
};

// Where the tangent of an element is laid next, given where it lies (volts of first and second node) and
// where the nodes have gone.
struct TangentRule {
    double first_from, second_from;
    double first, second;

    using Point = std::pair<double, double>;
    [[nodiscard]] Point follow() const { return {first, second}; }
    // The volts across the element, with the second node where it is.
    [[nodiscard]] Point across(double volts) const { return {second + volts, second}; }

    template <typename T>
    Point operator()(const T&) const {
        return follow();
    }
    // Forward, the current that the rest of the circuit asks for says where the knee is met (the limiting of
    // Nagel's SPICE2, 1975, from memory).
    Point operator()(const Diode& e) const {
        const double scale = e.emission * laws::thermal_volts;
        const double knee = scale * std::log(scale / (std::sqrt(2.0) * e.saturation_amps));
        const double from = first_from - second_from;
        const double to = first - second;
        constexpr double rounding_volts = 1e-9;  // a tangent laid at the knee has arrived there
        if (from < knee - rounding_volts)
            return across(std::min(to, knee));
        const laws::Dual amps = laws::diode_amps(e, from);
        const double asked = amps.value + amps.slope[0] * (to - from);
        if (asked <= e.saturation_amps)
            return across(std::min(to, knee));
        return across(scale * std::log1p(asked / e.saturation_amps));
    }
    Point operator()(const LimitedSource& e) const {
        return across(landing(first_from - second_from, first - second, e.volts, e.limit_amps * e.ohms));
    }
    Point operator()(const Regulator& e) const {
        if (e.volts <= 0.0)
            return follow();
        const double window = e.limit_amps * e.ohms;
        const double target = laws::regulator_target(e, laws::Dual(first)).value;
        const double out = landing(second_from, second, target, window);
        // In its limit it draws the same whatever its input; what cannot give so much finds its volts where
        // the input only just suffices.
        if (e.efficiency <= 0.0 && e.volts - out > window) {
            const double suffices = out + e.dropout_volts + window;
            const bool starved = first_from > suffices - 0.1 * window && first < suffices - window;
            return {starved ? suffices - 0.5 * window : first, out};
        }
        return {first, out};
    }
    Point operator()(const ConstantPowerLoad&) const {
        constexpr double most_fall = 0.5;
        const double from = first_from - second_from;
        return across(std::max(first - second, most_fall * from));
    }

    // An output regulates in a narrow window below its volts; on both sides its slope says nothing of it.
    static double landing(double from, double to, double volts, double window) {
        const bool across_down = from > volts - 0.1 * window && to < volts - window;
        const bool across_up = from < volts - 0.9 * window && to > volts;
        return across_down || across_up ? volts - 0.5 * window : to;
    }
};

bool takes_power(const Element& element) {
    const auto* regulator = std::get_if<Regulator>(&element);
    return std::holds_alternative<ConstantPowerLoad>(element) ||
           (regulator != nullptr && regulator->efficiency > 0.0);
}

// What takes constant power draws less the more volts it gets; alone on a node, its tangent would drive the
// volts up for ever. The chord to 0 V pulls them down instead, and is as exact where the point stands.
void lay_chord(ElementCurrents& amps, double volts) {
    constexpr double least_volts = 0.1;
    const double siemens = std::abs(amps.into_first) / std::max(std::abs(volts), least_volts);
    if (amps.d_second_first == amps.d_first_first) {  // between two nodes
        amps.d_second_first = siemens;
        amps.d_first_second = amps.d_second_second = -siemens;
    }
    amps.d_first_first = siemens;
}

}  // namespace

void NodalEquations::load(const Circuit& circuit) {
    circuit_ = &circuit;
    if (now_ == nullptr || fingerprint_ != circuit.structure_fingerprint()) {
        fingerprint_ = circuit.structure_fingerprint();
        if (studied_.size() >= most_structures)
            studied_.clear();
        auto& structure = studied_[fingerprint_];
        if (structure == nullptr)
            structure = std::make_unique<Structure>(circuit);
        now_ = structure.get();
    }
    if (now_->floating < 0)
        load_linear();
}

NodalEquations::Structure::Structure(const Circuit& circuit)
    : floating(find_floating_node(circuit)), nodes(circuit.node_count() - 1), unknowns(nodes) {
    for (const Element& element : circuit.elements())
        unknowns += std::holds_alternative<VoltageSource>(element) ? 1 : 0;
    std::vector<std::pair<int, int>> pairs;
    const auto pair_up = [&](int a, int b) {
        for (const auto& [row, column] : {std::pair(a, a), {a, b}, {b, a}, {b, b}}) {
            if (row < unknowns && column < unknowns)
                pairs.emplace_back(row, column);
        }
    };
    int branch = nodes;
    for (int i = 0; i < circuit.element_count(); ++i) {
        const Element& element = circuit.element({i});
        const auto ends = nodes_of(element);
        const int first = unknown(ends[0]);
        const int second = unknown(ends[1]);
        if (std::holds_alternative<VoltageSource>(element)) {
            pair_up(first, branch);
            pair_up(second, branch);
            ++branch;
        } else if (!std::holds_alternative<CurrentSource>(element)) {
            pair_up(first, second);
        }
        if (!is_linear(element))
            curved.push_back({i, first, second, 0, 0, 0, 0});
        else if (std::holds_alternative<Resistor>(element))
            resistors.push_back({i, first, second, 0, 0, 0, 0});
        else
            sources.push_back(i);
    }
    for (int n = 0; n < nodes; ++n)
        pairs.emplace_back(n, n);  // for the anchors
    std::sort(pairs.begin(), pairs.end());
    pairs.erase(std::unique(pairs.begin(), pairs.end()), pairs.end());
    lu.study(unknowns, pairs);
    for (const auto& [row, column] : pairs)
        places.push_back({static_cast<std::uint32_t>(row), static_cast<std::uint32_t>(column),
                          static_cast<std::uint32_t>(lu.slot(row, column))});
    for (int n = 0; n <= nodes; ++n)
        diagonals.push_back(slot(unknown({n}), unknown({n})));
    for (std::vector<Placed>* placed : {&resistors, &curved}) {
        for (Placed& c : *placed) {
            c.ff = slot(c.first, c.first);
            c.fs = slot(c.first, c.second);
            c.sf = slot(c.second, c.first);
            c.ss = slot(c.second, c.second);
        }
    }
}

int NodalEquations::Structure::slot(int row, int column) const {
    const bool of_ground = row >= unknowns || column >= unknowns;
    return of_ground ? lu.value_count() : lu.slot(row, column);
}

void NodalEquations::load_linear() {
    const Structure& now = *now_;
    linear_values_.assign(static_cast<std::size_t>(now.lu.value_count()) + 1, 0.0);
    linear_sums_.assign(static_cast<std::size_t>(now.unknowns) + 1, 0.0);
    const auto unknown = [&](NodeId node) { return now.unknown(node); };
    const auto sum = [&](int row) -> double& { return linear_sums_[static_cast<std::size_t>(row)]; };
    const auto value = [&](int row, int column) -> double& {
        return linear_values_[static_cast<std::size_t>(now.slot(row, column))];
    };
    const auto& elements = circuit_->elements();
    for (const Placed& place : now.resistors) {
        const auto& r = std::get<Resistor>(elements[static_cast<std::size_t>(place.element)]);
        const double siemens = 1.0 / r.ohms;
        // Those to ground may have been moved to another node since the structure was studied.
        if (r.a == ground || r.b == ground) {
            const NodeId node = r.a == ground ? r.b : r.a;
            linear_values_[static_cast<std::size_t>(now.diagonals[static_cast<std::size_t>(node.index)])] +=
                siemens;
            continue;
        }
        linear_values_[static_cast<std::size_t>(place.ff)] += siemens;
        linear_values_[static_cast<std::size_t>(place.fs)] -= siemens;
        linear_values_[static_cast<std::size_t>(place.sf)] -= siemens;
        linear_values_[static_cast<std::size_t>(place.ss)] += siemens;
    }
    int branch = now.nodes;
    for (const int source : now.sources) {
        const Element& element = elements[static_cast<std::size_t>(source)];
        if (const auto* s = std::get_if<CurrentSource>(&element)) {
            sum(unknown(s->from)) += s->amps;
            sum(unknown(s->to)) -= s->amps;
        } else if (const auto* v = std::get_if<VoltageSource>(&element)) {
            const int plus = unknown(v->plus);
            const int minus = unknown(v->minus);
            value(plus, branch) -= 1.0;
            value(branch, plus) += 1.0;
            value(minus, branch) += 1.0;
            value(branch, minus) -= 1.0;
            sum(branch) -= v->volts;
            ++branch;
        }
    }
}

void NodalEquations::begin_sums(const std::vector<double>& x) {
    const Structure& now = *now_;
    values_ = linear_values_;
    sums_ = linear_sums_;
    double* const sums = sums_.data();
    const double* const volts = x.data();
    const double* const values = linear_values_.data();
    for (const Place& place : now.places)
        sums[place.row] += values[place.slot] * volts[place.column];
}

void NodalEquations::add(const Placed& c, const ElementCurrents& amps) {
    sums_[static_cast<std::size_t>(c.first)] += amps.into_first;
    sums_[static_cast<std::size_t>(c.second)] -= amps.out_of_second;
    values_[static_cast<std::size_t>(c.ff)] += amps.d_first_first;
    values_[static_cast<std::size_t>(c.fs)] += amps.d_first_second;
    values_[static_cast<std::size_t>(c.sf)] -= amps.d_second_first;
    values_[static_cast<std::size_t>(c.ss)] -= amps.d_second_second;
}

void NodalEquations::evaluate(const std::vector<double>& x, double anchor_siemens,
                              const std::vector<double>& anchors) {
    begin_sums(x);
    const auto& elements = circuit_->elements();
    for (const Placed& c : now_->curved) {
        const CurvedLaw law{x[static_cast<std::size_t>(c.first)], x[static_cast<std::size_t>(c.second)]};
        add(c, std::visit(law, elements[static_cast<std::size_t>(c.element)]));
    }
    if (anchor_siemens > 0.0) {
        for (int n = 0; n < now_->nodes; ++n) {
            const auto i = static_cast<std::size_t>(n);
            values_[static_cast<std::size_t>(now_->diagonals[i + 1])] += anchor_siemens;
            sums_[i] += anchor_siemens * (x[i] - anchors[i]);
        }
    }
    sums_.back() = 0.0;  // of ground
}

void NodalEquations::start_tangents(const std::vector<double>& x) {
    tangents_.clear();
    for (const Placed& c : now_->curved)
        tangents_.emplace_back(x[static_cast<std::size_t>(c.first)], x[static_cast<std::size_t>(c.second)]);
}

bool NodalEquations::evaluate_tangents(const std::vector<double>& x) {
    constexpr double near_volts = 1e-3;
    begin_sums(x);
    bool all_near = true;
    const auto& elements = circuit_->elements();
    for (std::size_t i = 0; i < now_->curved.size(); ++i) {
        const Placed& c = now_->curved[i];
        const Element& element = elements[static_cast<std::size_t>(c.element)];
        const double first = x[static_cast<std::size_t>(c.first)];
        const double second = x[static_cast<std::size_t>(c.second)];
        const auto [from_first, from_second] = tangents_[i];
        tangents_[i] = std::visit(TangentRule{from_first, from_second, first, second}, element);
        const auto [at_first, at_second] = tangents_[i];
        ElementCurrents amps = std::visit(CurvedLaw{at_first, at_second}, element);
        if (takes_power(element) && amps.d_first_first < 0.0)
            lay_chord(amps, at_first - (std::holds_alternative<Regulator>(element) ? 0.0 : at_second));
        const double ahead_first = first - at_first;
        const double ahead_second = second - at_second;
        amps.into_first += amps.d_first_first * ahead_first + amps.d_first_second * ahead_second;
        amps.out_of_second += amps.d_second_first * ahead_first + amps.d_second_second * ahead_second;
        add(c, amps);
        all_near = all_near && std::abs(ahead_first) < near_volts && std::abs(ahead_second) < near_volts;
    }
    sums_.back() = 0.0;
    return all_near;
}

NodalEquations::Size NodalEquations::sums() const {
    double squares = 0.0;
    double most = 0.0;
    for (const double sum : sums_) {
        squares += sum * sum;
        most = std::max(most, std::abs(sum));
    }
    return {std::sqrt(squares), most};
}

double NodalEquations::largest_at_nodes() const {
    double most = 0.0;
    for (int n = 0; n < now_->nodes; ++n)
        most = std::max(most, std::abs(sums_[static_cast<std::size_t>(n)]));
    return most;
}

bool NodalEquations::newton_step(std::vector<double>& step) {
    step = sums_;
    // An ideal source has no entry on its diagonal, so its equations need a method that pivots.
    const bool sparse = now_->unknowns == now_->nodes && now_->lu.factor(values_);
    if (sparse)
        now_->lu.solve(step);
    else if (!dense_step(step))
        return false;
    return std::all_of(step.begin(), step.end(), [](double s) { return std::isfinite(s); });
}

Eigen::MatrixXd NodalEquations::dense() const {
    Eigen::MatrixXd matrix = Eigen::MatrixXd::Zero(now_->unknowns, now_->unknowns);
    for (const Place& place : now_->places)
        matrix(place.row, place.column) = values_[place.slot];
    return matrix;
}

bool NodalEquations::dense_step(std::vector<double>& step) const {
    const Eigen::PartialPivLU<Eigen::MatrixXd> lu(dense());
    Eigen::Map<Eigen::VectorXd> b(step.data(), now_->unknowns);
    b = lu.solve(Eigen::VectorXd(b));
    return b.allFinite();
}

std::vector<double> NodalEquations::driving_point_ohms(const std::vector<int>& unknowns) {
    std::vector<double> ohms(unknowns.size(), std::numeric_limits<double>::infinity());
    if (!now_->lu.factor(values_))
        return ohms;
    std::vector<double> response;
    for (std::size_t i = 0; i < unknowns.size(); ++i) {
        response.assign(static_cast<std::size_t>(now_->unknowns) + 1, 0.0);
        response[static_cast<std::size_t>(unknowns[i])] = 1.0;
        now_->lu.solve(response);
        ohms[i] = response[static_cast<std::size_t>(unknowns[i])];
    }
    return ohms;
}

int NodalEquations::undetermined() const {
    const Eigen::FullPivLU<Eigen::MatrixXd> lu(dense());
    const double most = lu.maxPivot();
    for (int k = 0; k < now_->unknowns; ++k) {
        if (std::abs(lu.matrixLU()(k, k)) <= smallest_pivot_share * most)
            return static_cast<int>(lu.permutationQ().indices()[k]);
    }
    return -1;
}

}  // namespace eh
