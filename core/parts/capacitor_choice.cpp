// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/capacitor_choice.h"

#include <algorithm>
#include <cassert>
#include <cmath>

#include "core/base/json_reader.h"
#include "core/base/text.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr double least_rating_factor = 1.25;
constexpr double better_rating_factor = 2.0;
constexpr double unknown_least = 0.2;
constexpr double enough_share = 0.8;
constexpr double least_ratio = 0.5;
constexpr double most_ratio = 10.0;
constexpr double far_more = 3.0;  // of the original: the regulator may not like it

double between(double a, double b, double t) {
    return a + (b - a) * t;
}

const BiasBand* find_band(const std::vector<BiasBand>& bands, const std::string& dielectric,
                          const std::string& package) {
    const BiasBand* any = nullptr;
    for (const BiasBand& band : bands) {
        if (band.dielectric != dielectric)
            continue;
        if (band.package == package)
            return &band;
        if (band.package.empty())
            any = &band;
    }
    return any;
}

BiasBand read_band(const JsonReader& item) {
    BiasBand band;
    band.dielectric = item.text("dielectric");
    band.package = item.text("package", "");
    for (const JsonReader& point : item.items("points")) {
        BiasBand::Point p{point.number_between("volts_share", 0.0, 1.0),
                          point.number_between("least", 0.0, 1.0), point.number_between("most", 0.0, 1.0)};
        if (p.least > p.most)
            point.refuse("the least share lies above the most; exchange them");
        if (!band.points.empty() && p.volts_share <= band.points.back().volts_share)
            point.refuse("the volts must rise from point to point");
        band.points.push_back(p);
    }
    if (band.points.size() < 2 || band.points.front().volts_share != 0.0)
        item.refuse("a band begins at 0 volts and has at least two points");
    return band;
}

void judge(CapacitorChoice& choice, const StockPart& part, const CapacitorNeed& need) {
    const RatingNeed rating = rating_need(need.rail_volts);
    choice.rated = part.volts && *part.volts >= rating.at_least;
    choice.same_size = need.package.empty() || part.package == need.package;
    choice.sound = choice.rated && choice.same_size && choice.share_of_original >= enough_share &&
                   choice.share_of_original <= far_more;
    const std::string left = percent_text(choice.share_of_original) + " of what the original had";
    if (!part.volts)
        choice.says = "Its rating is not known: do not fit it to a rail.";
    else if (!choice.rated)
        choice.says = "Rated " + format_quantity(*part.volts, Unit::volts) + "; the rail needs " +
                      format_quantity(rating.at_least, Unit::volts) + " at least.";
    else if (!choice.same_size)
        choice.says = "Right values, other size: see whether the pads take it. Leaves " + left + ".";
    else if (choice.share_of_original < enough_share)
        choice.says = "Leaves only " + left + " under the rail's volts.";
    else if (choice.share_of_original > far_more)
        choice.says = "Leaves " + left + ": a regulator's loop may not like so much more.";
    else
        choice.says = "Sound: leaves " + left + ".";
}

}  // namespace

Result<std::vector<BiasBand>> parse_bias_bands(const std::string& text, const std::string& file) {
    return read_json<std::vector<BiasBand>>(text, file, [](const JsonReader& root) {
        root.check_format("eager-hound.bias-bands", 1);
        std::vector<BiasBand> bands;
        for (const JsonReader& item : root.items("bands"))
            bands.push_back(read_band(item));
        return bands;
    });
}

Result<BiasCurve> parse_bias_curve(std::string_view text) {
    BiasCurve curve;
    std::string part;
    const auto take = [&]() -> std::optional<Error> {
        const auto begin = part.find_first_not_of(" \t");
        if (begin == std::string::npos)
            return std::nullopt;
        part.erase(0, begin);
        const auto gap = part.find_last_of(" \t", part.find_last_not_of(" \t"));
        if (gap == std::string::npos)
            return refused("write volts and what is left, as in “5 V 0.8”", "“" + part + "”");
        std::string share_text = part.substr(gap + 1);
        share_text.erase(share_text.find_last_not_of(" \t") + 1);
        const bool in_percent = !share_text.empty() && share_text.back() == '%';
        if (in_percent)
            share_text.pop_back();
        const auto volts = parse_quantity_as(part.substr(0, gap), Unit::volts);
        const auto share = parse_quantity(share_text);
        if (!volts || !share || share->unit != Unit::none)
            return refused("write volts and what is left, as in “5 V 0.8” or “5 V 80%”", "“" + part + "”");
        const double left = in_percent ? share->value / 100.0 : share->value;
        if (!(left >= 0.0 && left <= 1.2))
            return refused("a share of 0 to 1 is left", "“" + part + "”");
        if (volts->value < 0.0 || (!curve.empty() && volts->value <= curve.back().first))
            return refused("the volts must rise from point to point", "“" + part + "”");
        curve.emplace_back(volts->value, left);
        return std::nullopt;
    };
    for (const char c : text) {
        // A comma is a decimal mark on this bench, so it parts no points.
        if (c == ';' || c == '\n') {
            if (auto problem = take())
                return *problem;
            part.clear();
        } else {
            part += c;
        }
    }
    if (auto problem = take())
        return *problem;
    if (curve.empty())
        return refused("write at least one point, as in “0 V 1; 5 V 0.8”", "curve");
    return curve;
}

