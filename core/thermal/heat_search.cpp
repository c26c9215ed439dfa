// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/thermal/heat_search.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <optional>

#include "core/base/quantile.h"
#include "core/board/net_paths.h"
#include "core/board/part_body.h"
#include "core/thermal/smoothing.h"

namespace eh {
namespace {

constexpr double prior_on_net = 0.9;
constexpr double prior_other_parts = 0.08;  // the rest: on no part of the map
constexpr double prior_elsewhere = 0.02;
// Widths of the noise, after smoothing, that a spot stands out by. Noise alone reaches them in one picture of
// a hundred anywhere, in one of twenty on the suspects, which are fewer places; with a rhythm noise has two
// directions to be strong in, and reaches further (exp(-z^2 / 2) instead of the normal tail).
struct StandsOut {
    double anywhere;
    double on_suspects;
};
constexpr StandsOut without_rhythm{5.0, 4.1};
constexpr StandsOut with_rhythm{5.5, 4.6};
constexpr double least_shown = 0.01;
constexpr double shape_sigma_mm = 0.25;  // heat does not come from the middle of a body
constexpr double board_of_one_spot_mm2 = 4000.0;

// A place of the posterior of a spot.
struct Place {
    Point at;
    double weight = 0.0;
};

struct Spot {
    HotSpot found;
    double widths = 0.0;  // of the noise, that it stands out by
    std::vector<Place> places;
};

// Places and widths are looked for on a grid around the warmest pixel of the smoothed picture.
class SpotFit {
  public:
    // `suspected` says of each pixel whether a suspect may be seen there.
    SpotFit(const HeatImage& image, std::vector<char> suspected)
        : image_(image),
          left_(image.kelvin),
          left_behind_(image.quarter_behind),
          suspected_(std::move(suspected)) {}

    // The next spot, and takes it off the picture; nullopt when nothing stands out any more. The first one
    // may be weaker where suspects are.
    std::optional<Spot> next(const PlaneMap& view) {
        const StandsOut& wanted = left_behind_.empty() ? without_rhythm : with_rhythm;
        auto spot = next_above(view, wanted.anywhere, true);
        if (!spot && !found_any_)
            spot = next_above(view, wanted.on_suspects, false);
        found_any_ = true;
        return spot;
    }

  private:
    // Looks at two sizes of spot; where there is a rhythm, at what follows it with any delay.
    std::optional<Spot> next_above(const PlaneMap& view, double wanted, bool anywhere) {
        std::size_t top = left_.size();
        double along = 1.0;
        double behind = 0.0;
        for (const int passes : {1, 2}) {
            const double noise = image_.noise_kelvin * smoothed_noise_share(passes);
            const std::vector<float> first = above_median(left_, passes);
            const std::vector<float> second = above_median(left_behind_, passes);
            for (std::size_t i = 0; i < first.size(); ++i) {
                const double widths =
                    (second.empty() ? double{first[i]} : std::hypot(double{first[i]}, double{second[i]})) /
                    noise;
                if (widths <= wanted || !(anywhere || suspected_[i] != 0))
                    continue;
                wanted = widths;
                top = i;
                along = second.empty() ? 1.0 : double{first[i]} / (widths * noise);
                behind = second.empty() ? 0.0 : double{second[i]} / (widths * noise);
            }
        }
        if (top == left_.size())
            return std::nullopt;
        turned_ = left_;
        for (std::size_t i = 0; i < left_behind_.size(); ++i)
            turned_[i] = static_cast<float>(along * double{left_[i]} + behind * double{left_behind_[i]});
        const auto at = static_cast<int>(top);
        Spot spot = fit(at % image_.width, at / image_.width, along, behind, view);
        spot.widths = wanted;
        return spot;
    }

    [[nodiscard]] std::vector<float> above_median(const std::vector<float>& values, int passes) const {
        if (values.empty())
            return {};
        std::vector<float> smooth = smoothed(values, image_.width, image_.height, passes);
        const auto base = median(smooth);
        for (float& value : smooth)
            value -= base;
        return smooth;
    }

