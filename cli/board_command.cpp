// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/board_command.h"

#include <algorithm>
#include <charconv>
#include <filesystem>

#include "core/base/files.h"
#include "core/board/board_json.h"
#include "core/board/millivolt_search.h"
#include "core/board/net_paths.h"
#include "evaluation/locate_evaluation.h"

namespace eh::cli {

using nlohmann::json;

namespace {

json net_json(const BoardMap& map, int net) {
    json parts = json::array();
    for (const int part : map.parts_on(net))
        parts.push_back({{"name", map.part(part).name}, {"fitted", map.part(part).fitted}});
    json ways = json::array();
    for (const NetReach& reach : nets_reached(map, net, [&](int part) { return carries_on(map, part); })) {
        if (reach.hops > 0)
            ways.push_back({{"net", map.net(reach.net).name},
                            {"over", map.part(reach.over).name},
                            {"from", map.net(reach.from).name},
                            {"hops", reach.hops}});
    }
    return {{"name", map.net(net).name},
            {"pads", map.net(net).pads.size()},
            {"may_be_several", map.net(net).may_be_several},
            {"parts", std::move(parts)},
            {"goes_on_to", std::move(ways)}};
}

json part_json(const BoardMap& map, int part) {
    json pins = json::array();
    for (const int pad : map.part(part).pads) {
        const Pad& own = map.pad(pad);
        json pin{{"pin", own.pin}, {"net", own.net == no_index ? json() : json(map.net(own.net).name)}};
        if (own.place) {
            pin["x_mm"] = own.place->x_mm;
            pin["y_mm"] = own.place->y_mm;
        }
        pins.push_back(std::move(pin));
    }
    return {{"name", map.part(part).name}, {"fitted", map.part(part).fitted}, {"pins", std::move(pins)}};
}

}  // namespace

Result<json> describe_board(const std::string& file, const BoardQuestion& question) {
    const auto found = read_board(file);
    if (!found)
        return found.error();
    const BoardMap& map = found->map;
    json remarks = json::array();
    for (const BoardRemark& remark : found->remarks)
        remarks.push_back({{"line", remark.line}, {"says", remark.text}});
    json answer{{"title", map.title},
                {"parts", map.parts().size()},
                {"pads", map.pads().size()},
                {"nets", map.nets().size()},
                {"remarks", std::move(remarks)},
                {"further_remarks", found->further_remarks}};
    if (!question.net.empty()) {
        const int net = map.find_net(question.net);
        if (net == no_index)
            return Error{ErrorKind::not_found, "there is no net “" + question.net + "” on this board", file};
        answer["net"] = net_json(map, net);
    }
    if (!question.part.empty()) {
        const int part = map.find_part(question.part);
        if (part == no_index)
            return Error{ErrorKind::not_found, "there is no part “" + question.part + "” on this board",
                         file};
        answer["part"] = part_json(map, part);
    }
    if (!question.out.empty()) {
        std::error_code none;
        if (std::filesystem::equivalent(file, question.out, none))
            return refused("this is the very file that is read; name another one to write", question.out);
        if (auto written = write_text_file(question.out, write_board(map)); !written)
            return written.error();
        answer["written"] = question.out;
    }
    return answer;
}

namespace {

// "C5=12.34": the pad of that part on the net, and millivolts.
Result<SheetReading> read_pair(const BoardMap& map, int net, const std::string& text) {
    const auto equals = text.find('=');
    const std::string place = text.substr(0, equals);
    const auto dash = place.rfind('-');
    double millivolts = 0.0;
    const char* end = text.data() + text.size();
    const bool number =
        equals != std::string::npos && std::from_chars(text.data() + equals + 1, end, millivolts).ptr == end;
    if (!number)
        return refused("write a reading as part=millivolts, for instance C5=12.34", text);
    int part = map.find_part(place);
    std::string pin;
    if (part == no_index && dash != std::string::npos) {
        part = map.find_part(place.substr(0, dash));
        pin = place.substr(dash + 1);
    }
    if (part == no_index)
        return Error{ErrorKind::not_found, "there is no part “" + place + "” on this board", text};
    for (const int pad : map.part(part).pads) {
        if (map.pad(pad).net == net && map.pad(pad).place && (pin.empty() || map.pad(pad).pin == pin))
            return SheetReading{pad, 1e-3 * millivolts};
    }
    return refused("this part has no pad with a place on the net", text);
}

std::string pad_name(const BoardMap& map, int pad) {
    const Pad& own = map.pad(pad);
    return own.part == no_index ? "a via" : map.part(own.part).name + (own.pin.empty() ? "" : "-" + own.pin);
}

}  // namespace

Result<json> locate(const std::string& file, const LocateQuestion& question) {
    const auto found = read_board(file);
    if (!found)
        return found.error();
    const BoardMap& map = found->map;
    const int net = map.find_net(question.net);
    if (net == no_index)
        return Error{ErrorKind::not_found, "there is no net “" + question.net + "” on this board", file};
    if (question.fed_at_mm.size() != 2)
        return refused("say where the current goes in: --fed-at X Y, in millimetres", "fed-at");
    SearchSetup setup;
    setup.fed_at = {question.fed_at_mm[0], question.fed_at_mm[1]};
    setup.amps = question.amps;
    setup.meter_volts = 1e-6 * question.meter_microvolts;
    std::vector<SheetReading> readings;
    for (const std::string& text : question.readings) {
        const auto reading = read_pair(map, net, text);
        if (!reading)
            return reading.error();
        readings.push_back(*reading);
    }
    const auto answer = MillivoltSearch(map, net, setup).answer(readings);
    if (!answer)
        return answer.error();
    json candidates = json::array();
    for (const ShortCandidate& one : answer->candidates)
        candidates.push_back({{"part", map.part(one.part).name},
                              {"probability", one.probability},
                              {"sheet_ohms", one.sheet_ohms},
                              {"short_ohms", one.short_ohms},
                              {"misfit_volts", one.misfit_volts}});
    json result{
        {"says", answer->says}, {"can_tell", answer->can_tell}, {"candidates", std::move(candidates)}};
    if (answer->next_pad != no_index)
        result["probe_next"] = {{"pad", pad_name(map, answer->next_pad)},
                                {"difference_volts", answer->next_difference_volts}};
    return result;
}

json evaluate_locate(int boards, std::uint64_t seed, int readings) {
    LocateEvaluationOptions options;
    options.boards = boards;
    options.seed = seed;
    options.readings = readings;
    const LocateScore score = evaluate_locating(options);
    const double count = std::max(1, score.boards);
    return {{"boards", score.boards},
            {"right_first", score.right_first / count},
            {"right_in_two", score.right_in_two / count},
            {"cannot_tell", score.cannot_tell / count},
            {"sure", score.sure / count},
            {"sure_and_wrong", score.sure_and_wrong / count},
            {"mean_candidates", score.mean_candidates}};
}

}  // namespace eh::cli
