// SPDX-License-Identifier: GPL-3.0-or-later
// Temperatures of part, plastic, joint, board and neighbour while a joint is heated with air.
//
// A network of seven lumps (thermal_network.h): body, plastic, joint, the board under the part, the board
// around it under the air, the joint of a neighbour, and the rest of the board. The air heats by Martin's
// correlation and cools outward; the rest of the board carries heat away like an endless round fin
// (2 pi k t m r K1(mr)/K0(mr); Incropera, annular fins) and is warmed by the preheater.
// Not for: latent heat of the solder (a joule or so), infrared stations, reflow ovens.
#pragma once

#include <array>
#include <vector>

#include "core/rework/heat_setup.h"
#include "core/rework/thermal_network.h"

namespace eh {

enum class HeatLump { body, plastic, joint, board, ring, neighbour, rest };
inline constexpr int heat_lump_count = 7;

class HeatCourse {
  public:
    // Requires check_heat_setup(setup). The air stays on for `air_seconds` after the preheater's time.
    HeatCourse(const HeatSetup& setup, double air_seconds);

    // Moments count from when the air comes on; before that the preheater alone works (t >= -preheat_s()).
    [[nodiscard]] double celsius(HeatLump lump, double t_seconds) const;
    [[nodiscard]] double preheat_s() const { return preheat_s_; }
    [[nodiscard]] double air_s() const { return air_s_; }

    // When under lasting air the lump comes to that temperature; none within `limit_s`.
    [[nodiscard]] std::optional<double> reaches(HeatLump lump, double celsius, double limit_s) const;

  private:
    [[nodiscard]] std::pair<const ThermalCourse*, double> stage(double t_seconds) const;

    double preheat_s_;
    double air_s_;
    ThermalCourse warming_;
    ThermalCourse heating_;
    ThermalCourse cooling_;
};

}  // namespace eh
