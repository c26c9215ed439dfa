#include "core/board/locate_evaluation.h"

#include <algorithm>
#include <cmath>

#include "core/base/random.h"
#include "core/board/millivolt_search.h"

namespace eh {
namespace {

constexpr double part_length_mm = 1.6;
constexpr double true_cell_mm = 0.4;
constexpr double searched_cell_mm = 0.6;
constexpr double closest_parts_mm = 3.0;

double between(Random& random, double least, double most) {
    return least + (most - least) * random.uniform();
}

// A slot in the copper: a strip from one place to another.
struct Slot {
    Point from;
    Point to;
    double half_width_mm = 0.5;

    [[nodiscard]] bool holds(const Point& point) const {
        const double dx = to.x_mm - from.x_mm;
        const double dy = to.y_mm - from.y_mm;
        const double along = std::clamp(
            ((point.x_mm - from.x_mm) * dx + (point.y_mm - from.y_mm) * dy) / (dx * dx + dy * dy), 0.0, 1.0);
        return distance_mm(point, {from.x_mm + along * dx, from.y_mm + along * dy}) < half_width_mm;
    }
};

// A net with its capacitors, and what its copper is really like.
struct DrawnBoard {
    BoardMap map;
    int net = no_index;
    Point fed_at;
    int shorted = no_index;  // part
    std::vector<Slot> slots;
    double thick_from_x_mm = 0.0;
    double thick_factor = 1.0;
    double sheet_ohms = 0.5e-3;
    double short_ohms = 0.1;

    [[nodiscard]] double thickness(const Point& point) const {
        const bool cut =
            std::any_of(slots.begin(), slots.end(), [&](const Slot& slot) { return slot.holds(point); });
        return cut ? 0.0 : point.x_mm > thick_from_x_mm ? thick_factor : 1.0;
    }
};

DrawnBoard draw_board(Random& random) {
    DrawnBoard board;
    const double wide_mm = between(random, 30.0, 70.0);
    const double high_mm = between(random, 20.0, 50.0);
    board.net = board.map.net_named("rail");
    const int ground_net = board.map.net_named("gnd");
    std::vector<Point> taken;
    const auto place = [&] {
        constexpr int tries = 200;
        Point at;
        for (int i = 0; i < tries; ++i) {
            at = {between(random, 2.0, wide_mm - 2.0), between(random, 2.0, high_mm - 2.0)};
            const bool free = std::none_of(taken.begin(), taken.end(), [&](const Point& other) {
                return distance_mm(at, other) < closest_parts_mm;
            });
            if (free)
                break;
        }
        taken.push_back(at);
        return at;
    };
    const int capacitors = 6 + random.below(9);
    for (int c = 0; c < capacitors; ++c) {
        const Point at = place();
        const int part = board.map.part_named("C" + std::to_string(c + 1));
        Pad rail;
        rail.net = board.net;
        rail.part = part;
        rail.pin = "1";
        rail.place = at;
        board.map.add_pad(rail);
        Pad ground = rail;
        ground.net = ground_net;
        ground.pin = "2";
        ground.place = Point{at.x_mm + part_length_mm, at.y_mm};
        board.map.add_pad(ground);
    }
    board.shorted = board.map.find_part("C" + std::to_string(1 + random.below(capacitors)));
    board.fed_at = place();
    board.map.index();

    for (int slots = random.below(4); slots > 0; --slots) {
        Slot slot;
        slot.from = {between(random, 0.0, wide_mm), between(random, 0.0, high_mm)};
        const double turn = between(random, 0.0, 6.283);
        const double length_mm = between(random, 0.15, 0.45) * std::max(wide_mm, high_mm);
        slot.to = {slot.from.x_mm + length_mm * std::cos(turn), slot.from.y_mm + length_mm * std::sin(turn)};
        slot.half_width_mm = between(random, 0.4, 1.0);
        board.slots.push_back(slot);
    }
    // A neck: two slots from opposite edges that leave a passage.
    if (random.uniform() < 0.35) {
        const double x_mm = between(random, 0.3, 0.7) * wide_mm;
        const double passage = between(random, 0.25, 0.5) * high_mm;
        const double middle = between(random, 0.3, 0.7) * high_mm;
        board.slots.push_back({{x_mm, -5.0}, {x_mm, std::max(-4.0, middle - 0.5 * passage)}, 0.8});
        board.slots.push_back(
            {{x_mm, std::min(high_mm + 4.0, middle + 0.5 * passage)}, {x_mm, high_mm + 5.0}, 0.8});
    }
    board.thick_from_x_mm = between(random, 0.2, 0.8) * wide_mm;
    board.thick_factor = random.uniform() < 0.5 ? 1.0 : random.uniform() < 0.5 ? 2.0 : 0.5;
    board.sheet_ohms = 0.5e-3 * std::exp(0.5 * random.normal());
    board.short_ohms = 0.005 * std::pow(100.0, random.uniform());
    return board;
}

// Volts of the net's pads on the true copper.
class TrueCopper {
  public:
    TrueCopper(const DrawnBoard& board, double amps) : board_(board), amps_(amps), sheet_(make(board)) {
        int pad_of_short = no_index;
        for (const int pad : board.map.part(board.shorted).pads) {
            if (board.map.pad(pad).net == board.net)
                pad_of_short = pad;
        }
        const int leaves = sheet_.cell_at(*board.map.pad(pad_of_short).place);
        potential_ = sheet_.response(sheet_.cell_at(board.fed_at)) - sheet_.response(leaves);
        at_short_ = potential_[leaves];
    }
    [[nodiscard]] double volts(int pad) const {
        const double along = potential_[sheet_.cell_at(*board_.map.pad(pad).place)] - at_short_;
        return amps_ * (board_.sheet_ohms * along + board_.short_ohms);
    }

