// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluation/drawn_board.h"

#include <algorithm>
#include <cmath>
#include <string>
#include "core/base/text.h"

namespace eh {
namespace {

constexpr double part_length_mm = 1.6;

double between(Random& random, double least, double most) {
    return least + (most - least) * random.uniform();
}

}  // namespace

bool Slot::holds(const Point& point) const {
    const double dx = to.x_mm - from.x_mm;
    const double dy = to.y_mm - from.y_mm;
    const double along = std::clamp(
        ((point.x_mm - from.x_mm) * dx + (point.y_mm - from.y_mm) * dy) / (dx * dx + dy * dy), 0.0, 1.0);
    return distance_mm(point, {from.x_mm + along * dx, from.y_mm + along * dy}) < half_width_mm;
}

double DrawnBoard::thickness(const Point& point) const {
    const bool cut =
        std::any_of(slots.begin(), slots.end(), [&](const Slot& slot) { return slot.holds(point); });
    return cut ? 0.0 : point.x_mm > thick_from_x_mm ? thick_factor : 1.0;
}

DrawnBoard draw_board(Random& random, const DrawnBoardOptions& options) {
    DrawnBoard board;
    const double wide_mm = between(random, 30.0, 70.0);
    const double high_mm = between(random, 20.0, 50.0);
    board.net = board.map.net_named("rail");
    const int ground_net = board.map.net_named("gnd");
    std::vector<Point> taken;
    const auto is_free = [&](const Point& at) {
        return std::none_of(taken.begin(), taken.end(), [&](const Point& other) {
            return distance_mm(at, other) < options.closest_parts_mm;
        });
    };
    const auto somewhere = [&] {
        return Point{between(random, 2.0, wide_mm - 2.0), between(random, 2.0, high_mm - 2.0)};
    };
    const auto place = [&] {
        constexpr int tries = 200;
        Point at;
        for (int i = 0; i < tries; ++i) {
            at = somewhere();
            if (is_free(at))
                break;
        }
        taken.push_back(at);
        return at;
    };
    const auto add_part = [&](const std::string& name, const Point& at, int net, int other_net) {
        Pad pad;
        pad.part = board.map.part_named(name);
        pad.net = net;
        pad.pin = "1";
        pad.place = at;
        board.map.add_pad(pad);
        pad.net = other_net;
        pad.pin = "2";
        pad.place = Point{at.x_mm + part_length_mm, at.y_mm};
        board.map.add_pad(pad);
    };
    const int capacitors = 6 + random.below(9);
    for (int c = 0; c < capacitors; ++c)
        add_part("C" + integer_text(c + 1), place(), board.net, ground_net);
    board.shorted = board.map.find_part("C" + integer_text(1 + random.below(capacitors)));
    board.fed_at = place();
    const int elsewhere = options.other_parts > 0 ? board.map.net_named("other") : no_index;
    for (int i = 0; i < options.other_parts; ++i) {
        const Point at = somewhere();
        if (!is_free(at))
            continue;
        taken.push_back(at);
        add_part("R" + integer_text(i + 1), at, elsewhere, ground_net);
    }
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

}  // namespace eh
