// SPDX-License-Identifier: GPL-3.0-or-later
// What stands beside the pixels of a frame: lines of a name and a value.
#pragma once

#include <optional>
#include <string>

#include "core/thermal/frame_files.h"

namespace eh {

struct FrameNotes {
    std::optional<double> t_s;
    std::optional<bool> powered;
    std::optional<ThermalScale> scale;  // when both of its numbers are there
};

// Lines that are no known note are passed over: pictures carry other comments.
FrameNotes read_notes(const std::string& lines);
std::string write_notes(const FrameNotes& notes);

}  // namespace eh
