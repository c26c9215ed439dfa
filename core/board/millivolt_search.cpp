// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/millivolt_search.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/text.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr double margin_mm = 1.0;            // copper reaches beyond its pads
constexpr double usual_sheet_ohms = 0.5e-3;  // 35 um of copper: 1.724e-8 / 35e-6
constexpr double sheet_ln_sigma = 0.7;       // planes in parallel, thinner foils: a factor of two either way
constexpr double most_short_ohms = 5.0;      // broad: whatever the short has
constexpr double copper_share = 0.22;  // of the differences along the sheet, by copper that is not as assumed
constexpr double everywhere_share = 0.1;  // likewise, of the whole span: a slot moves places that look alike
constexpr double hardly_differs = 2.0;    // widths
constexpr std::size_t least_readings = 3;
constexpr double negligible = 0.02;

std::vector<Point> places_on(const BoardMap& map, int net) {
    std::vector<Point> points;
    for (const int pad : map.net(net).pads) {
        if (map.pad(pad).place)
            points.push_back(*map.pad(pad).place);
    }
    return points;
}

std::vector<Point> outline_of(const BoardMap& map, int net, const SearchSetup& setup) {
    if (!setup.outline.empty())
        return setup.outline;
    std::vector<Point> hull = convex_hull(places_on(map, net));
    if (hull.empty())
        hull.push_back(setup.fed_at);
    return hull;
}

}  // namespace

MillivoltSearch::MillivoltSearch(const BoardMap& map, int net, const SearchSetup& setup)
    : map_(map),
      net_(net),
      setup_(setup),
      sheet_(outline_of(map, net, setup), margin_mm, setup.cell_mm, setup.most_cells) {
    for (const int pad : map_.net(net_).pads) {
        if (map_.pad(pad).place)
            pads_.push_back(pad);
    }
    std::vector<int> cells;
    cells.reserve(pads_.size());
    for (const int pad : pads_)
        cells.push_back(sheet_.cell_at(*map_.pad(pad).place));
    const Eigen::VectorXd fed = sheet_.response(sheet_.cell_at(setup_.fed_at));
    // A part that touches the net with several pins lets the current out over all of them.
    struct Outlet {
        int part;
        std::vector<int> cells;
    };
    std::vector<Outlet> outlets;
    for (const int part : map_.parts_on(net_)) {
        Outlet outlet{part, {}};
        for (std::size_t i = 0; i < pads_.size() && map_.part(part).fitted; ++i) {
            if (map_.pad(pads_[i]).part == part)
                outlet.cells.push_back(cells[i]);
        }
        if (!outlet.cells.empty())
            outlets.push_back(std::move(outlet));
    }
    // Many outlets at once are solved faster than one by one, as many as memory should hold.
    constexpr std::size_t most_together = 64;
    for (std::size_t first = 0; first < outlets.size();) {
        std::vector<int> together;
        std::size_t next = first;
        while (next < outlets.size() && (next == first || together.size() < most_together)) {
            together.insert(together.end(), outlets[next].cells.begin(), outlets[next].cells.end());
            ++next;
        }
        const Eigen::MatrixXd responses = sheet_.responses(together);
        Eigen::Index column = 0;
        for (; first < next; ++first) {
            const auto own = static_cast<double>(outlets[first].cells.size());
            Eigen::VectorXd potential = fed;
            for (std::size_t k = 0; k < outlets[first].cells.size(); ++k)
                potential -= responses.col(column++) / own;
            double at_part = 0.0;
            for (const int cell : outlets[first].cells)
                at_part += potential[cell] / own;
            std::vector<double>& shape = shapes_.emplace_back();
            for (const int cell : cells)
                shape.push_back(potential[cell] - at_part);
            parts_.push_back(outlets[first].part);
        }
    }
}

double MillivoltSearch::shape(std::size_t candidate, int pad) const {
    const auto at = std::find(pads_.begin(), pads_.end(), pad);
    return shapes_[candidate][static_cast<std::size_t>(at - pads_.begin())];
}

// volts = amps (sheet shape + short) + error: the sheet's ohms are looked for on a grid of their logarithm,
// the short's follow linearly.
MillivoltSearch::Fit MillivoltSearch::fit(std::size_t candidate,
                                          const std::vector<SheetReading>& readings) const {
    constexpr int steps = 61;
    constexpr double reach = 3.0;
    const auto n = static_cast<double>(readings.size());
    std::vector<double> shapes;
    shapes.reserve(readings.size());
    double mean_shape = 0.0;
    for (const SheetReading& reading : readings) {
        shapes.push_back(shape(candidate, reading.pad));
        mean_shape += shapes.back() / n;
    }
    const auto [lowest, highest] = std::minmax_element(shapes.begin(), shapes.end());
    const double span = *highest - *lowest;
    Fit best;
    std::vector<double> logs;
    double heaviest = -1e300;
    for (int i = 0; i < steps; ++i) {
        const double z = reach * (2.0 * i / (steps - 1.0) - 1.0);
        const double sheet = usual_sheet_ohms * std::exp(sheet_ln_sigma * z);
        double weight_sum = 0.0;
        double short_volts = 0.0;
        std::vector<double> widths;
        for (std::size_t r = 0; r < readings.size(); ++r) {
            const double along = setup_.amps * sheet * (shapes[r] - mean_shape);
            widths.push_back(std::hypot(setup_.meter_volts, copper_share * along,
                                        everywhere_share * setup_.amps * sheet * span));
            const double weight = 1.0 / (widths[r] * widths[r]);
            weight_sum += weight;
            short_volts += weight * (readings[r].volts - setup_.amps * sheet * shapes[r]);
        }
        short_volts = std::clamp(short_volts / weight_sum, 0.0, setup_.amps * most_short_ohms);
        double log = -0.5 * z * z - 0.5 * std::log(weight_sum);
        double square = 0.0;
        for (std::size_t r = 0; r < readings.size(); ++r) {
            const double left = readings[r].volts - setup_.amps * sheet * shapes[r] - short_volts;
            log -= 0.5 * left * left / (widths[r] * widths[r]) + std::log(widths[r]);
            square += left * left;
        }
        logs.push_back(log);
        if (log > heaviest) {
            heaviest = log;
            best.sheet_ohms = sheet;
            best.short_ohms = short_volts / setup_.amps;
            best.misfit_volts = std::sqrt(square / n);
        }
    }
    double sum = 0.0;
    for (const double log : logs)
        sum += std::exp(log - heaviest);
    best.log_likelihood = heaviest + std::log(sum);
    return best;
}

