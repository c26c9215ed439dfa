// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rework/heat_setup.h"

#include <cmath>

#include "core/base/json_reader.h"
#include "core/base/text.h"

namespace eh {
namespace {

constexpr double epoxy_conductivity = 0.35;  // W/m/K
constexpr double copper_conductivity = 390.0;
constexpr double foil_m = 35e-6;
constexpr double epoxy_heat = 1900.0 * 1100.0;  // J/m3/K
constexpr double copper_heat = 8960.0 * 385.0;

// Empty where the value lies within.
std::optional<Error> outside(double value, double least, double most, const char* what, const char* unit) {
    if (std::isfinite(value) && value >= least && value <= most)
        return std::nullopt;
    return refused("“" + number_text("%.4g", value) + "” cannot be; a bench has " +
                       number_text("%.4g", least) + " to " + number_text("%.4g", most) + " " + unit,
                   what);
}

HeatPart read_part(const JsonReader& item) {
    HeatPart part;
    part.id = item.text("id");
    part.title = item.text("title");
    part.width_mm = item.number_between("width_mm", 0.2, 60.0);
    part.depth_mm = item.number_between("depth_mm", 0.2, 60.0);
    part.body_j_per_k = item.number_between("body_j_per_k", 1e-5, 50.0);
    part.plastic_j_per_k = item.number_between("plastic_j_per_k", 1e-5, 50.0);
    part.joint_j_per_k = item.number_between("joint_j_per_k", 1e-5, 10.0);
    part.plastic_share = item.number_between("plastic_share", 0.0, 1.0);
    part.body_to_plastic = item.number_between("body_to_plastic_w_per_k", 1e-5, 10.0);
    part.body_to_joint = item.number_between("body_to_joint_w_per_k", 1e-5, 10.0);
    part.joint_to_board = item.number_between("joint_to_board_w_per_k", 1e-5, 10.0);
    part.plastic_limit_c = item.number_between("plastic_limit_c", 60.0, 400.0);
    part.body_limit_c = item.number_between("body_limit_c", 60.0, 400.0);
    part.plastic_name = item.text("plastic_name");
    return part;
}

}  // namespace

Result<std::vector<HeatPart>> parse_heat_parts(const std::string& text, const std::string& file) {
    return read_json<std::vector<HeatPart>>(text, file, [](const JsonReader& root) {
        root.check_format("eager-hound.heat-parts", 1);
        std::vector<HeatPart> parts;
        for (const JsonReader& item : root.items("parts"))
            parts.push_back(read_part(item));
        if (parts.empty())
            root.at("parts").refuse("there must be at least one part");
        return parts;
    });
}

double sheet_conductance(const BoardBuild& board) {
    return board.thickness_mm * 1e-3 * epoxy_conductivity +
           board.copper_layers * board.copper_cover * foil_m * copper_conductivity;
}

double sheet_heat(const BoardBuild& board) {
    return board.thickness_mm * 1e-3 * epoxy_heat +
           board.copper_layers * board.copper_cover * foil_m * copper_heat;
}

Outcome check_heat_setup(const HeatSetup& setup) {
    constexpr double hottest_air_c = 600.0;
    for (const auto& problem :
         {outside(setup.air.set_c, 0.0, hottest_air_c, "air temperature", "°C"),
          outside(setup.air.litres_a_minute, 1.0, 200.0, "air flow", "litres a minute"),
          outside(setup.air.diameter_m * 1e3, 2.0, 25.0, "nozzle", "mm"),
          outside(setup.air.distance_m * 1e3, 2.0, 80.0, "distance of the nozzle", "mm"),
          outside(setup.preheat_c.value_or(setup.room_c), 0.0, 250.0, "preheat", "°C"),
          outside(setup.preheat_s, 0.0, 3600.0, "time on the preheater", "s"),
          outside(setup.room_c, 0.0, 45.0, "room", "°C"),
          outside(setup.board.thickness_mm, 0.2, 4.0, "thickness of the board", "mm"),
          outside(setup.board.copper_layers, 1.0, 24.0, "copper layers", "layers"),
          outside(setup.board.copper_cover, 0.05, 1.0, "copper cover", "of the layer"),
          outside(setup.liquidus_c, 60.0, 400.0, "liquidus of the solder", "°C"),
          outside(setup.air_s.value_or(1.0), 0.0, 1800.0, "time of the air", "s"),
          outside(setup.neighbour ? setup.neighbour->distance_mm : 5.0, 1.0, 100.0,
                  "distance of the neighbour", "mm")}) {
        if (problem)
            return *problem;
    }
    if (setup.part.width_mm <= 0.0)
        return refused("choose what is heated", "part");
    return Done{};
}

}  // namespace eh