  private:
    static CopperSheet make(const DrawnBoard& board) {
        std::vector<Point> places;
        for (const int pad : board.map.net(board.net).pads)
            places.push_back(*board.map.pad(pad).place);
        places.push_back(board.fed_at);
        return {convex_hull(places), 1.5, true_cell_mm, [&](const Point& p) { return board.thickness(p); }};
    }

    const DrawnBoard& board_;
    double amps_;
    CopperSheet sheet_;
    Eigen::VectorXd potential_;
    double at_short_ = 0.0;
};

// The unread pad that lies farthest from those that were read: where nothing better is known.
int farthest_pad(const DrawnBoard& board, const std::vector<SheetReading>& readings) {
    int farthest = no_index;
    double most_mm = -1.0;
    for (const int pad : board.map.net(board.net).pads) {
        double nearest_mm = readings.empty() ? distance_mm(*board.map.pad(pad).place, board.fed_at) : 1e9;
        for (const SheetReading& reading : readings)
            nearest_mm = std::min(nearest_mm,
                                  distance_mm(*board.map.pad(pad).place, *board.map.pad(reading.pad).place));
        if (nearest_mm > most_mm) {
            most_mm = nearest_mm;
            farthest = pad;
        }
    }
    return farthest;
}

}  // namespace

LocateScore evaluate_locating(const LocateEvaluationOptions& options) {
    constexpr double sure = 0.95;
    constexpr std::size_t first_readings = 3;
    LocateScore score;
    for (int b = 0; b < options.boards; ++b) {
        Random random(options.seed * 1'000'003ULL + static_cast<std::uint64_t>(b));
        const DrawnBoard board = draw_board(random);
        const TrueCopper copper(board, options.amps);
        SearchSetup setup;
        setup.fed_at = board.fed_at;
        setup.amps = options.amps;
        setup.meter_volts = options.meter_volts;
        setup.cell_mm = searched_cell_mm;
        const MillivoltSearch search(board.map, board.net, setup);
        std::vector<SheetReading> readings;
        int next = no_index;
        while (static_cast<int>(readings.size()) < options.readings) {
            const int pad = next == no_index ? farthest_pad(board, readings) : next;
            readings.push_back({pad, copper.volts(pad) + options.meter_volts * random.normal()});
            next = no_index;
            if (readings.size() >= first_readings) {
                if (const auto answer = search.answer(readings))
                    next = answer->next_pad;
            }
        }
        const auto answer = search.answer(readings);
        if (!answer)
            continue;
        ++score.boards;
        score.mean_candidates += static_cast<double>(answer->candidates.size());
        score.cannot_tell += answer->can_tell ? 0 : 1;
        const bool first = answer->candidates.front().part == board.shorted;
        score.right_first += first ? 1 : 0;
        score.right_in_two +=
            first || (answer->candidates.size() > 1 && answer->candidates[1].part == board.shorted) ? 1 : 0;
        if (answer->candidates.front().probability >= sure) {
            ++score.sure;
            score.sure_and_wrong += first ? 0 : 1;
        }
        if (options.progress)
            options.progress(b + 1);
    }
    score.mean_candidates /= std::max(1, score.boards);
    return score;
}

}  // namespace eh
