// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/regulator_match.h"

#include <algorithm>
#include <cmath>
#include <tuple>

#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr double volts_margin = 1.2;
constexpr double amps_margin = 1.25;
constexpr double same_output = 0.01;

RegulatorMatch judged(const StockPart& part, std::size_t index, const std::string& name,
                      const RegulatorNeed& need) {
    RegulatorMatch match;
    match.part = index;
    match.same_part = !name.empty() && part.name == name;
    if (match.same_part) {
        match.fits = true;
        return match;
    }
    const auto volts = [](double v) { return format_quantity(v, Unit::volts); };
    const auto amps = [](double a) { return format_quantity(a, Unit::amps); };
    if (!part.volts)
        match.unknown.emplace_back("highest input volts");
    else if (*part.volts < volts_margin * need.in_volts)
        match.against.push_back("stands " + volts(*part.volts) + ", meets up to " + volts(need.in_volts) +
                                " and needs a fifth more");
    if (!part.amps)
        match.unknown.emplace_back("amps");
    else if (*part.amps < amps_margin * need.amps)
        match.against.push_back("gives " + amps(*part.amps) + "; the load takes " + amps(need.amps) +
                                " and needs a quarter more");
    if (need.out_volts > 0.0) {
        if (!part.out_volts)
            match.unknown.emplace_back("output volts");
        else if (std::abs(*part.out_volts / need.out_volts - 1.0) > same_output)
            match.against.push_back("gives " + volts(*part.out_volts) + " instead of " +
                                    volts(need.out_volts));
    }
    if (part.pinout.empty() || need.pinout.empty())
        match.unknown.emplace_back("order of the pins");
    else if (part.pinout != need.pinout)
        match.against.push_back("pins in another order: " + part.pinout);
    if (part.package.empty() || need.package.empty())
        match.unknown.emplace_back("package");
    else if (part.package != need.package)
        match.against.push_back("other package: " + part.package);
    match.fits = match.against.empty() && match.unknown.empty();
    return match;
}

}  // namespace

std::vector<RegulatorMatch> match_regulators(const Stock& stock, const std::string& name,
                                             const RegulatorNeed& need) {
    std::vector<RegulatorMatch> matches;
    for (std::size_t i = 0; i < stock.parts.size(); ++i) {
        const StockPart& part = stock.parts[i];
        if (part.kind == PartKind::regulator && part.count > 0)
            matches.push_back(judged(part, i, name, need));
    }
    std::stable_sort(matches.begin(), matches.end(), [](const RegulatorMatch& a, const RegulatorMatch& b) {
        return std::tuple(!a.same_part, a.against.size(), a.unknown.size()) <
               std::tuple(!b.same_part, b.against.size(), b.unknown.size());
    });
    return matches;
}

}  // namespace eh
