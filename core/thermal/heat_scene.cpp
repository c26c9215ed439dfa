// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/thermal/heat_scene.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace eh {
namespace {

// A board of glass fibre with some layers of copper, 1.2 mm thick; air on both sides. Orders of size, from
// memory of the usual tables.
constexpr double board_mm = 1.2;
constexpr double board_watts_a_metre_kelvin = 20.0;   // along the board
constexpr double board_joules_a_cubic_metre = 2.0e6;  // a kelvin
constexpr double air_watts_a_square_metre = 20.0;     // a kelvin, both sides together
// A small part: its volume as its footprint by this height, and how it sits on the board.
constexpr double part_mm = 0.8;
constexpr double part_joules_a_cubic_metre = 3.5e6;
constexpr double part_kelvin_a_watt_mm2 = 80.0;  // over its footprint's area
constexpr double stable_share = 0.2;             // of cell^2 / diffusivity; 0.25 is the limit
constexpr double margin_mm = 4.0;
constexpr float board_emissivity = 0.92F;
constexpr double fixed_pattern_kelvin = 0.03;
constexpr double turned_rad = 0.06;  // no camera is held quite straight

constexpr double heat_capacity_of_board = board_joules_a_cubic_metre * board_mm * 1e-3;  // J / (m^2 K)
constexpr double conductance_a_square = board_watts_a_metre_kelvin * board_mm * 1e-3;    // W / K

void blur(std::vector<float>& values, int width, int height, double sigma) {
    if (sigma <= 0.0)
        return;
    const int reach = static_cast<int>(std::ceil(3.0 * sigma));
    std::vector<float> kernel;
    float sum = 0.0F;
    for (int i = -reach; i <= reach; ++i) {
        kernel.push_back(static_cast<float>(std::exp(-0.5 * i * i / (sigma * sigma))));
        sum += kernel.back();
    }
    std::vector<float> once(values.size());
    const auto pass = [&](const std::vector<float>& from, std::vector<float>& to, bool along_rows) {
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x) {
                float total = 0.0F;
                for (int i = -reach; i <= reach; ++i) {
                    const int sx = along_rows ? std::clamp(x + i, 0, width - 1) : x;
                    const int sy = along_rows ? y : std::clamp(y + i, 0, height - 1);
                    total += kernel[static_cast<std::size_t>(i + reach)] *
                             from[static_cast<std::size_t>(sy * width + sx)];
                }
                to[static_cast<std::size_t>(y * width + x)] = total / sum;
            }
    };
    pass(values, once, true);
    pass(once, values, false);
}

}  // namespace

HeatScene::HeatScene(const BoardMap& map, BoardSide side, const std::vector<HeatSource>& sources,
                     const PlaneMap& view, std::uint64_t seed, const HeatSceneOptions& options)
    : options_(options), random_(seed) {
    for (const HeatSource& source : sources) {
        if (source.part == no_index)
            continue;
        if (const auto body = body_of(map, source.part))
            sources_.push_back({source, *body, {}, 0.0});
    }
    lay_out(view, side, map);
    for (int i = 0; i < options_.width * options_.height; ++i)
        fixed_pattern_.push_back(static_cast<float>(fixed_pattern_kelvin * random_.normal()));
}

