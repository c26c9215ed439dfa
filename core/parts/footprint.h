// SPDX-License-Identifier: GPL-3.0-or-later
// Outlines of receptacles and jacks with their pads (data/rework/footprints.json), and whether one part fits
// the pads of another.
//
// Millimetres. x along the board's edge, 0 in the middle of the opening; y into the board, 0 at its edge.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace eh {

struct FootprintPad {
    std::string name;  // A1, S1 (anchor), + ; the same name as on another footprint is the same function
    double x = 0.0;    // middle
    double y = 0.0;
    double width = 0.0;  // along x
    double depth = 0.0;
    bool anchor = false;   // carries force, no signal
    bool through = false;  // a leg in a hole of this size
};

struct Footprint {
    std::string id;
    std::string title;
    std::string family;  // usb-c, barrel: parts of different families never fit
    std::vector<FootprintPad> pads;
    double shell_width = 0.0;
    double shell_depth = 0.0;  // from the front of the shell
    double overhang = 0.0;     // of the shell's front beyond the board's edge; negative: behind it
    double height = 0.0;       // middle of the opening above the top of the board
    bool mid_mount = false;    // sits in a cut-out of the board
};

// Refuses footprints without pads, pads without size or twice the same name, with file and field.
Result<std::vector<Footprint>> parse_footprints(const std::string& text, const std::string& file);
std::string write_footprints(const std::vector<Footprint>& footprints);
// One footprint as the shop enters it, same checks.
Outcome check_footprint(const Footprint& footprint);

// A part as it is measured, in lines: "usb-c, title"; "shell WIDTH DEPTH out OVERHANG high HEIGHT [mid]";
// then a pad a line, "NAME X Y WIDTH DEPTH [leg]": legs go through the board, names that begin with S are
// anchors. Refused with the line; `id` stays empty.
Result<Footprint> parse_measured_footprint(const std::string& text);

// One pad of the board against the pad of the part that has its name.
struct PadMatch {
    std::string name;
    bool anchor = false;
    bool on_board = true;
    bool on_part = true;
    double overlap = 0.0;  // of the smaller pad's area; of through legs: 1 when the leg goes into the hole
    double dx = 0.0;       // part minus board, after the shift
    double dy = 0.0;
};

enum class Fit { fits, with_a_change, no };
// For people, in small letters.
std::string describe(Fit fit);

struct FootprintComparison {
    Fit fit = Fit::no;
    double shift_x = 0.0;  // of the part, so that its pins lie on the board's as well as they can
    double shift_y = 0.0;
    std::vector<PadMatch> pads;        // of the board, then those that only the part has
    double front_off = 0.0;            // how much farther out the opening stands
    double height_off = 0.0;           // how much higher
    std::vector<std::string> reasons;  // gravest first; what to change where that helps
};

// Lays `part` on the pads of `board`, moved as a whole so that pads of the same name lie together (least
// squares over the signal pads, and then as the plug needs it: a part is never turned). Fits: every pin
// covers at least 60 % of its pad, every anchor leg goes into its hole, opening within 0.2 mm forward and
// 0.15 mm in height, same way of mounting. With a change: anchors off by at most 0.8 mm or missing or too
// many (bend or cut a leg), opening off by up to 0.6 mm forward and 0.4 mm in height. Bounds are judgement.
FootprintComparison compare_footprints(const Footprint& board, const Footprint& part);

// Why the sound original is kept, or not, and what that means for the warranty. Common practice.
struct OldPart {
    bool torn_off_whole = false;  // sound, only its joints broke
    bool contacts_worn = false;
    bool shell_bent = false;
    bool melted_or_burnt = false;
    bool shorted_inside = false;
    bool liquid = false;
    std::optional<Fit> new_part;     // that is to be had; none: none is
    bool new_part_original = false;  // the same as fitted by the factory
};
struct ReuseAdvice {
    bool reuse = false;
    bool neither = false;  // not reusable, and no new part fits: order
    std::vector<std::string> reasons;
    std::string warranty;
};
ReuseAdvice advise_reuse(const OldPart& old);

}  // namespace eh
