// SPDX-License-Identifier: GPL-3.0-or-later
// The plan before the heat: when the joint is liquid, what gets too hot meanwhile, and which air to choose.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/rework/heat_course.h"
#include "core/rework/heat_setup.h"

namespace eh {

enum class HeatWeight { fine, note, problem };

struct HeatNote {
    HeatWeight weight = HeatWeight::fine;
    std::string says;
};

struct HeatPlan {
    // Seconds after the air comes on, under lasting air; none: not within longest_air_s.
    std::optional<double> melts_s;   // joint at its solidus: begins to move
    std::optional<double> liquid_s;  // joint at its liquidus
    std::optional<double> lift_s;    // joint somewhat above it, everywhere: lift or place the part
    std::optional<double> plastic_softens_s;
    std::optional<double> body_limit_s;
    std::optional<double> neighbour_softens_s;
    std::optional<double> neighbour_floats_s;
    // With the air as long as planned, and cooling after it.
    double air_s = 0.0;
    double peak_joint_c = 0.0;
    double peak_plastic_c = 0.0;
    double peak_body_c = 0.0;
    double peak_neighbour_c = 0.0;  // only with a neighbour
    double above_liquidus_s = 0.0;
    double steepest_k_per_s = 0.0;  // of the body, over ten seconds
    double board_at_start_c = 0.0;  // after the preheater
    bool possible = false;          // lifted before anything softens
    std::vector<HeatNote> notes;    // heaviest first
};

inline constexpr double longest_air_s = 300.0;  // nobody holds the air longer
inline constexpr double lift_above_k = 8.0;     // above the liquidus, since the hidden joints lag
inline constexpr double lifting_s = 6.0;        // for nudging and lifting, or for seating

// Refuses what check_heat_setup refuses. Bounds that are named in notes: ramp of at most 3 K/s, the body at
// most at its package's peak, 60 to 150 s above the liquidus (J-STD-020, lead-free and tin-lead profiles).
Result<HeatPlan> plan_heat(const HeatSetup& setup);

// One column of the window: for this air, from when the joint can be lifted until what gives way first.
struct HeatWindowPoint {
    double set_c = 0.0;
    std::optional<double> ready_s;
    std::optional<double> limit_s;  // plastic, package or neighbour; none: nothing within longest_air_s
};

// The window over air temperatures from `least_c` to `most_c` in `count` >= 2 even steps, all else as in the
// setup. Requires check_heat_setup(setup).
std::vector<HeatWindowPoint> heat_window(const HeatSetup& setup, double least_c, double most_c, int count);

// The coolest air that is ready within 90 s and leaves half of that time again before anything gives way;
// where there is none, the air with the most time left in proportion; none where nothing is ever ready in
// time.
std::optional<double> best_air_c(const std::vector<HeatWindowPoint>& window);

}  // namespace eh