void HeatScene::lay_out(const PlaneMap& view, BoardSide side, const BoardMap& map) {
    Point least{1e9, 1e9};
    Point most{-1e9, -1e9};
    for (const double x : {0.0, options_.width - 1.0})
        for (const double y : {0.0, options_.height - 1.0}) {
            const Point corner = view.place_of({x, y});
            least = {std::min(least.x_mm, corner.x_mm), std::min(least.y_mm, corner.y_mm)};
            most = {std::max(most.x_mm, corner.x_mm), std::max(most.y_mm, corner.y_mm)};
        }
    origin_ = {least.x_mm - margin_mm, least.y_mm - margin_mm};
    columns_ = static_cast<std::size_t>((most.x_mm - least.x_mm + 2.0 * margin_mm) / options_.cell_mm) + 2;
    rows_ = static_cast<std::size_t>((most.y_mm - least.y_mm + 2.0 * margin_mm) / options_.cell_mm) + 2;
    board_kelvin_.assign(columns_ * rows_, 0.0F);
    next_ = board_kelvin_;
    const auto middle_of = [&](std::size_t column, std::size_t row) {
        return Point{origin_.x_mm + static_cast<double>(column) * options_.cell_mm,
                     origin_.y_mm + static_cast<double>(row) * options_.cell_mm};
    };
    for (Source& source : sources_) {
        std::size_t nearest = 0;
        double nearest_mm = 1e9;
        for (std::size_t row = 1; row + 1 < rows_; ++row)
            for (std::size_t column = 1; column + 1 < columns_; ++column) {
                const double away_mm = distance_mm(middle_of(column, row), source.body.centre());
                if (source.body.distance_to(middle_of(column, row)) == 0.0)
                    source.cells.push_back(row * columns_ + column);
                if (away_mm < nearest_mm) {
                    nearest_mm = away_mm;
                    nearest = row * columns_ + column;
                }
            }
        if (source.cells.empty())
            source.cells.push_back(nearest);
    }
    // Emissivities by lot; ceramic and moulded bodies are about as matt as the board.
    struct Seen {
        PartBody body;
        float emissivity;
        int source;
    };
    std::vector<Seen> seen;
    for (std::size_t part = 0; part < map.parts().size(); ++part) {
        const auto index = static_cast<int>(part);
        const auto body = body_of(map, index);
        const bool shiny = random_.uniform() < options_.shiny_share;
        const double emissivity = shiny ? 0.15 + 0.25 * random_.uniform() : 0.85 + 0.1 * random_.uniform();
        if (!body || !reachable(map.part(index).side, side) || !map.part(index).fitted)
            continue;
        const auto own = std::find_if(sources_.begin(), sources_.end(),
                                      [index](const Source& source) { return source.what.part == index; });
        seen.push_back({*body, static_cast<float>(emissivity),
                        own == sources_.end() ? -1 : static_cast<int>(own - sources_.begin())});
    }
    pixels_.reserve(static_cast<std::size_t>(options_.width * options_.height));
    for (int y = 0; y < options_.height; ++y)
        for (int x = 0; x < options_.width; ++x) {
            const Point place = view.place_of({double(x), double(y)});
            const double across = std::clamp((place.x_mm - origin_.x_mm) / options_.cell_mm, 0.0,
                                             static_cast<double>(columns_) - 1.001);
            const double down = std::clamp((place.y_mm - origin_.y_mm) / options_.cell_mm, 0.0,
                                           static_cast<double>(rows_) - 1.001);
            Pixel pixel;
            pixel.cell = static_cast<std::size_t>(down) * columns_ + static_cast<std::size_t>(across);
            pixel.right = static_cast<float>(across - std::floor(across));
            pixel.above = static_cast<float>(down - std::floor(down));
            pixel.emissivity = board_emissivity;
            for (const Seen& part : seen) {
                if (part.body.distance_to(place) > 0.0)
                    continue;
                pixel.emissivity = part.emissivity;
                pixel.source = part.source;
            }
            pixels_.push_back(pixel);
        }
}

void HeatScene::advance(double seconds, bool powered) {
    const double cell_m = options_.cell_mm * 1e-3;
    const double longest_s = stable_share * cell_m * cell_m * heat_capacity_of_board / conductance_a_square;
    const auto steps = std::max(1, static_cast<int>(std::ceil(seconds / longest_s)));
    for (int i = 0; i < steps; ++i)
        step(seconds / steps, powered);
    now_s_ += seconds;
    powered_ = powered;
}

void HeatScene::step(double seconds, bool powered) {
    const double cell_m = options_.cell_mm * 1e-3;
    const auto spread =
        static_cast<float>(seconds * conductance_a_square / heat_capacity_of_board / (cell_m * cell_m));
    const auto keep = static_cast<float>(1.0 - seconds * air_watts_a_square_metre / heat_capacity_of_board);
    for (std::size_t row = 1; row + 1 < rows_; ++row) {
        const float* const now = board_kelvin_.data() + row * columns_;
        float* const next = next_.data() + row * columns_;
        for (std::size_t i = 1; i + 1 < columns_; ++i)
            next[i] = keep * now[i] + spread * (now[i - 1] + now[i + 1] + now[i - columns_] +
                                                now[i + columns_] - 4.0F * now[i]);
    }
    for (Source& source : sources_) {
        const double area_mm2 = std::max(source.body.area_mm2(), 0.5);
        const double resistance = part_kelvin_a_watt_mm2 / area_mm2;
        const double capacity = part_joules_a_cubic_metre * area_mm2 * part_mm * 1e-9;
        double under = 0.0;
        for (const std::size_t cell : source.cells)
            under += double{board_kelvin_[cell]} / static_cast<double>(source.cells.size());
        const bool on = powered || !source.what.follows_supply;
        const double down = (source.rise_kelvin - under) / resistance;
        // The part alone is faster than a step: it goes to where it tends by its own time constant.
        const double tends_to = under + (on ? source.what.watts : 0.0) * resistance;
        source.rise_kelvin =
            tends_to + (source.rise_kelvin - tends_to) * std::exp(-seconds / (resistance * capacity));
        const double warms = seconds * down / (heat_capacity_of_board * cell_m * cell_m) /
                             static_cast<double>(source.cells.size());
        for (const std::size_t cell : source.cells)
            next_[cell] += static_cast<float>(warms);
    }
    keep_heat_at_edges();
    std::swap(board_kelvin_, next_);
}