    static constexpr int window = 14;       // pixels to each side that a fit looks at
    static constexpr int places_each = 25;  // along x and y
    static constexpr int middle_place = places_each / 2;
    static constexpr double place_step = 0.25;
    static constexpr std::array<double, 7> widths_px{0.6, 1.0, 1.6, 2.6, 4.2, 6.8, 11.0};
    static constexpr double rounded_px = 1.5;  // no profile is sharper than the lens

    // Rounded at the top, falling off exponentially: what a source on a plate with loss comes to.
    static double profile(double squared_px, double width_px) {
        return std::exp(-(std::sqrt(squared_px + rounded_px * rounded_px) - rounded_px) / width_px);
    }

    struct Fit {
        double chi_square = 1e300;
        double kelvin = 0.0;
        double base = 0.0;
    };

    // Least squares of height and base for a profile at a place.
    [[nodiscard]] Fit fit_at(double px, double py, double width, int x0, int y0, int x1, int y1) const {
        double n = 0.0;
        double f1 = 0.0;
        double f2 = 0.0;
        double t1 = 0.0;
        double t2 = 0.0;
        double ft = 0.0;
        for (int y = y0; y <= y1; ++y)
            for (int x = x0; x <= x1; ++x) {
                const double f = profile((x - px) * (x - px) + (y - py) * (y - py), width);
                const double t = turned_[static_cast<std::size_t>(y * image_.width + x)];
                n += 1.0;
                f1 += f;
                f2 += f * f;
                t1 += t;
                t2 += t * t;
                ft += f * t;
            }
        Fit fit;
        const double determinant = n * f2 - f1 * f1;
        if (determinant <= 0.0)
            return fit;
        fit.kelvin = (n * ft - f1 * t1) / determinant;
        fit.base = (t1 - fit.kelvin * f1) / n;
        fit.chi_square = (t2 - fit.kelvin * ft - fit.base * t1) / (image_.noise_kelvin * image_.noise_kelvin);
        return fit;
    }

    Spot fit(int top_x, int top_y, double along, double behind, const PlaneMap& view) {
        const int x0 = std::max(0, top_x - window);
        const int y0 = std::max(0, top_y - window);
        const int x1 = std::min(image_.width - 1, top_x + window);
        const int y1 = std::min(image_.height - 1, top_y + window);
        struct Tried {
            double x, y, width;
            Fit fit;
        };
        std::vector<Tried> tried;
        const Tried* best = nullptr;
        for (int i = 0; i < places_each; ++i)
            for (int k = 0; k < places_each; ++k)
                for (const double width : widths_px) {
                    const double x = top_x + (i - middle_place) * place_step;
                    const double y = top_y + (k - middle_place) * place_step;
                    tried.push_back({x, y, width, fit_at(x, y, width, x0, y0, x1, y1)});
                }
        for (const Tried& one : tried)
            if (one.fit.kelvin > 0.0 && (best == nullptr || one.fit.chi_square < best->fit.chi_square))
                best = &one;
        if (best == nullptr)
            best = &tried.front();
        const double degrees = std::max(1.0, double(x1 - x0 + 1) * (y1 - y0 + 1) - 5.0);
        // What the profile does not describe is no noise that averages out: it widens everything.
        const double widened = std::max(1.0, best->fit.chi_square / degrees);
        Spot spot;
        double sum = 0.0;
        for (const Tried& one : tried) {
            if (one.fit.kelvin <= 0.0)
                continue;
            const double weight = std::exp(-0.5 * (one.fit.chi_square - best->fit.chi_square) / widened);
            if (weight < 1e-4)
                continue;
            spot.places.push_back({view.place_of({one.x, one.y}), weight});
            sum += weight;
        }
        Point mean;
        for (Place& place : spot.places) {
            place.weight /= sum;
            mean.x_mm += place.weight * place.at.x_mm;
            mean.y_mm += place.weight * place.at.y_mm;
        }
        double square = 0.0;
        for (const Place& place : spot.places)
            square += place.weight * std::pow(distance_mm(place.at, mean), 2);
        spot.found.place = mean;
        spot.found.seen = view.seen_at(mean);
        spot.found.sigma_mm = std::sqrt(0.5 * square);
        spot.found.kelvin = best->fit.kelvin;
        take_off(*best, along, behind, x0, y0, x1, y1);
        return spot;
    }

