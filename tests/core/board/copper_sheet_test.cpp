// SPDX-License-Identifier: GPL-3.0-or-later
// The sheet against what is known of sheets: strips by their squares, and van der Pauw's theorem.
#include "core/board/copper_sheet.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <set>

#include "core/base/random.h"

using namespace eh;

namespace {

const std::vector<Point> square{{0, 0}, {40, 0}, {40, 40}, {0, 40}};

std::vector<int> cells_where(const CopperSheet& sheet, const std::function<bool(const Point&)>& wanted) {
    std::vector<int> cells;
    for (int cell = 0; cell < sheet.cells(); ++cell) {
        if (wanted(sheet.middle(cell)))
            cells.push_back(cell);
    }
    return cells;
}

// Volts between two cells per ampere between two others, sheet of 1 ohm a square.
double four_wire(const CopperSheet& sheet, int in, int out, int plus, int minus) {
    const Eigen::VectorXd volts = sheet.response(in) - sheet.response(out);
    return volts[plus] - volts[minus];
}

}  // namespace

TEST_CASE("a strip has as many ohms as squares", "[board][sheet]") {
    for (const double length_mm : {20.0, 50.0}) {
        const CopperSheet sheet({{0, 0}, {length_mm, 0}, {length_mm, 10}, {0, 10}}, 0.0, 0.5);
        const auto left = cells_where(sheet, [](const Point& p) { return p.x_mm < 0.5; });
        const auto right = cells_where(sheet, [&](const Point& p) { return p.x_mm > length_mm - 0.5; });
        // From middle to middle of the outer cells.
        CHECK(sheet.ohms_between(left, right) == Approx((length_mm - 0.5) / 10.0).epsilon(1e-9));
    }
    // Twice the copper in one half: that half has half the ohms.
    const CopperSheet two({{0, 0}, {40, 0}, {40, 10}, {0, 10}}, 0.0, 0.5,
                          [](const Point& p) { return p.x_mm < 20.0 ? 2.0 : 1.0; });
    const auto left = cells_where(two, [](const Point& p) { return p.x_mm < 0.5; });
    const auto right = cells_where(two, [](const Point& p) { return p.x_mm > 39.5; });
    CHECK(two.ohms_between(left, right) == Approx(1.0 + 2.0 - 0.025 * 0.5 - 0.025).epsilon(0.01));
}

TEST_CASE("van der Pauw's theorem holds on the edges of any shape without holes", "[board][sheet]") {
    // L. J. van der Pauw, Philips Research Reports 13 (1958): exp(-pi Ra / Rs) + exp(-pi Rb / Rs) = 1.
    const std::vector<std::vector<Point>> shapes{
        square,
        {{0, 0}, {60, 0}, {60, 20}, {0, 20}},
        {{0, 0}, {40, 0}, {40, 15}, {15, 15}, {15, 40}, {0, 40}},  // an L
        {{0, 0}, {50, 0}, {25, 45}}};                              // a triangle
    for (const auto& shape : shapes) {
        const CopperSheet sheet(shape, 0.0, 0.4);
        // Four places along the edge, in order.
        std::vector<int> contacts;
        for (const double along : {0.06, 0.31, 0.55, 0.83}) {
            double whole = 0.0;
            for (std::size_t i = 0; i < shape.size(); ++i)
                whole += distance_mm(shape[i], shape[(i + 1) % shape.size()]);
            double left = along * whole;
            for (std::size_t i = 0; i < shape.size(); ++i) {
                const Point& a = shape[i];
                const Point& b = shape[(i + 1) % shape.size()];
                const double side = distance_mm(a, b);
                if (left <= side) {
                    contacts.push_back(sheet.cell_at({a.x_mm + (b.x_mm - a.x_mm) * left / side,
                                                      a.y_mm + (b.y_mm - a.y_mm) * left / side}));
                    break;
                }
                left -= side;
            }
        }
        REQUIRE(contacts.size() == 4);
        const double a = four_wire(sheet, contacts[0], contacts[1], contacts[3], contacts[2]);
        const double b = four_wire(sheet, contacts[1], contacts[2], contacts[0], contacts[3]);
        CHECK(std::exp(-std::numbers::pi * a) + std::exp(-std::numbers::pi * b) == Approx(1.0).margin(0.02));
    }
}

TEST_CASE("what goes in somewhere and is seen elsewhere is the same the other way round", "[board][sheet]") {
    Random random(5);
    const CopperSheet sheet(square, 1.0, 1.0);
    for (int trial = 0; trial < 30; ++trial) {
        const int a = random.below(sheet.cells());
        const int b = random.below(sheet.cells());
        CHECK(sheet.response(a)[b] == Approx(sheet.response(b)[a]).margin(1e-9));
        CHECK(std::abs(sheet.response(a).sum()) < 1e-6);
    }
}

TEST_CASE("a slot falls away with what it cuts off, and a sheet never grows beyond its cells",
          "[board][sheet]") {
    const CopperSheet cut(square, 0.0, 1.0,
                          [](const Point& p) { return std::abs(p.x_mm - 10.0) < 1.0 ? 0.0 : 1.0; });
    for (int cell = 0; cell < cut.cells(); ++cell)
        CHECK(cut.middle(cell).x_mm > 10.0);
    CHECK(cut.cell_at({2.0, 20.0}) >= 0);
    CHECK(CopperSheet(square, 0.0, 0.01, 5000).cells() <= 5100);
    CHECK(CopperSheet({{3, 4}}, 1.0, 0.5).cells() > 4);
}

TEST_CASE("a hull holds all its points and is convex", "[board][sheet]") {
    Random random(9);
    for (int trial = 0; trial < 50; ++trial) {
        std::vector<Point> points;
        for (int i = 3 + random.below(40); i > 0; --i)
            points.push_back({std::floor(20.0 * random.uniform()), std::floor(20.0 * random.uniform())});
        const auto hull = convex_hull(points);
        for (std::size_t i = 0; hull.size() >= 3 && i < hull.size(); ++i) {
            const Point& a = hull[i];
            const Point& b = hull[(i + 1) % hull.size()];
            for (const Point& p : points)
                CHECK((b.x_mm - a.x_mm) * (p.y_mm - a.y_mm) - (b.y_mm - a.y_mm) * (p.x_mm - a.x_mm) >= -1e-9);
        }
    }
}
