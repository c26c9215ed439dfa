// SPDX-License-Identifier: GPL-3.0-or-later
// A board as a map: nets, parts and pads with their places. Lengths are millimetres: boards are drawn in
// them.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace eh {

// Which side a pad can be reached from.
enum class BoardSide { top, bottom, both };

struct Point {
    double x_mm = 0.0;
    double y_mm = 0.0;
    friend bool operator==(const Point&, const Point&) = default;
};
// Straight line between two places, in mm.
double distance_mm(const Point& a, const Point& b);

inline constexpr int no_index = -1;

// A place where a net can be touched: a part's pin, or a via.
struct Pad {
    int net = no_index;   // no_index: not connected
    int part = no_index;  // no_index: a via or a test point without a name
    std::string pin;
    std::optional<Point> place;  // not given: the file does not say
    BoardSide side = BoardSide::top;
    double width_mm = 0.0;  // 0: unknown
    double height_mm = 0.0;
    double drill_mm = 0.0;  // 0: no hole
};

struct BoardNet {
    std::string name;
    std::vector<int> pads;
    bool may_be_several = false;  // its name was cut where the file has room for no more
};

struct BoardPart {
    std::string name;
    std::vector<int> pads;
    bool fitted = true;
    BoardSide side = BoardSide::top;  // of most of its pads
    Point centre;                     // of its pads that have a place
    bool placed = false;
};

// Built by adding pads; nets and parts come to be by their names. Names are found whatever their case.
class BoardMap {
  public:
    std::string title;

    // The net or part of that name, made when there is none.
    int net_named(const std::string& name);
    int part_named(const std::string& name);
    // Adds a pad of known net and part (or no_index); gives its index.
    int add_pad(Pad pad);
    void set_fitted(int part, bool fitted) { parts_[static_cast<std::size_t>(part)].fitted = fitted; }
    void mark_net_as_several(int net) { nets_[static_cast<std::size_t>(net)].may_be_several = true; }
    // Works out sides, centres, and the places that near() looks through. To be called when all pads are in.
    void index();

    [[nodiscard]] const std::vector<BoardNet>& nets() const { return nets_; }
    [[nodiscard]] const std::vector<BoardPart>& parts() const { return parts_; }
    [[nodiscard]] const std::vector<Pad>& pads() const { return pads_; }
    [[nodiscard]] const BoardNet& net(int index) const { return nets_[static_cast<std::size_t>(index)]; }
    [[nodiscard]] const BoardPart& part(int index) const { return parts_[static_cast<std::size_t>(index)]; }
    [[nodiscard]] const Pad& pad(int index) const { return pads_[static_cast<std::size_t>(index)]; }

    // By name; no_index when there is none.
    [[nodiscard]] int find_net(std::string_view name) const;
    [[nodiscard]] int find_part(std::string_view name) const;
    // Names that begin with what is typed, then those that hold it, at most `most`.
    [[nodiscard]] std::vector<int> nets_like(std::string_view typed, std::size_t most) const;
    [[nodiscard]] std::vector<int> parts_like(std::string_view typed, std::size_t most) const;
    // Parts on a net, each once, in the order of their names; nets of a part likewise. Nets first asked for
    // after index().
    [[nodiscard]] std::vector<int> parts_on(int net) const;
    [[nodiscard]] std::vector<int> nets_of(int part) const;
    // Pads within so many millimetres of a point that can be reached from that side, nearest first.
    [[nodiscard]] std::vector<int> near(const Point& point, double radius_mm, BoardSide side) const;
    // The corners that hold every pad; nullopt when no pad has a place.
    struct Extent {
        Point least;
        Point most;
    };
    [[nodiscard]] const std::optional<Extent>& extent() const { return extent_; }

  private:
    [[nodiscard]] std::int64_t cell_of(const Point& point) const;

    std::vector<BoardNet> nets_;
    std::vector<BoardPart> parts_;
    std::vector<Pad> pads_;
    std::unordered_map<std::string, int> net_index_;   // by name in small letters
    std::unordered_map<std::string, int> part_index_;  // likewise
    std::optional<Extent> extent_;
    std::unordered_map<std::int64_t, std::vector<int>> cells_;  // pads by square
};

// Whether two sides have one in common.
bool reachable(BoardSide pad, BoardSide from);

}  // namespace eh