    // Takes the profile off; where it is strong, what it leaves would look like further spots.
    template <typename Tried>
    void take_off(const Tried& best, double along, double behind, int x0, int y0, int x1, int y1) {
        constexpr double strong = 0.3;
        for (int y = y0; y <= y1; ++y)
            for (int x = x0; x <= x1; ++x) {
                const auto i = static_cast<std::size_t>(y * image_.width + x);
                const double dx = x - best.x;
                const double dy = y - best.y;
                const double share = profile(dx * dx + dy * dy, best.width);
                const double off =
                    share > strong ? double{turned_[i]} - best.fit.base : best.fit.kelvin * share;
                left_[i] -= static_cast<float>(along * off);
                if (!left_behind_.empty())
                    left_behind_[i] -= static_cast<float>(behind * off);
            }
    }

    const HeatImage& image_;
    std::vector<float> left_;  // what no spot explains yet
    std::vector<float> left_behind_;
    std::vector<float> turned_;  // in step with the spot that is being fitted
    std::vector<char> suspected_;
    bool found_any_ = false;
};

// Density of a source on a body being seen at a place, a square millimetre: even over the body, washed out by
// sigma.
double seen_density(const PartBody& body, const Point& at, double sigma_mm) {
    const auto along = [sigma_mm](double least, double most, double x) {
        const double root = std::numbers::sqrt2 * sigma_mm;
        const double share = 0.5 * (std::erf((most - x) / root) - std::erf((least - x) / root));
        return share / std::max(most - least, 1e-6);
    };
    return along(body.least.x_mm, body.most.x_mm, at.x_mm) * along(body.least.y_mm, body.most.y_mm, at.y_mm);
}

class Namer {
  public:
    Namer(const BoardMap& map, const HeatSearchOptions& options) : map_(map), options_(options) {
        for (std::size_t p = 0; p < map.parts().size(); ++p) {
            const auto part = static_cast<int>(p);
            if (!map.part(part).fitted || !reachable(map.part(part).side, options.side))
                continue;
            const auto body = body_of(map, part);
            if (!body)
                continue;
            const auto& pads = map.part(part).pads;
            const bool on_net = options.net == no_index ||
                                std::any_of(pads.begin(), pads.end(),
                                            [&](int pad) { return map.pad(pad).net == options.net; });
            parts_.push_back({part, *body, on_net});
            (on_net ? on_net_ : others_) += 1.0;
        }
    }

    [[nodiscard]] bool empty() const { return parts_.empty(); }

    // Pixels where a part on the net may be seen.
    [[nodiscard]] std::vector<char> pixels_on_net(const HeatImage& image, const PlaneMap& view) const {
        std::vector<char> suspected;
        suspected.reserve(image.kelvin.size());
        for (int y = 0; y < image.height; ++y)
            for (int x = 0; x < image.width; ++x) {
                const Point place = view.place_of({double(x), double(y)});
                suspected.push_back(std::any_of(parts_.begin(), parts_.end(), [&](const Suspect& suspect) {
                    return suspect.on_net && suspect.body.distance_to(place) <= options_.marks_sigma_mm;
                }));
            }
        return suspected;
    }

    // Adds what a spot says with the share it has in the finding.
    void add(const std::vector<Place>& places, double sigma_mm, double kelvin, double share) {
        std::vector<double> weights;
        double total = prior_elsewhere / board_of_one_spot_mm2;
        for (const Suspect& suspect : parts_) {
            const double prior = suspect.on_net ? prior_on_net / on_net_ : prior_other_parts / others_;
            double density = 0.0;
            for (const Place& place : places)
                density += place.weight * seen_density(suspect.body, place.at, sigma_mm);
            weights.push_back(prior * density);
            total += weights.back();
        }
        elsewhere_ += share * prior_elsewhere / board_of_one_spot_mm2 / total;
        for (std::size_t i = 0; i < parts_.size(); ++i) {
            const double own = share * weights[i] / total;
            if (own > parts_[i].from_one_spot) {
                parts_[i].from_one_spot = own;
                parts_[i].kelvin = kelvin;
            }
            parts_[i].probability += own;
        }
    }

