// SPDX-License-Identifier: GPL-3.0-or-later
// What is heated, on which board, with which air (data/rework/heat_parts.json).
//
// Temperatures degrees Celsius, lengths millimetres where the name says so, heat joules per kelvin,
// conductances watts per kelvin.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/rework/air_jet.h"
#include "core/rework/alloy.h"

namespace eh {

// A kind of part that is soldered or taken off with hot air. All values are estimates of mass times specific
// heat and of conduction through metal of that size; a bench's own logs correct them (heat_calibration.h).
struct HeatPart {
    std::string id;
    std::string title;
    double width_mm = 0.0;  // outline on the board
    double depth_mm = 0.0;
    double body_j_per_k = 0.0;     // shell, or the package of a chip
    double plastic_j_per_k = 0.0;  // tongue or housing; of a chip its die and mould
    double joint_j_per_k = 0.0;    // solder, pads and the ends of pins
    double plastic_share = 0.0;    // of the outline that the air meets as plastic
    double body_to_plastic = 0.0;
    double body_to_joint = 0.0;
    double joint_to_board = 0.0;
    double plastic_limit_c = 0.0;  // softens, or is damaged
    double body_limit_c = 0.0;     // highest peak that the package is made for
    std::string plastic_name;      // "tongue", "housing", "chip"
};

// Reads the list; refused with file and field.
Result<std::vector<HeatPart>> parse_heat_parts(const std::string& text, const std::string& file);

struct BoardBuild {
    double thickness_mm = 1.0;
    int copper_layers = 8;
    double copper_cover = 0.6;  // of each layer, 0 to 1
};

// Conductance of a square of the board along itself, watts per kelvin: glass epoxy 0.35 W/m/K, copper 390
// W/m/K in foils of 35 um (handbook values).
double sheet_conductance(const BoardBuild& board);
// Heat of the board, joules per kelvin and square metre.
double sheet_heat(const BoardBuild& board);

struct HeatNeighbour {
    double distance_mm = 8.0;  // of its joints from the middle of the part
    double solidus_c = 217.0;  // of its solder
    double liquidus_c = 220.0;
    bool shielded = false;  // foil tape over it
};

// What a bench's own logs say of its air and its boards, as factors of what is computed.
struct HeatCalibration {
    double air = 1.0;         // of heat transfer from the air
    double sink = 1.0;        // of what the board carries away
    double air_spread = 0.4;  // standard deviations of their logarithms
    double sink_spread = 0.4;
    int logs = 0;
};

struct HeatSetup {
    HeatPart part;
    BoardBuild board;
    Nozzle air;
    double solidus_c = 183.0;  // of the joint's solder as it is now
    double liquidus_c = 183.0;
    double room_c = 25.0;
    std::optional<double> preheat_c;  // what the board comes to on the preheater in time; none: no preheater
    double preheat_s = 240.0;         // before the air
    std::optional<HeatNeighbour> neighbour;
    std::optional<double> air_s;  // how long the air stays; none: until a while after the joint is liquid
    HeatCalibration calibration;
};

// Refuses what no bench has, naming the field: air below 0 or above 600 °C, 1 to 200 litres a minute, nozzle
// 2 to 25 mm, distance 2 to 80 mm, preheat above 250 °C, boards of 0.2 to 4 mm and 1 to 24 layers.
Outcome check_heat_setup(const HeatSetup& setup);

}  // namespace eh
