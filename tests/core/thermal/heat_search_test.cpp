// SPDX-License-Identifier: GPL-3.0-or-later
// The simulated board under the camera against what heat does, and the search on it.
#include "core/thermal/heat_search.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "core/thermal/heat_scene.h"
#include "core/thermal/lock_in.h"
#include "evaluation/heat_evaluation.h"

using namespace eh;

namespace {

// Twelve capacitors on a rail, four millimetres apart, and a resistor that does not touch it.
struct Board {
    BoardMap map;
    int net = map.net_named("rail");
    PlaneMap view;

    Board() : view(straight_above()) {
        for (int i = 0; i < 12; ++i)
            add("C" + std::to_string(i + 1), net, {10.0 + 4.0 * (i % 4), 10.0 + 4.0 * (i / 4)});
        add("R1", map.net_named("other"), {30.0, 24.0});
        map.index();
    }
    void add(const std::string& name, int on, const Point& at) {
        Pad pad;
        pad.part = map.part_named(name);
        pad.net = on;
        pad.place = at;
        pad.width_mm = pad.height_mm = 0.8;
        map.add_pad(pad);
        pad.net = map.net_named("gnd");
        pad.place = Point{at.x_mm + 1.6, at.y_mm};
        map.add_pad(pad);
    }
    // 0.25 mm a pixel.
    static PlaneMap straight_above() {
        const std::vector<MarkedPoint> marks{
            {{0, 0}, {0, 0}}, {{159, 0}, {39.75, 0}}, {{159, 119}, {39.75, 29.75}}, {{0, 119}, {0, 29.75}}};
        return *PlaneMap::from_marks(marks);
    }
    [[nodiscard]] int part(const char* name) const { return map.find_part(name); }
};

HeatSceneOptions quiet() {
    HeatSceneOptions options;
    options.noise_kelvin = 0.0;
    options.drift_kelvin = 0.0;
    options.shiny_share = 0.0;
    return options;
}

}  // namespace

TEST_CASE("a heated part settles where its watts leave it, and rises scale with watts", "[thermal]") {
    const Board board;
    HeatScene one(board.map, BoardSide::top, {{board.part("C6"), 0.05, true}}, board.view, 1, quiet());
    HeatScene two(board.map, BoardSide::top, {{board.part("C6"), 0.10, true}}, board.view, 1, quiet());
    one.advance(8.0, true);
    two.advance(8.0, true);
    CHECK(two.rise_kelvin(0) == Approx(2.0 * one.rise_kelvin(0)).epsilon(1e-3));
    // All but the board's own slow warming is there after some time constants of the part.
    const double at_eight = one.rise_kelvin(0);
    one.advance(2.0, true);
    CHECK(one.rise_kelvin(0) > at_eight);
    CHECK(one.rise_kelvin(0) < 1.1 * at_eight);
    one.advance(600.0, false);  // five of the board's own time constants
    CHECK(one.rise_kelvin(0) < 0.01 * at_eight);
}

TEST_CASE("a part alone follows the closed form of lumped heating", "[thermal]") {
    // In its first moments the board under it is still cold: rise = P R (1 - exp(-t / (R C))), Newton's law.
    const Board board;
    HeatScene scene(board.map, BoardSide::top, {{board.part("C6"), 0.02, true}}, board.view, 1, quiet());
    const auto body = *body_of(board.map, board.part("C6"));
    const double resistance = 80.0 / body.area_mm2();
    const double capacity = 3.5e6 * body.area_mm2() * 0.8e-9;
    for (int i = 1; i <= 4; ++i) {
        scene.advance(0.01, true);
        const double t_s = 0.01 * i;
        const double wanted = 0.02 * resistance * (1.0 - std::exp(-t_s / (resistance * capacity)));
        CHECK(scene.rise_kelvin(0) == Approx(wanted).epsilon(0.06));
    }
}

TEST_CASE("what goes into the board leaves it by the air", "[thermal]") {
    // At rest, watts in are h A T out, over the plate that reaches 4 mm beyond the picture.
    const Board board;
    HeatScene scene(board.map, BoardSide::top, {{board.part("C6"), 0.5, true}}, board.view, 1, quiet());
    const ThermalFrame cold = scene.frame();
    scene.advance(900.0, true);
    const ThermalFrame warm = scene.frame();
    double sum = 0.0;
    for (std::size_t i = 0; i < warm.celsius.size(); ++i)
        sum += double{warm.celsius[i] - cold.celsius[i]};
    const double area_m2 = (0.0398 + 0.008) * (0.0298 + 0.008);
    constexpr double emissivity = 0.92;
    const double leaves_watts = 20.0 * area_m2 * sum / static_cast<double>(warm.celsius.size()) / emissivity;
    CHECK(leaves_watts == Approx(0.5).epsilon(0.15));
}