void MillivoltSearch::propose(SearchAnswer& answer, const std::vector<Fit>& fits,
                              const std::vector<SheetReading>& readings) const {
    const auto index_of = [&](std::size_t place) {
        return static_cast<std::size_t>(
            std::find(parts_.begin(), parts_.end(), answer.candidates[place].part) - parts_.begin());
    };
    if (answer.candidates.size() < 2)
        return;
    const std::size_t first = index_of(0);
    const std::size_t second = index_of(1);
    double most = 0.0;
    for (const int pad : pads_) {
        const bool known = std::any_of(readings.begin(), readings.end(),
                                       [pad](const SheetReading& r) { return r.pad == pad; });
        if (known)
            continue;
        const auto expected = [&](std::size_t candidate) {
            return setup_.amps *
                   (fits[candidate].sheet_ohms * shape(candidate, pad) + fits[candidate].short_ohms);
        };
        const double difference = expected(first) - expected(second);
        const double along = setup_.amps * fits[first].sheet_ohms * shape(first, pad);
        const double widths = std::abs(difference) / std::hypot(setup_.meter_volts, copper_share * along);
        if (widths > most) {
            most = widths;
            answer.next_pad = pad;
            answer.next_difference_volts = std::abs(difference);
        }
    }
    if (most < hardly_differs * 0.5)
        answer.next_pad = no_index;
}

Result<SearchAnswer> MillivoltSearch::answer(const std::vector<SheetReading>& readings) const {
    if (parts_.empty())
        return refused("no fitted part on this net has a place on the map", map_.net(net_).name);
    if (readings.size() < least_readings)
        return refused("read the millivolts at three pads of the net or more", map_.net(net_).name);
    if (!(setup_.amps > 0.0) || !(setup_.meter_volts > 0.0))
        return refused("enter the current that the supply gives and what the meter resolves",
                       map_.net(net_).name);
    for (const SheetReading& reading : readings) {
        if (std::find(pads_.begin(), pads_.end(), reading.pad) == pads_.end() ||
            !std::isfinite(reading.volts))
            return refused("one of the readings is not of a pad of this net that has a place",
                           map_.net(net_).name);
    }
    std::vector<Fit> fits;
    fits.reserve(parts_.size());
    for (std::size_t k = 0; k < parts_.size(); ++k)
        fits.push_back(fit(k, readings));
    double heaviest = -1e300;
    for (const Fit& one : fits)
        heaviest = std::max(heaviest, one.log_likelihood);
    double sum = 0.0;
    for (const Fit& one : fits)
        sum += std::exp(one.log_likelihood - heaviest);
    SearchAnswer answer;
    for (std::size_t k = 0; k < parts_.size(); ++k)
        answer.candidates.push_back({parts_[k], std::exp(fits[k].log_likelihood - heaviest) / sum,
                                     fits[k].sheet_ohms, fits[k].short_ohms, fits[k].misfit_volts});
    std::stable_sort(
        answer.candidates.begin(), answer.candidates.end(),
        [](const ShortCandidate& a, const ShortCandidate& b) { return a.probability > b.probability; });
    const auto [least, most] =
        std::minmax_element(readings.begin(), readings.end(),
                            [](const SheetReading& a, const SheetReading& b) { return a.volts < b.volts; });
    const double span_volts = most->volts - least->volts;
    answer.can_tell = span_volts > 2.0 * hardly_differs * setup_.meter_volts;
    propose(answer, fits, readings);
    if (!answer.can_tell) {
        answer.says =
            "Cannot tell: the readings differ by " + format_quantity(span_volts, Unit::volts, 2) +
            ", no more than the meter's own last place. Use more current, or a meter that resolves more.";
        return answer;
    }
    const auto likely = std::count_if(answer.candidates.begin(), answer.candidates.end(),
                                      [](const ShortCandidate& one) { return one.probability > negligible; });
    const std::string best = map_.part(answer.candidates.front().part).name;
    answer.says = likely == 1 ? "The current leaves at " + best + "."
                              : best + " is the likeliest of " + integer_text(likely) + " parts that fit.";
    return answer;
}

}  // namespace eh
