// SPDX-License-Identifier: GPL-3.0-or-later
// What the job keeps of its rework: steps done, what came out while opening, pictures.
#pragma once

#include <cstdint>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <vector>

#include "core/base/identifier.h"

namespace eh {

class JsonReader;

enum class OpeningKind { screw, connector, clip, other };
inline constexpr int opening_kind_count = 4;
// The word of the job file.
std::string to_text(OpeningKind kind);

// Something that came out or off while opening and must go back.
struct OpeningItem {
    std::string id;
    OpeningKind kind = OpeningKind::screw;
    std::string place;
    int count = 1;
    int back = 0;            // of them read back while closing, 0 to count
    double length_mm = 0.0;  // of screws; 0: not noted
    std::string note;
    friend bool operator==(const OpeningItem&, const OpeningItem&) = default;
};

struct StepDone {
    std::string step;  // id of the step
    std::int64_t done_ms = 0;
    double seconds = 0.0;  // that its timer showed; 0: none ran
    friend bool operator==(const StepDone&, const StepDone&) = default;
};

struct StepPhoto {
    std::string id;
    std::string step;
    FileName file;  // name in the folder of the job's pictures
    std::string caption;
    friend bool operator==(const StepPhoto&, const StepPhoto&) = default;
};

// One repair with its list.
struct RepairRun {
    std::string repair;              // id in repairs.json
    std::string block;               // part of the topology, or empty
    std::vector<std::string> facts;  // that hold
    std::vector<StepDone> done;
    friend bool operator==(const RepairRun&, const RepairRun&) = default;
};

struct ReworkRecord {
    std::vector<RepairRun> runs;  // the last one is under way
    std::vector<OpeningItem> opening;
    std::vector<StepPhoto> photos;
    friend bool operator==(const ReworkRecord&, const ReworkRecord&) = default;
};

// As the job file holds it; read_rework() gives back an equal one.
nlohmann::json write_rework(const ReworkRecord& record);
// Refuses (JsonRefused) unknown kinds, counts below 1 and more back than came out.
ReworkRecord read_rework(const JsonReader& field);

// A line of a list as it is typed: "3 screws 4.5 mm left edge", "screw hinge 6mm", "display cable", "clip
// front". The first number is the count, a number with mm the length; "screw" and "connector", "cable" or
// "plug" and "clip" say what it is; the rest is the place. `id` stays empty.
OpeningItem parse_opening_line(const std::string& line);

struct ClosingCheck {
    int out = 0;                       // pieces that came out
    int back = 0;                      // of them back
    std::vector<std::string> missing;  // "2 of 3 screws, 4.5 mm, left edge", connectors first
    // "Screws of 3 and 6 mm lie at the same place: mind which goes where", for places with several lengths.
    std::vector<std::string> mind;
};
ClosingCheck check_closing(const std::vector<OpeningItem>& opening);

}  // namespace eh