    void tell(HeatAnswer& answer) const {
        answer.elsewhere = elsewhere_;
        for (const Suspect& suspect : parts_)
            if (suspect.probability >= least_shown)
                answer.candidates.push_back({suspect.part, suspect.probability, suspect.kelvin,
                                             suspect.on_net, carries_on(map_, suspect.part)});
        std::sort(
            answer.candidates.begin(), answer.candidates.end(),
            [](const HeatCandidate& a, const HeatCandidate& b) { return a.probability > b.probability; });
        answer.says = sentence(answer);
    }

  private:
    struct Suspect {
        int part;
        PartBody body;
        bool on_net;
        double probability = 0.0;
        double kelvin = 0.0;
        double from_one_spot = 0.0;
    };

    [[nodiscard]] std::string sentence(const HeatAnswer& answer) const {
        if (answer.candidates.empty() || answer.elsewhere > answer.candidates.front().probability)
            return "The warm place lies on no part of the map: look at the board there, or mark the four "
                   "points "
                   "again.";
        const HeatCandidate& first = answer.candidates.front();
        const std::string name = map_.part(first.part).name;
        if (first.carries_on)
            return name +
                   " is warm, but it carries the rail's current: it may be warm without being at fault. "
                   "Look past it.";
        if (!first.on_net)
            return name + " is warm, and it does not touch the net: check that the right net is fed.";
        constexpr double sure = 0.9;
        if (first.probability >= sure)
            return name + " is the warm part.";
        return name + " is likeliest, not sure: look closer, or mark the points more exactly.";
    }

    const BoardMap& map_;
    const HeatSearchOptions& options_;
    std::vector<Suspect> parts_;
    double on_net_ = 0.0;
    double others_ = 0.0;
    double elsewhere_ = 0.0;
};

HeatAnswer nothing_found() {
    return {
        {},
        {},
        1.0,
        false,
        "Nothing stands out of the noise: raise the current within what the net bears, look longer, or let "
        "the supply go on and off and look at the rhythm."};
}

}  // namespace

Result<HeatAnswer> search_heat(const BoardMap& map, const HeatImage& rises, const PlaneMap& view,
                               const HeatSearchOptions& options) {
    if (rises.width < 3 || rises.height < 3 || !(rises.noise_kelvin > 0.0))
        return refused("there is nothing in this picture to search", "frames");
    Namer namer(map, options);
    if (namer.empty())
        return refused("no fitted part of this side has a place on the map", map.title);
    SpotFit fits(rises, namer.pixels_on_net(rises, view));
    std::vector<Spot> spots;
    while (static_cast<int>(spots.size()) < options.most_spots) {
        auto spot = fits.next(view);
        if (!spot)
            break;
        spots.push_back(std::move(*spot));
    }
    if (spots.empty())
        return nothing_found();
    HeatAnswer answer;
    answer.can_tell = true;
    // The warmer place is the fault more often than by its warmth alone; the cube is an estimate. Warmth as
    // smoothed, for the top of a weak spot's fit is mostly noise.
    double total = 0.0;
    for (const Spot& spot : spots)
        total += std::pow(spot.widths, 3);
    for (Spot& spot : spots) {
        spot.found.certainty = std::pow(spot.widths, 3) / total;
        const double washed = std::hypot(options.marks_sigma_mm, shape_sigma_mm);
        namer.add(spot.places, washed, spot.found.kelvin, spot.found.certainty);
        spot.found.sigma_mm = std::hypot(spot.found.sigma_mm, washed);
        answer.spots.push_back(spot.found);
    }
    std::sort(answer.spots.begin(), answer.spots.end(),
              [](const HotSpot& a, const HotSpot& b) { return a.kelvin > b.kelvin; });
    namer.tell(answer);
    return answer;
}

Result<HeatAnswer> search_place(const BoardMap& map, const Point& found, double sigma_mm,
                                const HeatSearchOptions& options) {
    if (!(sigma_mm > 0.0) || !std::isfinite(found.x_mm) || !std::isfinite(found.y_mm))
        return refused("mark the place on the board, and how closely it was found", map.title);
    Namer namer(map, options);
    if (namer.empty())
        return refused("no fitted part of this side has a place on the map", map.title);
    HeatAnswer answer;
    answer.can_tell = true;
    answer.spots.push_back({{}, found, sigma_mm, 0.0, 1.0});
    namer.add({{found, 1.0}}, sigma_mm, 0.0, 1.0);
    namer.tell(answer);
    return answer;
}

}  // namespace eh
