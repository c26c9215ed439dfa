// SPDX-License-Identifier: GPL-3.0-or-later
// A picture tied to the board by marked points.
#include "core/board/plane_map.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "core/base/random.h"
#include "core/board/part_body.h"

using namespace eh;

namespace {

// A camera aslant: x and y over 1 + a x + b y, which is what a plane looks like through a lens.
Point seen_from_aslant(double x, double y) {
    const double depth = 1.0 + 0.0008 * x - 0.0005 * y;
    return {(3.0 + 0.4 * x + 0.03 * y) / depth, (70.0 + 0.02 * x - 0.45 * y) / depth};
}

std::vector<MarkedPoint> marks_at(const std::vector<PicturePoint>& points) {
    std::vector<MarkedPoint> marks;
    for (const PicturePoint& at : points)
        marks.push_back({at, seen_from_aslant(at.x_px, at.y_px)});
    return marks;
}

}  // namespace

TEST_CASE("four marks of a picture taken aslant put every other point where it is", "[board]") {
    const auto map = PlaneMap::from_marks(marks_at({{10, 12}, {150, 8}, {140, 110}, {5, 100}}));
    REQUIRE(map.ok());
    CHECK(map->misfit_mm() == Approx(0.0).margin(1e-9));
    Random random(3);
    for (int i = 0; i < 50; ++i) {
        const PicturePoint seen{160.0 * random.uniform(), 120.0 * random.uniform()};
        const Point place = map->place_of(seen);
        const Point wanted = seen_from_aslant(seen.x_px, seen.y_px);
        CHECK(distance_mm(place, wanted) == Approx(0.0).margin(1e-9));
        const PicturePoint back = map->seen_at(place);
        CHECK(std::hypot(back.x_px - seen.x_px, back.y_px - seen.y_px) == Approx(0.0).margin(1e-8));
    }
    // The area of a pixel by that of four neighbours.
    const Point a = map->place_of({80, 60});
    const Point b = map->place_of({81, 60});
    CHECK(map->mm_a_pixel({80.5, 60.0}) == Approx(distance_mm(a, b)).epsilon(0.1));
}

TEST_CASE("more marks than four average their errors out", "[board]") {
    Random random(8);
    double error_of_four = 0.0;
    double error_of_twelve = 0.0;
    for (int trial = 0; trial < 40; ++trial) {
        std::vector<MarkedPoint> marks = marks_at({{10, 12},
                                                   {150, 8},
                                                   {140, 110},
                                                   {5, 100},
                                                   {80, 10},
                                                   {80, 112},
                                                   {8, 60},
                                                   {148, 60},
                                                   {50, 40},
                                                   {110, 80},
                                                   {110, 40},
                                                   {50, 80}});
        for (MarkedPoint& mark : marks) {
            mark.place.x_mm += 0.3 * random.normal();
            mark.place.y_mm += 0.3 * random.normal();
        }
        const auto four = PlaneMap::from_marks(std::span(marks).first(4));
        const auto twelve = PlaneMap::from_marks(marks);
        REQUIRE(four.ok());
        REQUIRE(twelve.ok());
        CHECK(twelve->misfit_mm() > 0.05);
        error_of_four += distance_mm(four->place_of({80, 60}), seen_from_aslant(80, 60));
        error_of_twelve += distance_mm(twelve->place_of({80, 60}), seen_from_aslant(80, 60));
    }
    CHECK(error_of_twelve < 0.8 * error_of_four);
}

TEST_CASE("marks that leave the map open are refused", "[board]") {
    CHECK_FALSE(PlaneMap::from_marks(marks_at({{0, 0}, {1, 0}, {1, 1}})).ok());
    CHECK_FALSE(PlaneMap::from_marks(marks_at({{0, 0}, {50, 50}, {100, 100}, {150, 150}})).ok());
    CHECK_FALSE(PlaneMap::from_marks(marks_at({{0, 0}, {50, 50}, {100, 100}, {10, 90}})).ok());
    CHECK_FALSE(PlaneMap::from_marks(marks_at({{5, 5}, {5, 5}, {100, 0}, {0, 100}})).ok());
    auto nowhere = marks_at({{10, 12}, {150, 8}, {140, 110}, {5, 100}});
    nowhere[2].place.x_mm = NAN;
    CHECK_FALSE(PlaneMap::from_marks(nowhere).ok());
}

TEST_CASE("the body of a part spans its pads", "[board]") {
    BoardMap map;
    Pad pad;
    pad.part = map.part_named("C1");
    pad.place = Point{10.0, 5.0};
    pad.width_mm = 0.6;
    pad.height_mm = 1.0;
    map.add_pad(pad);
    pad.place = Point{12.0, 5.0};
    map.add_pad(pad);
    const int nowhere = map.part_named("C2");
    map.index();
    const auto body = body_of(map, 0);
    REQUIRE(body);
    CHECK(body->area_mm2() == Approx(2.6 * 1.0));
    CHECK(body->centre() == Point{11.0, 5.0});
    CHECK(body->distance_to({11.3, 5.2}) == 0.0);
    CHECK(body->distance_to({15.3, 9.5}) == Approx(5.0));
    CHECK_FALSE(body_of(map, nowhere));
}
