// SPDX-License-Identifier: GPL-3.0-or-later
// A board under a thermal camera, simulated: heat comes from parts, spreads in the board and leaves to the
// air, and the camera sees it blurred, noisy, and less of it on shiny parts.
//
// The board is a thin plate (explicit finite differences of the heat equation with loss to the air); a part
// that makes heat is a body on it with a heat capacity and a thermal resistance of its own. All of it is
// linear, so rises scale with the watts.
#pragma once

#include <cstdint>
#include <vector>

#include "core/base/random.h"
#include "core/board/part_body.h"
#include "core/board/plane_map.h"
#include "core/thermal/thermal_frame.h"

namespace eh {

// A part that makes heat.
struct HeatSource {
    int part = no_index;
    double watts = 0.0;          // while on
    bool follows_supply = true;  // else it is on all the time
};

struct HeatSceneOptions {
    int width = 160;
    int height = 120;
    double noise_kelvin = 0.05;  // one sigma of a pixel in a frame
    double blur_px = 0.8;        // of the lens, one sigma
    double ambient_celsius = 24.0;
    double drift_kelvin = 0.01;     // the camera's own wandering, one sigma after a second
    double reflected_kelvin = 6.0;  // what shiny parts mirror, above the room
    double shiny_share = 0.1;       // of parts, whose emissivity is low
    double cell_mm = 0.6;
};

class HeatScene {
  public:
    // What the camera sees of one side of the board. Requires a map that outlives the scene; sources without
    // a place make no heat.
    HeatScene(const BoardMap& map, BoardSide side, const std::vector<HeatSource>& sources,
              const PlaneMap& view, std::uint64_t seed, const HeatSceneOptions& options = {});

    // Lets time pass with the supply on or off.
    void advance(double seconds, bool powered);
    [[nodiscard]] double now_s() const { return now_s_; }
    // What the camera shows now.
    [[nodiscard]] ThermalFrame frame();
    // How warm a source's part itself is above the room.
    [[nodiscard]] double rise_kelvin(std::size_t source) const { return sources_[source].rise_kelvin; }
    // Makes all sources so many times as strong, and what is warm by now.
    void scale(double factor);

  private:
    struct Source {
        HeatSource what;
        PartBody body;
        std::vector<std::size_t> cells;  // under it
        double rise_kelvin = 0.0;
    };
    struct Pixel {
        std::size_t cell = 0;  // lower left of the four around it
        float right = 0.0F;    // shares of the four
        float above = 0.0F;
        int source = -1;  // whose body it shows
        float emissivity = 0.93F;
    };

    void lay_out(const PlaneMap& view, BoardSide side, const BoardMap& map);
    void step(double seconds, bool powered);
    void keep_heat_at_edges();

    HeatSceneOptions options_;
    Random random_;
    std::vector<Source> sources_;
    Point origin_;
    std::size_t columns_ = 0;
    std::size_t rows_ = 0;
    std::vector<float> board_kelvin_;  // above the room, by cell
    std::vector<float> next_;
    std::vector<Pixel> pixels_;
    std::vector<float> fixed_pattern_;
    double camera_drift_ = 0.0;
    double now_s_ = 0.0;
    double drifted_s_ = 0.0;
    bool powered_ = false;
};

// By how much the first source's part swings, from trough to top, once the supply has gone on and off for
// some cycles of period_s, off for the first half of each. The scene itself stays as it is.
double swing_kelvin(HeatScene scene, double period_s);

// A camera over a part of a board: `wide_mm` of it across the picture, the part in the middle, turned a
// little. Four marks would give the same map.
PlaneMap camera_over(const Point& middle, double wide_mm, const HeatSceneOptions& camera);

// The scene with a part that swings by so many kelvin in the supply's rhythm, from trough to top.
HeatScene swinging_scene(const BoardMap& map, int part, double kelvin, double period_s, const PlaneMap& view,
                         std::uint64_t seed, const HeatSceneOptions& camera);

}  // namespace eh
