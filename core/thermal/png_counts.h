// SPDX-License-Identifier: GPL-3.0-or-later
// 16-bit greyscale PNG, by libpng.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace eh {

// A picture of counts with the notes that came with it.
struct CountPicture {
    int width = 0;
    int height = 0;
    std::vector<std::uint16_t> counts;
    std::string notes;  // lines "name value"
};

// Whether the bytes begin as a PNG does (ISO/IEC 15948, 5.2).
bool is_png(std::string_view bytes);
// Refused: what is damaged, is in colour, or has 8 bits a pixel.
Result<CountPicture> read_png(const std::string& bytes);
std::string png_of(const CountPicture& picture);

}  // namespace eh
