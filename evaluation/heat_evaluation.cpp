// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluation/heat_evaluation.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/text.h"
#include "core/thermal/heat_scene.h"
#include "core/thermal/heat_search.h"
#include "core/thermal/lock_in.h"
#include "core/thermal/rhythm.h"
#include "evaluation/drawn_board.h"

namespace eh {
namespace {

constexpr double closest_parts_mm = 2.2;
constexpr int other_parts = 60;

// Where the camera stands: over the net's parts, a little aslant; what it shows and what was marked.
struct CameraStand {
    PlaneMap view;
    PlaneMap marked;
};

CameraStand stand_over(const DrawnBoard& board, const HeatSceneOptions& camera, double marks_sigma_mm,
                       Random& random) {
    const auto extent = *board.map.extent();
    // Wide enough that no part falls outside, whatever the slant.
    const double margin_mm = 3.0 + 0.08 * distance_mm(extent.least, extent.most);
    const double wide = extent.most.x_mm - extent.least.x_mm + 2.0 * margin_mm;
    const double high = extent.most.y_mm - extent.least.y_mm + 2.0 * margin_mm;
    const double mm_a_pixel = std::max(wide / (camera.width - 1.0), high / (camera.height - 1.0));
    constexpr double aslant = 0.05;
    const auto skew = [&] { return 1.0 + aslant * random.normal(); };
    const std::array<PicturePoint, 4> corners{{{0.0, 0.0},
                                               {camera.width - 1.0, 0.0},
                                               {camera.width - 1.0, camera.height - 1.0},
                                               {0.0, camera.height - 1.0}}};
    std::array<MarkedPoint, 4> marks;
    for (std::size_t i = 0; i < corners.size(); ++i) {
        marks[i].seen = corners[i];
        marks[i].place = {extent.least.x_mm - margin_mm + corners[i].x_px * mm_a_pixel * skew(),
                          extent.least.y_mm - margin_mm + corners[i].y_px * mm_a_pixel * skew()};
    }
    const PlaneMap view = *PlaneMap::from_marks(marks);
    for (MarkedPoint& mark : marks) {
        mark.place.x_mm += marks_sigma_mm * random.normal();
        mark.place.y_mm += marks_sigma_mm * random.normal();
    }
    return {view, *PlaneMap::from_marks(marks)};
}

}  // namespace

HeatScore evaluate_heat(const HeatEvaluationOptions& options) {
    constexpr double sure = 0.95;
    HeatScore score;
    for (int b = 0; b < options.boards; ++b) {
        Random random(options.seed * 1'000'003ULL + static_cast<std::uint64_t>(b));
        DrawnBoardOptions drawn;
        drawn.closest_parts_mm = closest_parts_mm;
        drawn.other_parts = other_parts;
        const DrawnBoard board = draw_board(random, drawn);
        HeatSceneOptions camera;
        camera.noise_kelvin = options.noise_kelvin;
        const CameraStand stand = stand_over(board, camera, options.marks_sigma_mm, random);
        // Beside the short, a part of another net that is warm all the time.
        std::vector<HeatSource> sources{{board.shorted, 1.0, true}};
        const int bystander = board.map.find_part("R" + integer_text(1 + random.below(other_parts)));
        const std::uint64_t scene_seed = random.next();
        const double a_watt = swing_kelvin(
            HeatScene(board.map, BoardSide::top, sources, stand.view, scene_seed, camera), options.period_s);
        const double watts = options.rise_kelvin / std::max(a_watt, 1e-9);
        sources.front().watts = watts;
        if (bystander != no_index)
            sources.push_back({bystander, 2.0 * watts * random.uniform(), false});
        HeatScene scene(board.map, BoardSide::top, sources, stand.view, scene_seed, camera);

        LockIn lock_in(camera.width, camera.height);
        const double frame_s = 1.0 / options.frames_a_second;
        const auto frames = static_cast<int>(options.seconds * options.frames_a_second);
        for (int f = 0; f < frames; ++f) {
            const double cycles = scene.now_s() / options.period_s;
            scene.advance(frame_s, cycles - std::floor(cycles) < 0.5);
            lock_in.add(scene.frame(), scene.now_s() / options.period_s, scene.now_s());
        }
        const auto image = lock_in.image();
        if (!image)
            continue;
        HeatSearchOptions search;
        search.net = board.net;
        search.marks_sigma_mm = std::max(0.1, options.marks_sigma_mm);
        const auto answer = search_heat(board.map, image->heat, stand.marked, search);
        ++score.boards;
        score.cannot_tell += answer && answer->can_tell ? 0 : 1;
        if (answer && !answer->candidates.empty()) {
            const auto& named = answer->candidates;
            const bool first = named.front().part == board.shorted;
            score.right_first += first ? 1 : 0;
            score.right_in_two += first || (named.size() > 1 && named[1].part == board.shorted) ? 1 : 0;
            if (named.front().probability >= sure) {
                ++score.sure;
                score.sure_and_wrong += first ? 0 : 1;
            }
        }
        if (options.progress)
            options.progress(b + 1);
    }
    return score;
}

}  // namespace eh
