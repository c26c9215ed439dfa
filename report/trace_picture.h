// SPDX-License-Identifier: GPL-3.0-or-later
// Small pictures for the sheet, as PNG in text that HTML takes as the address of an image.
#pragma once

#include <span>
#include <string>

#include "core/base/result.h"
#include "core/trace/meter_summary.h"

namespace eh {

// Volts over time with the amps below, `seconds` wide; gaps of the meter stay empty. Drawn at twice the size
// at which it is meant to be shown (width_pixels x height_pixels). No samples: an empty field that says dark.
struct PictureSize {
    int width_pixels = 235;
    int height_pixels = 105;
};
std::string trace_picture(std::span<const MeterSample> samples, double seconds, double top_volts,
                          const PictureSize& size = {});

// The picture in a file, reduced to at most this size, its shape kept. Refuses what is no picture.
Result<std::string> logo_picture(const std::string& file, const PictureSize& most = {220, 70});

}  // namespace eh
