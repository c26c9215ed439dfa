#include "cli/board_command.h"

#include <fstream>

#include "core/board/board_json.h"
#include "core/board/net_paths.h"

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
        std::ofstream out(question.out, std::ios::binary);
        out << write_board(map);
        out.flush();
        if (!out)
            return Error{ErrorKind::unavailable,
                         "the board cannot be written here; check the folder and its rights", question.out};
        answer["written"] = question.out;
    }
    return answer;
}

}  // namespace eh::cli