TEST_CASE("every part is named by the rise that it makes", "[thermal]") {
    const Board board;
    HeatSearchOptions options;
    options.net = board.net;
    for (int i = 1; i <= 12; ++i) {
        const std::string name = "C" + std::to_string(i);
        HeatSceneOptions camera;
        camera.shiny_share = 0.0;
        HeatScene scene(board.map, BoardSide::top, {{board.part(name.c_str()), 0.04, true}}, board.view,
                        static_cast<std::uint64_t>(i), camera);
        const std::vector<ThermalFrame> cold{scene.frame()};
        scene.advance(3.0, true);
        const auto rise = rise_between(cold, {scene.frame()});
        REQUIRE(rise.ok());
        const auto answer = search_heat(board.map, *rise, board.view, options);
        REQUIRE(answer.ok());
        REQUIRE(answer->can_tell);
        REQUIRE_FALSE(answer->candidates.empty());
        CHECK(answer->candidates[0].part == board.part(name.c_str()));
        CHECK(answer->candidates[0].probability > 0.9);
        double total = answer->elsewhere;
        for (const HeatCandidate& one : answer->candidates)
            total += one.probability;
        CHECK(total == Approx(1.0).margin(0.1));
        CHECK(answer->spots[0].kelvin == Approx(scene.rise_kelvin(0)).epsilon(0.5));
    }
}

TEST_CASE("noise alone is not a finding, a warm part off the net is told as such", "[thermal]") {
    const Board board;
    HeatSearchOptions options;
    options.net = board.net;
    int found = 0;
    for (std::uint64_t seed = 1; seed <= 40; ++seed) {
        HeatScene scene(board.map, BoardSide::top, {}, board.view, seed);
        const std::vector<ThermalFrame> before{scene.frame(), scene.frame()};
        scene.advance(1.0, true);
        const auto rise = rise_between(before, {scene.frame(), scene.frame()});
        REQUIRE(rise.ok());
        const auto answer = search_heat(board.map, *rise, board.view, options);
        REQUIRE(answer.ok());
        found += answer->can_tell ? 1 : 0;
    }
    CHECK(found <= 4);
    HeatScene scene(board.map, BoardSide::top, {{board.part("R1"), 0.05, true}}, board.view, 3);
    const std::vector<ThermalFrame> cold{scene.frame()};
    scene.advance(3.0, true);
    const auto answer = search_heat(board.map, *rise_between(cold, {scene.frame()}), board.view, options);
    REQUIRE(answer.ok());
    REQUIRE_FALSE(answer->candidates.empty());
    CHECK(answer->candidates[0].part == board.part("R1"));
    CHECK_FALSE(answer->candidates[0].on_net);
    CHECK(answer->says.find("does not touch the net") != std::string::npos);
}

TEST_CASE("a finger says less than alcohol, and both less than a camera", "[thermal]") {
    const Board board;
    HeatSearchOptions options;
    options.net = board.net;
    const Point at{14.8, 14.0};  // the middle of C6
    const auto alcohol = search_place(board.map, at, alcohol_sigma_mm, options);
    const auto finger = search_place(board.map, at, finger_sigma_mm, options);
    REQUIRE(alcohol.ok());
    REQUIRE(finger.ok());
    CHECK(alcohol->candidates[0].part == board.part("C6"));
    CHECK(finger->candidates[0].probability < alcohol->candidates[0].probability);
    CHECK(finger->candidates.size() >= alcohol->candidates.size());
    CHECK_FALSE(search_place(board.map, at, 0.0, options).ok());
    BoardMap empty;
    CHECK_FALSE(search_place(empty, at, 1.0).ok());
    CHECK_FALSE(search_heat(board.map, HeatImage{}, board.view).ok());
}

TEST_CASE("parts that are not fitted are never named", "[thermal]") {
    Board board;
    board.map.set_fitted(board.part("C6"), false);
    const auto answer = search_place(board.map, {14.8, 14.0}, 1.0);
    REQUIRE(answer.ok());
    for (const HeatCandidate& one : answer->candidates)
        CHECK(one.part != board.part("C6"));
}

TEST_CASE("lock-in names a part that swings by less than a frame's noise", "[thermal][slow]") {
    HeatEvaluationOptions options;
    options.boards = 20;
    options.seed = 17;
    const HeatScore score = evaluate_heat(options);
    CHECK(score.boards == 20);
    CHECK(score.right_first >= 16);
    CHECK(score.sure_and_wrong <= 1);
}
