// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rework/heat_logs.h"

#include <algorithm>

#include "core/base/json_reader.h"
#include "core/base/json_text.h"

namespace eh {
namespace {

using nlohmann::json;

constexpr double metres_a_mm = 1e-3;

KeptHeatLog read_log(const JsonReader& item, const std::vector<HeatPart>& parts) {
    KeptHeatLog kept;
    kept.part = item.text("part");
    const auto part =
        std::find_if(parts.begin(), parts.end(), [&](const HeatPart& p) { return p.id == kept.part; });
    if (part == parts.end())
        item.at("part").refuse("“" + kept.part + "” is no part that is known here");
    kept.job = item.text("job", "");
    kept.when_ms = static_cast<std::int64_t>(item.number("when_ms", 0.0));
    HeatSetup& setup = kept.log.setup;
    setup.part = *part;
    setup.air.set_c = item.number("set_c");
    setup.air.litres_a_minute = item.number("litres_a_minute");
    setup.air.diameter_m = item.number("nozzle_mm") * metres_a_mm;
    setup.air.distance_m = item.number("distance_mm") * metres_a_mm;
    setup.solidus_c = item.number("solidus_c");
    setup.liquidus_c = item.number("liquidus_c");
    setup.board.thickness_mm = item.number("board_mm");
    setup.board.copper_layers = static_cast<int>(item.number("layers"));
    setup.board.copper_cover = item.number("cover");
    setup.room_c = item.number("room_c", setup.room_c);
    if (item.has("preheat_c")) {
        setup.preheat_c = item.number("preheat_c");
        setup.preheat_s = item.number("preheat_s");
    }
    kept.log.moved_after_s = item.number("moved_after_s");
    if (auto checked = check_heat_setup(setup); !checked)
        item.refuse(checked.error().text());
    return kept;
}

json written(const KeptHeatLog& kept) {
    const HeatSetup& setup = kept.log.setup;
    json item{{"part", kept.part},
              {"when_ms", kept.when_ms},
              {"set_c", setup.air.set_c},
              {"litres_a_minute", setup.air.litres_a_minute},
              {"nozzle_mm", setup.air.diameter_m / metres_a_mm},
              {"distance_mm", setup.air.distance_m / metres_a_mm},
              {"solidus_c", setup.solidus_c},
              {"liquidus_c", setup.liquidus_c},
              {"board_mm", setup.board.thickness_mm},
              {"layers", setup.board.copper_layers},
              {"cover", setup.board.copper_cover},
              {"room_c", setup.room_c},
              {"moved_after_s", kept.log.moved_after_s}};
    if (setup.preheat_c) {
        item["preheat_c"] = *setup.preheat_c;
        item["preheat_s"] = setup.preheat_s;
    }
    if (!kept.job.empty())
        item["job"] = kept.job;
    return item;
}

}  // namespace

Result<std::vector<KeptHeatLog>> parse_heat_logs(const std::string& text, const std::string& file,
                                                 const std::vector<HeatPart>& parts) {
    return read_json<std::vector<KeptHeatLog>>(text, file, [&](const JsonReader& root) {
        root.check_format("eager-hound.heat-logs", 1);
        std::vector<KeptHeatLog> logs;
        for (const JsonReader& item : root.items("logs"))
            logs.push_back(read_log(item, parts));
        return logs;
    });
}

std::string write_heat_logs(const std::vector<KeptHeatLog>& logs) {
    json list = json::array();
    for (const KeptHeatLog& kept : logs)
        list.push_back(written(kept));
    return json_text(json{{"format", "eager-hound.heat-logs/1"}, {"logs", std::move(list)}}, 1) + "\n";
}

}  // namespace eh