// No heat leaves over the edges: they are as warm as their neighbours.
void HeatScene::keep_heat_at_edges() {
    for (std::size_t row = 0; row < rows_; ++row) {
        float* const cells = next_.data() + row * columns_;
        cells[0] = cells[1];
        cells[columns_ - 1] = cells[columns_ - 2];
    }
    std::copy_n(next_.begin() + static_cast<std::ptrdiff_t>(columns_), columns_, next_.begin());
    std::copy_n(next_.end() - static_cast<std::ptrdiff_t>(2 * columns_), columns_,
                next_.end() - static_cast<std::ptrdiff_t>(columns_));
}

ThermalFrame HeatScene::frame() {
    ThermalFrame frame{options_.width, options_.height, {}, now_s_, powered_};
    frame.celsius.reserve(pixels_.size());
    for (const Pixel& pixel : pixels_) {
        const float* const cell = board_kelvin_.data() + pixel.cell;
        const float low = cell[0] + pixel.right * (cell[1] - cell[0]);
        const float high = cell[columns_] + pixel.right * (cell[columns_ + 1] - cell[columns_]);
        float rise = low + pixel.above * (high - low);
        if (pixel.source >= 0)
            rise = static_cast<float>(sources_[static_cast<std::size_t>(pixel.source)].rise_kelvin);
        frame.celsius.push_back(pixel.emissivity * rise +
                                (1.0F - pixel.emissivity) * static_cast<float>(options_.reflected_kelvin));
    }
    blur(frame.celsius, options_.width, options_.height, options_.blur_px);
    camera_drift_ += options_.drift_kelvin * std::sqrt(std::max(0.0, now_s_ - drifted_s_)) * random_.normal();
    drifted_s_ = now_s_;
    for (std::size_t i = 0; i < frame.celsius.size(); ++i)
        frame.celsius[i] += static_cast<float>(options_.ambient_celsius + camera_drift_ +
                                               options_.noise_kelvin * random_.normal()) +
                            fixed_pattern_[i];
    return frame;
}

void HeatScene::scale(double factor) {
    for (Source& source : sources_) {
        source.what.watts *= factor;
        source.rise_kelvin *= factor;
    }
    for (float& kelvin : board_kelvin_)
        kelvin *= static_cast<float>(factor);
}

double swing_kelvin(HeatScene scene, double period_s) {
    constexpr int steps = 40;
    constexpr int settling_cycles = 3;
    double least = 1e9;
    double most = -1e9;
    for (int i = 0; i < (settling_cycles + 1) * steps; ++i) {
        scene.advance(period_s / steps, i % steps >= steps / 2);
        if (i >= settling_cycles * steps) {
            least = std::min(least, scene.rise_kelvin(0));
            most = std::max(most, scene.rise_kelvin(0));
        }
    }
    return most - least;
}

PlaneMap camera_over(const Point& middle, double wide_mm, const HeatSceneOptions& camera) {
    const double mm_a_pixel = wide_mm / camera.width;
    const std::array<PicturePoint, 4> corners{{{0.0, 0.0},
                                               {camera.width - 1.0, 0.0},
                                               {camera.width - 1.0, camera.height - 1.0},
                                               {0.0, camera.height - 1.0}}};
    std::vector<MarkedPoint> marks;
    for (const PicturePoint& corner : corners) {
        const double across = (corner.x_px - 0.5 * camera.width) * mm_a_pixel;
        // The picture's rows go down, the board's millimetres up.
        const double up = (0.5 * camera.height - corner.y_px) * mm_a_pixel;
        marks.push_back({corner,
                         {middle.x_mm + across * std::cos(turned_rad) - up * std::sin(turned_rad),
                          middle.y_mm + across * std::sin(turned_rad) + up * std::cos(turned_rad)}});
    }
    return *PlaneMap::from_marks(marks);
}

HeatScene swinging_scene(const BoardMap& map, int part, double kelvin, double period_s, const PlaneMap& view,
                         std::uint64_t seed, const HeatSceneOptions& camera) {
    HeatScene scene(map, map.part(part).side, {{part, 1.0, true}}, view, seed, camera);
    scene.scale(kelvin / std::max(swing_kelvin(scene, period_s), 1e-9));
    return scene;
}

}  // namespace eh
