// SPDX-License-Identifier: GPL-3.0-or-later
// Which part on a net is shorted, by a few millivolts: a known current goes in at one place and leaves at the
// short, and the copper between shows the way by Ohm's law.
//
// A netlist does not hold the shape of the copper: the hull of the net's pads, or an outline that was drawn,
// stands for it. Sheet resistance and the short's own ohms are unknown and fitted with each candidate (linear
// least squares with a broad prior); what the true copper does differently is allowed for as an error that
// grows with the differences of volts along the sheet.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/board/copper_sheet.h"

namespace eh {

struct SearchSetup {
    std::vector<Point> outline;  // empty: the hull of the net's pads
    Point fed_at;                // where the current goes in
    double amps = 1.0;           // that the supply gives
    double meter_volts = 10e-6;  // one sigma of the meter's last place
    double cell_mm = 0.5;
    int most_cells = 40'000;
};

// Millivolts read at a pad of the net, to the board's ground, with the supply's off reading already taken
// off.
struct SheetReading {
    int pad = no_index;
    double volts = 0.0;
};

// A part on the net as the place where the current leaves.
struct ShortCandidate {
    int part = no_index;
    double probability = 0.0;
    double sheet_ohms = 0.0;    // as fitted with it
    double short_ohms = 0.0;    // likewise: what is left of the volts at its pad
    double misfit_volts = 0.0;  // root mean square of what the fit leaves
};

struct SearchAnswer {
    std::vector<ShortCandidate> candidates;  // likeliest first
    bool can_tell = false;                   // whether the readings differ by more than the meter's own noise
    std::string says;
    // The pad to probe next: where the likeliest two make one expect the most different volts; no_index when
    // no pad would tell them apart.
    int next_pad = no_index;
    double next_difference_volts = 0.0;
};

// Searches a net of a map. Parts that are not fitted are no candidates; nor are those without a place.
// Refused with what is missing: fewer than three readings, no current, no places.
class MillivoltSearch {
  public:
    // Solves the sheet for every candidate once. Requires a net of the map, which must outlive the search.
    MillivoltSearch(const BoardMap& map, int net, const SearchSetup& setup);

    [[nodiscard]] const CopperSheet& sheet() const { return sheet_; }
    [[nodiscard]] std::size_t candidates() const { return parts_.size(); }
    [[nodiscard]] Result<SearchAnswer> answer(const std::vector<SheetReading>& readings) const;

  private:
    struct Fit {
        double log_likelihood = 0.0;
        double sheet_ohms = 0.0;
        double short_ohms = 0.0;
        double misfit_volts = 0.0;
    };

    [[nodiscard]] double shape(std::size_t candidate, int pad) const;
    [[nodiscard]] Fit fit(std::size_t candidate, const std::vector<SheetReading>& readings) const;
    void propose(SearchAnswer& answer, const std::vector<Fit>& fits,
                 const std::vector<SheetReading>& readings) const;

    const BoardMap& map_;
    int net_;
    SearchSetup setup_;
    CopperSheet sheet_;
    std::vector<int> parts_;
    std::vector<int> pads_;                    // of the net that have a place
    std::vector<std::vector<double>> shapes_;  // by candidate and pad of pads_: volts above the candidate's
                                               // own pad for 1 A and a sheet of 1 ohm
};

}  // namespace eh