ShareLeft share_left(const std::vector<BiasBand>& bands, const std::string& dielectric,
                     const std::string& package, double rated_volts, double volts) {
    const BiasBand* band = find_band(bands, dielectric, package);
    if (band == nullptr || rated_volts <= 0.0)
        return {unknown_least, 1.0, true};
    const double share = std::clamp(volts / rated_volts, 0.0, band->points.back().volts_share);
    std::size_t i = 0;
    while (i + 2 < band->points.size() && band->points[i + 1].volts_share < share)
        ++i;
    const auto& a = band->points[i];
    const auto& b = band->points[i + 1];
    const double t = (share - a.volts_share) / (b.volts_share - a.volts_share);
    return {between(a.least, b.least, t), between(a.most, b.most, t), true};
}

ShareLeft share_left(const BiasCurve& curve, double volts) {
    assert(!curve.empty());
    double left = curve.back().second;
    if (volts <= curve.front().first) {
        left = curve.front().second;
    } else {
        for (std::size_t i = 0; i + 1 < curve.size(); ++i)
            if (volts <= curve[i + 1].first) {
                left = between(curve[i].second, curve[i + 1].second,
                               (volts - curve[i].first) / (curve[i + 1].first - curve[i].first));
                break;
            }
    }
    return {left, left, false};
}

RatingNeed rating_need(double highest_volts) {
    return {least_rating_factor * highest_volts, better_rating_factor * highest_volts};
}

LeftOff leave_one_off(int n) {
    assert(n >= 1);
    LeftOff result;
    if (n == 1) {
        result.says = "It is the only one: without it the rail has no capacitor there. Refit.";
        return result;
    }
    result.capacitance_share = static_cast<double>(n - 1) / n;
    result.ripple_factor = static_cast<double>(n) / (n - 1);
    result.ripple_volts_factor = result.ripple_factor;
    const std::string lost = "Of " + integer_text(n) + " alike, " + percent_text(result.capacitance_share) +
                             " of the capacitance stays; each remaining one takes " +
                             percent_text(result.ripple_factor - 1.0) + " more ripple current.";
    result.says = n >= 4 ? lost + " One school leaves it off; the other refits for the sake of the warranty."
                         : lost + " That is much: refit, or leave it off only until the part is there.";
    return result;
}

Result<std::vector<CapacitorChoice>> choose_capacitors(const Stock& stock, const std::vector<BiasBand>& bands,
                                                       const CapacitorNeed& need) {
    if (!(need.farads >= 1e-12 && need.farads <= 1e-2))
        return refused("a ceramic capacitor has between 1 pF and 10 mF", "capacitance");
    if (!(need.rail_volts >= 0.0 && need.rail_volts <= 100.0))
        return refused("a rail of this bench carries 0 to 100 V", "rail volts");
    const ShareLeft original =
        share_left(bands, need.dielectric, need.package, need.rated_volts, need.rail_volts);
    const double original_farads = need.farads * 0.5 * (original.least + original.most);
    std::vector<CapacitorChoice> choices;
    for (std::size_t i = 0; i < stock.parts.size(); ++i) {
        const StockPart& part = stock.parts[i];
        if (part.kind != PartKind::capacitor || part.count == 0 || !part.value ||
            *part.value < least_ratio * need.farads || *part.value > most_ratio * need.farads)
            continue;
        const ShareLeft left =
            share_left(bands, part.dielectric, part.package, part.volts.value_or(0.0), need.rail_volts);
        CapacitorChoice choice;
        choice.part = i;
        choice.farads_least = *part.value * left.least;
        choice.farads_most = *part.value * left.most;
        choice.share_of_original = 0.5 * (choice.farads_least + choice.farads_most) / original_farads;
        judge(choice, part, need);
        choices.push_back(std::move(choice));
    }
    std::stable_sort(choices.begin(), choices.end(), [](const CapacitorChoice& a, const CapacitorChoice& b) {
        const auto key = [](const CapacitorChoice& c) {
            return std::pair(4 * !c.sound + 2 * !c.rated + !c.same_size,
                             std::abs(std::log(c.share_of_original)));
        };
        return key(a) < key(b);
    });
    return choices;
}

}  // namespace eh
