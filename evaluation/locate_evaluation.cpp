// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluation/locate_evaluation.h"

#include <algorithm>
#include <cmath>

#include "core/base/random.h"
#include "core/board/millivolt_search.h"
#include "evaluation/drawn_board.h"

namespace eh {
namespace {

constexpr double true_cell_mm = 0.4;
constexpr double searched_cell_mm = 0.6;

// Volts of the net's pads on the true copper.
class TrueCopper {
  public:
    TrueCopper(const DrawnBoard& board, double amps) : board_(board), amps_(amps), sheet_(make(board)) {
        int pad_of_short = no_index;
        for (const int pad : board.map.part(board.shorted).pads) {
            if (board.map.pad(pad).net == board.net)
                pad_of_short = pad;
        }
        const int leaves = sheet_.cell_at(*board.map.pad(pad_of_short).place);
        potential_ = sheet_.response(sheet_.cell_at(board.fed_at)) - sheet_.response(leaves);
        at_short_ = potential_[leaves];
    }
    [[nodiscard]] double volts(int pad) const {
        const double along = potential_[sheet_.cell_at(*board_.map.pad(pad).place)] - at_short_;
        return amps_ * (board_.sheet_ohms * along + board_.short_ohms);
    }

  private:
    static CopperSheet make(const DrawnBoard& board) {
        std::vector<Point> places;
        for (const int pad : board.map.net(board.net).pads)
            places.push_back(*board.map.pad(pad).place);
        places.push_back(board.fed_at);
        return {convex_hull(places), 1.5, true_cell_mm, [&](const Point& p) { return board.thickness(p); }};
    }

    const DrawnBoard& board_;
    double amps_;
    CopperSheet sheet_;
    Eigen::VectorXd potential_;
    double at_short_ = 0.0;
};

// The unread pad that lies farthest from those that were read: where nothing better is known.
int farthest_pad(const DrawnBoard& board, const std::vector<SheetReading>& readings) {
    int farthest = no_index;
    double most_mm = -1.0;
    for (const int pad : board.map.net(board.net).pads) {
        double nearest_mm = readings.empty() ? distance_mm(*board.map.pad(pad).place, board.fed_at) : 1e9;
        for (const SheetReading& reading : readings)
            nearest_mm = std::min(nearest_mm,
                                  distance_mm(*board.map.pad(pad).place, *board.map.pad(reading.pad).place));
        if (nearest_mm > most_mm) {
            most_mm = nearest_mm;
            farthest = pad;
        }
    }
    return farthest;
}

}  // namespace

LocateScore evaluate_locating(const LocateEvaluationOptions& options) {
    constexpr double sure = 0.95;
    constexpr std::size_t first_readings = 3;
    LocateScore score;
    for (int b = 0; b < options.boards; ++b) {
        Random random(options.seed * 1'000'003ULL + static_cast<std::uint64_t>(b));
        const DrawnBoard board = draw_board(random);
        const TrueCopper copper(board, options.amps);
        SearchSetup setup;
        setup.fed_at = board.fed_at;
        setup.amps = options.amps;
        setup.meter_volts = options.meter_volts;
        setup.cell_mm = searched_cell_mm;
        const MillivoltSearch search(board.map, board.net, setup);
        std::vector<SheetReading> readings;
        int next = no_index;
        while (static_cast<int>(readings.size()) < options.readings) {
            const int pad = next == no_index ? farthest_pad(board, readings) : next;
            readings.push_back({pad, copper.volts(pad) + options.meter_volts * random.normal()});
            next = no_index;
            if (readings.size() >= first_readings) {
                if (const auto answer = search.answer(readings))
                    next = answer->next_pad;
            }
        }
        const auto answer = search.answer(readings);
        if (!answer)
            continue;
        ++score.boards;
        score.mean_candidates += static_cast<double>(answer->candidates.size());
        score.cannot_tell += answer->can_tell ? 0 : 1;
        const bool first = answer->candidates.front().part == board.shorted;
        score.right_first += first ? 1 : 0;
        score.right_in_two +=
            first || (answer->candidates.size() > 1 && answer->candidates[1].part == board.shorted) ? 1 : 0;
        if (answer->candidates.front().probability >= sure) {
            ++score.sure;
            score.sure_and_wrong += first ? 0 : 1;
        }
        if (options.progress)
            options.progress(b + 1);
    }
    score.mean_candidates /= std::max(1, score.boards);
    return score;
}

}  // namespace eh
