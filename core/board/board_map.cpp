// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/board_map.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/text.h"

namespace eh {
namespace {

constexpr double cell_mm = 2.0;
constexpr std::int64_t cells_a_row = 1'000'003;  // more than any board is wide

template <typename Thing>
int named(std::vector<Thing>& things, std::unordered_map<std::string, int>& index, const std::string& name) {
    const auto [place, is_new] = index.try_emplace(lower_case(name), static_cast<int>(things.size()));
    if (is_new) {
        things.emplace_back();
        things.back().name = name;
    }
    return place->second;
}

int found(const std::unordered_map<std::string, int>& index, std::string_view name) {
    const auto place = index.find(lower_case(name));
    return place == index.end() ? no_index : place->second;
}

template <typename Thing>
std::vector<int> like(const std::vector<Thing>& things, std::string_view typed, std::size_t most) {
    const std::string wanted = lower_case(typed);
    std::array<std::vector<int>, 2> hits;  // those that begin so, those that hold it
    for (std::size_t i = 0; i < things.size(); ++i) {
        const auto at = lower_case(things[i].name).find(wanted);
        if (at != std::string::npos)
            hits[at == 0 ? 0 : 1].push_back(static_cast<int>(i));
    }
    const auto by_name = [&](int a, int b) {
        const std::string& left = things[static_cast<std::size_t>(a)].name;
        const std::string& right = things[static_cast<std::size_t>(b)].name;
        return std::pair(left.size(), left) < std::pair(right.size(), right);
    };
    std::vector<int> all;
    for (auto& some : hits) {
        std::sort(some.begin(), some.end(), by_name);
        all.insert(all.end(), some.begin(), some.end());
    }
    if (all.size() > most)
        all.resize(most);
    return all;
}

template <typename Thing>
void sort_by_name(std::vector<int>& indices, const std::vector<Thing>& things) {
    std::sort(indices.begin(), indices.end(), [&](int a, int b) {
        return things[static_cast<std::size_t>(a)].name < things[static_cast<std::size_t>(b)].name;
    });
    indices.erase(std::unique(indices.begin(), indices.end()), indices.end());
}

}  // namespace

double distance_mm(const Point& a, const Point& b) {
    return std::hypot(a.x_mm - b.x_mm, a.y_mm - b.y_mm);
}

bool reachable(BoardSide pad, BoardSide from) {
    return pad == BoardSide::both || from == BoardSide::both || pad == from;
}

int BoardMap::net_named(const std::string& name) {
    return named(nets_, net_index_, name);
}

int BoardMap::part_named(const std::string& name) {
    return named(parts_, part_index_, name);
}

int BoardMap::add_pad(Pad pad) {
    const int index = static_cast<int>(pads_.size());
    if (pad.net != no_index)
        nets_[static_cast<std::size_t>(pad.net)].pads.push_back(index);
    if (pad.part != no_index)
        parts_[static_cast<std::size_t>(pad.part)].pads.push_back(index);
    pads_.push_back(std::move(pad));
    return index;
}

std::int64_t BoardMap::cell_of(const Point& point) const {
    const auto column = static_cast<std::int64_t>(std::floor(point.x_mm / cell_mm));
    const auto row = static_cast<std::int64_t>(std::floor(point.y_mm / cell_mm));
    return row * cells_a_row + column;
}

void BoardMap::index() {
    extent_.reset();
    cells_.clear();
    for (std::size_t p = 0; p < pads_.size(); ++p) {
        if (!pads_[p].place)
            continue;
        const Point& at = *pads_[p].place;
        if (!extent_)
            extent_ = Extent{at, at};
        extent_->least = {std::min(extent_->least.x_mm, at.x_mm), std::min(extent_->least.y_mm, at.y_mm)};
        extent_->most = {std::max(extent_->most.x_mm, at.x_mm), std::max(extent_->most.y_mm, at.y_mm)};
        cells_[cell_of(at)].push_back(static_cast<int>(p));
    }
    for (BoardPart& part : parts_) {
        std::array<int, 3> sides{};
        Point sum;
        int placed = 0;
        for (const int pad : part.pads) {
            const Pad& own = pads_[static_cast<std::size_t>(pad)];
            ++sides[static_cast<std::size_t>(own.side)];
            if (own.place) {
                sum.x_mm += own.place->x_mm;
                sum.y_mm += own.place->y_mm;
                ++placed;
            }
        }
        part.side = static_cast<BoardSide>(std::max_element(sides.begin(), sides.end()) - sides.begin());
        part.placed = placed > 0;
        if (part.placed)
            part.centre = {sum.x_mm / placed, sum.y_mm / placed};
    }
}

int BoardMap::find_net(std::string_view name) const {
    return found(net_index_, name);
}

int BoardMap::find_part(std::string_view name) const {
    return found(part_index_, name);
}

std::vector<int> BoardMap::nets_like(std::string_view typed, std::size_t most) const {
    return like(nets_, typed, most);
}

std::vector<int> BoardMap::parts_like(std::string_view typed, std::size_t most) const {
    return like(parts_, typed, most);
}

std::vector<int> BoardMap::parts_on(int net) const {
    std::vector<int> parts;
    for (const int pad : nets_[static_cast<std::size_t>(net)].pads) {
        if (const int part = pads_[static_cast<std::size_t>(pad)].part; part != no_index)
            parts.push_back(part);
    }
    sort_by_name(parts, parts_);
    return parts;
}

std::vector<int> BoardMap::nets_of(int part) const {
    std::vector<int> nets;
    for (const int pad : parts_[static_cast<std::size_t>(part)].pads) {
        if (const int net = pads_[static_cast<std::size_t>(pad)].net; net != no_index)
            nets.push_back(net);
    }
    sort_by_name(nets, nets_);
    return nets;
}

std::vector<int> BoardMap::near(const Point& point, double radius_mm, BoardSide side) const {
    std::vector<std::pair<double, int>> hits;
    const auto reach = static_cast<int>(std::ceil(radius_mm / cell_mm));
    for (int dx = -reach; dx <= reach; ++dx) {
        for (int dy = -reach; dy <= reach; ++dy) {
            const auto cell = cells_.find(cell_of({point.x_mm + dx * cell_mm, point.y_mm + dy * cell_mm}));
            if (cell == cells_.end())
                continue;
            for (const int pad : cell->second) {
                const Pad& own = pads_[static_cast<std::size_t>(pad)];
                const double away_mm = distance_mm(*own.place, point);
                if (away_mm <= radius_mm && reachable(own.side, side))
                    hits.emplace_back(away_mm, pad);
            }
        }
    }
    std::sort(hits.begin(), hits.end());
    std::vector<int> pads;
    pads.reserve(hits.size());
    for (const auto& [away_mm, pad] : hits)
        pads.push_back(pad);
    return pads;
}

}  // namespace eh
