// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/simulation/point_search.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include "core/electrics/element_laws.h"

namespace eh {
namespace {

const std::vector<double>* start_at(const std::vector<double>& volts) {
    return volts.empty() ? nullptr : &volts;
}

// A converter on its way up, with the volts it will hold.
struct Rising {
    Regulator* converter;
    double from_volts, to_volts;
};

// Those that stand below where they would regulate.
std::vector<Rising> rising_from(MachineModel& model, const std::vector<double>& before) {
    constexpr double least_volts = 0.05;  // at 0 V a regulator is off
    std::vector<Rising> rising;
    for (int e = 0; e < model.circuit().element_count(); ++e) {
        if (!std::holds_alternative<Regulator>(model.circuit().element({e})))
            continue;
        auto& converter = model.circuit().get<Regulator>({e});
        const double stands = std::max(before[static_cast<std::size_t>(converter.out.index)], least_volts);
        const double window = converter.limit_amps * converter.ohms + laws::volts_rounding;
        if (stands < converter.volts - window)
            rising.push_back({&converter, stands, converter.volts});
    }
    return rising;
}

}  // namespace

PointSearch::PointSearch(MachineModel& model, DcSolver& solver) : model_(model), solver_(solver) {}

SolveOptions PointSearch::options() {
    SolveOptions options;
    options.tolerance_volts = 1e-5;
    options.tolerance_relative = 1e-6;
    return options;
}

Solution PointSearch::find(const std::vector<double>& before, std::optional<double> source_volts) {
    source_volts_ = source_volts;
    Solution solution = solver_.solve(model_.circuit(), options(), start_at(before));
    if (!solution.ok() || (!overloads(solution) && !path_gives_all(solution)) || punches_through())
        return solution;
    Solution upper = from_full(before);
    return upper.ok() && !overloads(upper) && !path_gives_all(upper) ? upper : solution;
}

bool PointSearch::overloads(const Solution& solution) const {
    constexpr double overloaded_share = 0.8;
    return source_volts_ && solution.volts(model_.source_node()) < overloaded_share * *source_volts_;
}

// Paths that let few amps through before there is a contract, as their elements.
std::vector<Regulator*> PointSearch::limiting_paths() {
    std::vector<Regulator*> paths;
    const auto& elements = model_.plan().elements;
    for (std::size_t e = 0; e < elements.size(); ++e) {
        const ElementId id{static_cast<int>(e)};
        if (elements[e].when != ElementCondition::limited ||
            !std::holds_alternative<Regulator>(model_.circuit().element(id)))
            continue;
        auto& path = model_.circuit().get<Regulator>(id);
        if (path.volts > 0.0)
            paths.push_back(&path);
    }
    return paths;
}

bool PointSearch::path_gives_all(const Solution& solution) {
    constexpr double nearly_all = 0.95;
    if (!source_volts_)
        return false;
    const auto paths = limiting_paths();
    return std::any_of(paths.begin(), paths.end(), [&](const Regulator* path) {
        return delivered_amps(*path, solution.node_volts) > nearly_all * path->limit_amps;
    });
}

// Whether a short that grows with volts is there.
bool PointSearch::punches_through() const {
    const auto& elements = model_.circuit().elements();
    return model_.circuit_is_faulty() &&
           std::any_of(elements.begin(), elements.end(),
                       [](const Element& element) { return std::holds_alternative<PunchThrough>(element); });
}

// With the converters that have just come on raising their outputs step by step, as they do by themselves; a
// step that fails is tried again half as long. Not solved where there is no point before, or the way up is
// lost.
Solution PointSearch::by_soft_start(const std::vector<double>& before) {
    constexpr double first_step = 0.25;  // of the way up
    constexpr double least_step = 0.01;
    Solution solution;
    if (before.empty())
        return solution;
    SolveOptions near = options();
    near.max_transient_steps = 0;
    const auto rising = rising_from(model_, before);
    const auto solve_at = [&](double share, const std::vector<double>& volts) {
        for (const Rising& one : rising)
            one.converter->volts = std::lerp(one.from_volts, one.to_volts, share);
        return solver_.solve(model_.circuit(), near, &volts);
    };
    solution = solve_at(0.0, before);
    double risen = 0.0;
    for (double step = first_step; solution.ok() && risen < 1.0 && step > least_step;) {
        Solution next = solve_at(std::min(risen + step, 1.0), solution.node_volts);
        if (next.ok()) {
            risen += step;
            solution = std::move(next);
        } else {
            step /= 2.0;
        }
    }
    for (const Rising& one : rising)
        one.converter->volts = one.to_volts;
    return risen < 1.0 ? Solution{} : solution;
}

// From where the source would stand if it did not fold back, and the paths behind it let all through.
Solution PointSearch::from_full(const std::vector<double>& before) {
    auto& source = model_.circuit().get<LimitedSource>(model_.source_element());
    const double fold = std::exchange(source.fold, 1.0);
    const auto paths = limiting_paths();
    std::vector<double> limits;
    limits.reserve(paths.size());
    for (Regulator* path : paths)
        limits.push_back(std::exchange(path->limit_amps, source.limit_amps));
    Solution unfolded = solver_.solve(model_.circuit(), options(), start_at(before));
    if (!unfolded.ok() || overloads(unfolded))
        unfolded = by_soft_start(before);
    if (!unfolded.ok() || overloads(unfolded))
        unfolded = solver_.solve(model_.circuit(), options());
    source.fold = fold;
    for (std::size_t p = 0; p < paths.size(); ++p)
        paths[p]->limit_amps = limits[p];
    return solver_.solve(model_.circuit(), options(), unfolded.ok() ? &unfolded.node_volts : nullptr);
}

}  // namespace eh
