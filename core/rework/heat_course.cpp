// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rework/heat_course.h"

#include <cmath>
#include <numbers>

namespace eh {
namespace {

constexpr double still_air = 10.0;    // W/m2/K, convection and radiation of a warm surface (handbooks)
constexpr double under_nozzle = 1.5;  // heat transfer in the middle against the mean over 2.5 diameters
constexpr double foil_lets_through = 0.15;
constexpr double beside_part_m = 1.5e-3;  // board that belongs to the joints
constexpr double least_ring_m = 6e-3;
constexpr double joint_edge_m = 0.5e-3;  // ends of pins that the air meets
constexpr double neighbour_heat = 0.03;  // J/K of a small joint and its pad
constexpr double neighbour_to_board = 0.02;
constexpr double neighbour_area_m2 = 3e-6;
constexpr double rest_area_m2 = 0.01;  // of the board that the preheater warms

struct Geometry {
    double part_m2 = 0.0;
    double joint_m2 = 0.0;
    double inner_m = 0.0;
    double outer_m = 0.0;
};

Geometry geometry_of(const HeatSetup& setup) {
    Geometry g;
    const double width = setup.part.width_mm * 1e-3;
    const double depth = setup.part.depth_mm * 1e-3;
    g.part_m2 = width * depth;
    g.joint_m2 = 2.0 * (width + depth) * joint_edge_m;
    g.inner_m = std::sqrt(g.part_m2 / std::numbers::pi) + beside_part_m;
    g.outer_m = std::max(2.5 * setup.air.diameter_m, g.inner_m + least_ring_m);
    return g;
}

double disc(double radius) {
    return std::numbers::pi * radius * radius;
}

int at(HeatLump lump) {
    return static_cast<int>(lump);
}

Eigen::VectorXd capacities(const HeatSetup& setup, const Geometry& g) {
    const double sheet = sheet_heat(setup.board);
    Eigen::VectorXd c(heat_lump_count);
    c << setup.part.body_j_per_k, setup.part.plastic_j_per_k, setup.part.joint_j_per_k,
        sheet * disc(g.inner_m), sheet * (disc(g.outer_m) - disc(g.inner_m)), neighbour_heat,
        sheet * rest_area_m2;
    return c;
}

// How far the warmth of the ring has fallen at this radius of the rest (endless round fin).
double fin_share(double m, double ring, double radius) {
    return radius <= ring ? 1.0 : std::cyl_bessel_k(0.0, m * radius) / std::cyl_bessel_k(0.0, m * ring);
}

// Everything except what comes from above.
ThermalNetwork board_network(const HeatSetup& setup, const Geometry& g) {
    ThermalNetwork net(capacities(setup, g));
    const HeatPart& part = setup.part;
    net.join(at(HeatLump::body), at(HeatLump::plastic), part.body_to_plastic);
    net.join(at(HeatLump::body), at(HeatLump::joint), part.body_to_joint);
    net.join(at(HeatLump::joint), at(HeatLump::board), part.joint_to_board);
    const double sheet = sheet_conductance(setup.board) * setup.calibration.sink;
    // From the middle of the inner disc to the middle of the ring.
    const double from = g.inner_m / std::sqrt(2.0);
    const double to = std::sqrt(0.5 * (g.inner_m * g.inner_m + g.outer_m * g.outer_m));
    net.join(at(HeatLump::board), at(HeatLump::ring), 2.0 * std::numbers::pi * sheet / std::log(to / from));
    const double m = std::sqrt(2.0 * still_air / sheet);
    const double mr = m * g.outer_m;
    net.join(at(HeatLump::ring), at(HeatLump::rest),
             2.0 * std::numbers::pi * sheet * mr * std::cyl_bessel_k(1.0, mr) / std::cyl_bessel_k(0.0, mr));
    // The preheater radiates what the board loses on both sides at preheat_c, however hot the board becomes
    // elsewhere; written as a warmer surrounding below.
    const double room = setup.room_c;
    const double below = setup.preheat_c ? room + 2.0 * (*setup.preheat_c - room) : room;
    net.tie(at(HeatLump::board), still_air * disc(g.inner_m), below);
    net.tie(at(HeatLump::ring), still_air * (disc(g.outer_m) - disc(g.inner_m)), below);
    net.tie(at(HeatLump::rest), still_air * rest_area_m2, below);
    net.tie(at(HeatLump::rest), still_air * rest_area_m2, room);
    const double distance = (setup.neighbour ? setup.neighbour->distance_mm : 1e3 * g.outer_m) * 1e-3;
    const double share = fin_share(m, g.outer_m, distance);
    net.join(at(HeatLump::neighbour), at(HeatLump::ring), neighbour_to_board * share);
    net.join(at(HeatLump::neighbour), at(HeatLump::rest), neighbour_to_board * (1.0 - share));
    return net;
}

// What the top side meets: still room air.
void add_still_air(ThermalNetwork& net, const HeatSetup& setup, const Geometry& g) {
    const double share = setup.part.plastic_share;
    net.tie(at(HeatLump::body), still_air * g.part_m2 * (1.0 - share), setup.room_c);
    net.tie(at(HeatLump::plastic), still_air * g.part_m2 * share, setup.room_c);
    net.tie(at(HeatLump::joint), still_air * g.joint_m2, setup.room_c);
    net.tie(at(HeatLump::board), still_air * (disc(g.inner_m) - g.part_m2), setup.room_c);
    net.tie(at(HeatLump::ring), still_air * (disc(g.outer_m) - disc(g.inner_m)), setup.room_c);
    net.tie(at(HeatLump::neighbour), still_air * neighbour_area_m2, setup.room_c);
}

void add_hot_air(ThermalNetwork& net, const HeatSetup& setup, const Geometry& g) {
    const double mean = setup.calibration.air * jet_heat_transfer(setup.air, g.outer_m);
    const double middle = under_nozzle * mean;
    // So that middle and ring together take the mean.
    const double around = std::max(0.5 * mean, (mean * disc(g.outer_m) - middle * disc(g.inner_m)) /
                                                   (disc(g.outer_m) - disc(g.inner_m)));
    const double excess = setup.air.set_c - setup.room_c;
    const auto warm = [&](double warmth) { return setup.room_c + warmth * excess; };
    const double hot = warm(jet_warmth(setup.air, 0.0, g.inner_m));
    const double share = setup.part.plastic_share;
    net.tie(at(HeatLump::body), middle * g.part_m2 * (1.0 - share), hot);
    net.tie(at(HeatLump::plastic), middle * g.part_m2 * share, hot);
    net.tie(at(HeatLump::joint), middle * g.joint_m2, hot);
    net.tie(at(HeatLump::board), middle * (disc(g.inner_m) - g.part_m2), hot);
    net.tie(at(HeatLump::ring), around * (disc(g.outer_m) - disc(g.inner_m)),
            warm(jet_warmth(setup.air, g.inner_m, g.outer_m)));
    if (setup.neighbour) {
        const double distance = setup.neighbour->distance_mm * 1e-3;
        const double through = setup.neighbour->shielded ? foil_lets_through : 1.0;
        // Beyond the ring the wall jet slows as it cools.
        const double there = around * std::min(1.0, g.outer_m / distance) * through;
        net.tie(at(HeatLump::neighbour), there * neighbour_area_m2, warm(jet_warmth(setup.air, distance)));
    }
}

ThermalNetwork network_of(const HeatSetup& setup, bool air) {
    const Geometry g = geometry_of(setup);
    ThermalNetwork net = board_network(setup, g);
    if (air)
        add_hot_air(net, setup, g);
    else
        add_still_air(net, setup, g);
    return net;
}

// After the work the preheater is off.
ThermalNetwork cooling_network(HeatSetup setup) {
    setup.preheat_c.reset();
    return network_of(setup, false);
}

}  // namespace

HeatCourse::HeatCourse(const HeatSetup& setup, double air_seconds)
    : preheat_s_(setup.preheat_c ? setup.preheat_s : 0.0),
      air_s_(air_seconds),
      warming_(network_of(setup, false), Eigen::VectorXd::Constant(heat_lump_count, setup.room_c)),
      heating_(network_of(setup, true), warming_.at(preheat_s_)),
      cooling_(cooling_network(setup), heating_.at(air_s_)) {}

std::pair<const ThermalCourse*, double> HeatCourse::stage(double t) const {
    if (t < 0.0)
        return {&warming_, std::max(0.0, t + preheat_s_)};
    if (t <= air_s_)
        return {&heating_, t};
    return {&cooling_, t - air_s_};
}

double HeatCourse::celsius(HeatLump lump, double t) const {
    const auto [course, moment] = stage(t);
    return course->at(moment, at(lump));
}

std::optional<double> HeatCourse::reaches(HeatLump lump, double celsius, double limit_s) const {
    constexpr int halvings = 40;
    const int index = at(lump);
    if (heating_.at(0.0, index) >= celsius)
        return 0.0;
    // Under lasting air every lump rises steadily once it has begun, so one crossing is bracketed.
    if (heating_.at(limit_s, index) < celsius)
        return std::nullopt;
    double low = 0.0;
    double high = limit_s;
    for (int i = 0; i < halvings; ++i) {
        const double middle = 0.5 * (low + high);
        (heating_.at(middle, index) >= celsius ? high : low) = middle;
    }
    return high;
}

}  // namespace eh
