// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/thermal/frame_notes.h"

#include <cmath>
#include <sstream>

#include "core/base/lines.h"
#include "core/base/text.h"

namespace eh {
namespace {

constexpr double most_celsius_per_count = 10.0;
constexpr double most_celsius = 5000.0;

std::string line_of(const char* name, double value) {
    return name + machine_number(" %.9g\n", value);
}

}  // namespace

FrameNotes read_notes(const std::string& lines) {
    FrameNotes notes;
    std::optional<double> per_count;
    std::optional<double> at_zero;
    std::istringstream text(lines);
    for (std::string line; std::getline(text, line);) {
        std::istringstream words(line);
        std::string name;
        std::string number;
        words >> name >> number;
        std::string_view view(number);
        const auto value = take_number(view);
        // Beyond any clock and any camera: pixels that are no number would come of it.
        constexpr double most = 1e12;
        if (!value || !view.empty() || std::abs(*value) > most)
            continue;
        if (name == "t_s")
            notes.t_s = value;
        else if (name == "powered")
            notes.powered = *value != 0.0;
        else if (name == "celsius_per_count" && *value > 0.0 && *value <= most_celsius_per_count)
            per_count = value;
        else if (name == "celsius_at_zero" && std::abs(*value) <= most_celsius)
            at_zero = value;
    }
    if (per_count && at_zero)
        notes.scale = ThermalScale{*per_count, *at_zero};
    return notes;
}

std::string write_notes(const FrameNotes& notes) {
    std::string lines;
    if (notes.t_s)
        lines += line_of("t_s", *notes.t_s);
    if (notes.powered)
        lines += line_of("powered", *notes.powered ? 1.0 : 0.0);
    if (notes.scale)
        lines += line_of("celsius_per_count", notes.scale->celsius_per_count) +
                 line_of("celsius_at_zero", notes.scale->celsius_at_zero);
    return lines;
}

}  // namespace eh
