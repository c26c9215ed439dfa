// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rework/alloy.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <map>
#include <optional>
#include <set>

#include "core/base/json_reader.h"
#include "core/base/text.h"

namespace eh {
namespace {

constexpr double share_tolerance = 0.002;  // alloys are printed to a tenth of a percent
constexpr double coldest_c = 60.0;
constexpr double hottest_c = 400.0;
constexpr double most_solute = 0.60;  // the tables of lead and bismuth in tin are used up to here
constexpr double wide_range_kelvin = 15.0;

std::size_t index(Metal metal) {
    return static_cast<std::size_t>(metal);
}

const std::map<std::string, Metal>& metals() {
    static const std::map<std::string, Metal> names{{"tin", Metal::tin},
                                                    {"lead", Metal::lead},
                                                    {"silver", Metal::silver},
                                                    {"copper", Metal::copper},
                                                    {"bismuth", Metal::bismuth}};
    return names;
}

Metal metal_of(const JsonReader& field) {
    const auto found = metals().find(field.text());
    if (found == metals().end())
        field.refuse("“" + field.text() +
                     "” is no metal known here; write tin, lead, silver, copper or "
                     "bismuth");
    return found->second;
}

Alloy read_alloy(const JsonReader& item) {
    Alloy alloy;
    alloy.id = item.text("id");
    alloy.title = item.text("title");
    alloy.gains = item.text("gains");
    alloy.costs = item.text("costs");
    alloy.source = item.text("source");
    alloy.solidus_c = item.number_between("solidus_c", coldest_c, hottest_c);
    alloy.liquidus_c = item.number_between("liquidus_c", coldest_c, hottest_c);
    if (alloy.liquidus_c < alloy.solidus_c)
        item.refuse("the liquidus lies below the solidus; exchange them");
    double sum = 0.0;
    for (const auto& [name, share] : item.at("percent").members()) {
        const auto found = metals().find(name);
        if (found == metals().end())
            share.refuse("“" + name + "” is no metal known here");
        const double percent = share.number();
        if (!(percent > 0.0 && percent <= 100.0))
            share.refuse("a share lies between 0 and 100 percent");
        alloy.shares[index(found->second)] = percent / 100.0;
        sum += percent / 100.0;
    }
    if (std::abs(sum - 1.0) > share_tolerance)
        item.refuse("the shares of the metals do not come to 100 percent");
    for (double& share : alloy.shares)
        share /= sum;
    return alloy;
}

BinaryLiquidus read_liquidus(const JsonReader& item) {
    BinaryLiquidus table;
    table.solute = metal_of(item.at("solute"));
    for (const JsonReader& point : item.items("points")) {
        const double share = point.number_between("percent", 0.0, 100.0) / 100.0;
        if (!table.points.empty() && share <= table.points.back().first)
            point.refuse("the shares must rise from point to point");
        table.points.emplace_back(share, point.number_between("celsius", coldest_c, hottest_c));
    }
    if (table.points.size() < 2)
        item.refuse("a table needs at least two points");
    return table;
}

Eutectic read_eutectic(const JsonReader& item) {
    Eutectic eutectic;
    for (const JsonReader& metal : item.items("metals"))
        eutectic.metals.push_back(metal_of(metal));
    std::sort(eutectic.metals.begin(), eutectic.metals.end());
    eutectic.celsius = item.number_between("celsius", coldest_c, hottest_c);
    return eutectic;
}

const BinaryLiquidus* find_table(const AlloyBook& book, Metal solute) {
    const auto found = std::find_if(book.liquidus.begin(), book.liquidus.end(),
                                    [&](const BinaryLiquidus& table) { return table.solute == solute; });
    return found == book.liquidus.end() ? nullptr : &*found;
}

// Slopes of a monotone cubic (Fritsch and Carlson 1980, harmonic mean of neighbouring secants).
double slope_at(const std::vector<std::pair<double, double>>& points, std::size_t i) {
    const auto secant = [&](std::size_t k) {
        return (points[k + 1].second - points[k].second) / (points[k + 1].first - points[k].first);
    };
    if (i == 0)
        return secant(0);
    if (i + 1 == points.size())
        return secant(i - 1);
    const double before = secant(i - 1);
    const double after = secant(i);
    return before * after <= 0.0 ? 0.0 : 2.0 * before * after / (before + after);
}

std::vector<Metal> metals_in(const Composition& shares) {
    std::vector<Metal> present;
    for (int m = 0; m < metal_count; ++m)
        if (shares[static_cast<std::size_t>(m)] >= trace_share)
            present.push_back(static_cast<Metal>(m));
    return present;
}

// The eutectic of the metals present; where the book has none for just these, the lowest of any part of them.
std::optional<double> solidus_of(const AlloyBook& book, const std::vector<Metal>& present) {
    std::optional<double> lowest;
    for (const Eutectic& eutectic : book.eutectics) {
        if (!std::includes(present.begin(), present.end(), eutectic.metals.begin(), eutectic.metals.end()))
            continue;
        if (eutectic.metals.size() == present.size())
            return eutectic.celsius;
        lowest = lowest ? std::min(*lowest, eutectic.celsius) : eutectic.celsius;
    }
    return lowest;
}

std::string meaning(const Mixture& mixture) {
    std::string text = "Begins to soften at " + whole_text(mixture.solidus_c) + " °C, liquid from " +
                       whole_text(mixture.liquidus_c) + " °C.";
    if (mixture.liquidus_c - mixture.solidus_c > wide_range_kelvin)
        text += " In between it is a paste: a part moved while it cools leaves a cracked joint.";
    return text;
}

Result<double> liquidus_of(const AlloyBook& book, const Composition& shares) {
    // The chief solute takes its own table; the others lower what is left of tin as they do alone.
    Metal chief = Metal::lead;
    for (int m = 1; m < metal_count; ++m)
        if (shares[static_cast<std::size_t>(m)] > shares[index(chief)])
            chief = static_cast<Metal>(m);
    const double tin = shares[index(Metal::tin)];
    if (shares[index(chief)] > most_solute)
        return refused("a mixture with more than " + whole_text(100.0 * most_solute) + " % of " +
                       to_text(chief) + " is outside the tables; clean the pads and begin anew");
    double liquidus = 0.0;
    for (int m = 1; m < metal_count; ++m) {
        const Metal metal = static_cast<Metal>(m);
        const double share = shares[static_cast<std::size_t>(m)];
        const BinaryLiquidus* table = find_table(book, metal);
        if (share == 0.0 || table == nullptr)
            continue;
        const double celsius = binary_liquidus_c(book, metal, share / (share + tin));
        if (metal == chief)
            liquidus += celsius;
        else
            liquidus -= table->points.front().second - celsius;
    }
    return liquidus;
}

}  // namespace

std::string to_text(Metal metal) {
    for (const auto& [name, value] : metals())
        if (value == metal)
            return name;
    return {};
}

const Alloy* AlloyBook::find(const std::string& id) const {
    const auto found =
        std::find_if(alloys.begin(), alloys.end(), [&](const Alloy& alloy) { return alloy.id == id; });
    return found == alloys.end() ? nullptr : &*found;
}

Result<AlloyBook> parse_alloys(const std::string& text, const std::string& file) {
    return read_json<AlloyBook>(text, file, [](const JsonReader& root) {
        root.check_format("eager-hound.alloys", 1);
        AlloyBook book;
        for (const JsonReader& item : root.items("alloys")) {
            Alloy alloy = read_alloy(item);
            if (book.find(alloy.id) != nullptr)
                item.refuse("the id “" + alloy.id + "” stands twice; choose another");
            book.alloys.push_back(std::move(alloy));
        }
        for (const JsonReader& item : root.items("liquidus"))
            book.liquidus.push_back(read_liquidus(item));
        for (const JsonReader& item : root.items("eutectics"))
            book.eutectics.push_back(read_eutectic(item));
        if (book.alloys.empty())
            root.at("alloys").refuse("there must be at least one alloy");
        return book;
    });
}

double binary_liquidus_c(const AlloyBook& book, Metal solute, double share) {
    const BinaryLiquidus* table = find_table(book, solute);
    assert(table != nullptr && "binary_liquidus_c() for a metal without table");
    const auto& points = table->points;
    if (share <= points.front().first)
        return points.front().second;
    if (share >= points.back().first)
        return points.back().second;
    std::size_t i = 0;
    while (points[i + 1].first < share)
        ++i;
    const double width = points[i + 1].first - points[i].first;
    const double t = (share - points[i].first) / width;
    const double left = slope_at(points, i) * width;
    const double right = slope_at(points, i + 1) * width;
    // Cubic Hermite on one stretch.
    return points[i].second * (1.0 + 2.0 * t) * (1.0 - t) * (1.0 - t) + left * t * (1.0 - t) * (1.0 - t) +
           points[i + 1].second * t * t * (3.0 - 2.0 * t) + right * t * t * (t - 1.0);
}

Result<Mixture> mix(const AlloyBook& book, const Alloy& left, const Alloy& added, double left_share) {
    if (!(left_share >= 0.0 && left_share <= 1.0))
        return refused("the share of old solder lies between 0 and 100 %", "old solder");
    Mixture mixture;
    for (std::size_t m = 0; m < metal_count; ++m)
        mixture.shares[m] = left_share * left.shares[m] + (1.0 - left_share) * added.shares[m];
    if (mixture.shares[index(Metal::bismuth)] >= trace_share &&
        mixture.shares[index(Metal::lead)] >= trace_share)
        return refused(
            "bismuth and lead together melt below 100 °C (their mixture with tin at about 96 °C): the joint "
            "would soften in use. Take all old solder off with wick and flux, wash, and tin the bare pads "
            "with the one alloy",
            left.title + " under " + added.title);
    const Alloy* pure = left_share == 0.0 || left.id == added.id ? &added
                        : left_share == 1.0                      ? &left
                                                                 : nullptr;
    if (pure != nullptr) {
        mixture.solidus_c = pure->solidus_c;
        mixture.liquidus_c = pure->liquidus_c;
        mixture.says = meaning(mixture);
        return mixture;
    }
    const auto solidus = solidus_of(book, metals_in(mixture.shares));
    const auto liquidus = liquidus_of(book, mixture.shares);
    if (!liquidus)
        return liquidus.error();
    if (!solidus)
        return refused("no table of these metals is at hand; clean the pads and begin anew",
                       left.title + " under " + added.title);
    mixture.solidus_c = *solidus;
    mixture.liquidus_c = std::max(*liquidus, *solidus);
    mixture.says = meaning(mixture);
    return mixture;
}

}  // namespace eh
