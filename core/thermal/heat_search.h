// SPDX-License-Identifier: GPL-3.0-or-later
// Which part is the warm one: a picture of rises laid over the board map.
//
// The strongest spots are fitted with a round profile of unknown width (least squares over place and width,
// the noise taken from the picture); a part is as likely as the spot's place, with what the marks leave open,
// falls on its body. Parts on the net in question are likelier beforehand than others.
#pragma once

#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/board/board_map.h"
#include "core/board/plane_map.h"
#include "core/thermal/thermal_frame.h"

namespace eh {

struct HeatSearchOptions {
    int net = no_index;               // whose parts are suspected; no_index: all alike
    BoardSide side = BoardSide::top;  // that the camera sees
    double marks_sigma_mm = 0.4;      // how well the four points were marked
    int most_spots = 3;
};

struct HotSpot {
    PicturePoint seen;
    Point place;
    double sigma_mm = 0.0;   // of the place, marks included
    double kelvin = 0.0;     // at its top
    double certainty = 0.0;  // share of the finding: what is warmer counts more
};

struct HeatCandidate {
    int part = no_index;
    double probability = 0.0;
    double kelvin = 0.0;  // of the spot that falls on it
    bool on_net = false;
    bool carries_on = false;  // a series part: it is warm by the current that it carries
};

struct HeatAnswer {
    std::vector<HotSpot> spots;             // warmest first
    std::vector<HeatCandidate> candidates;  // likeliest first, those below 1 % left out
    double elsewhere = 0.0;                 // on no part of the map
    bool can_tell = false;                  // a spot stands out of the noise
    std::string says;
};

// Refused: a picture without pixels, a map without places.
Result<HeatAnswer> search_heat(const BoardMap& map, const HeatImage& rises, const PlaneMap& view,
                               const HeatSearchOptions& options = {});

// What a place that was found without a camera says: where alcohol dries first, where a finger feels it
// (sigma: about 3 mm and 8 mm, common practice).
inline constexpr double alcohol_sigma_mm = 3.0;
inline constexpr double finger_sigma_mm = 8.0;
Result<HeatAnswer> search_place(const BoardMap& map, const Point& found, double sigma_mm,
                                const HeatSearchOptions& options = {});

}  // namespace eh
