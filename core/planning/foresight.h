// SPDX-License-Identifier: GPL-3.0-or-later
// What a hypothesis makes one expect of a reading that was not taken yet, as shares of its outcomes; what
// earlier readings have shown of each sample's quirks counts. Internal to core/planning.
#pragma once

#include <array>
#include <memory>
#include <string>
#include <vector>

#include "core/inference/ranking.h"
#include "core/planning/outcome_bins.h"

namespace eh {

class Foresight {
  public:
    // A reading that may be taken, with the channels of the quirks that bear on it.
    struct Asked {
        ReadingKind kind = ReadingKind::meter;
        // Channels of its first and second number, where the first is low and where it is high.
        std::array<int, 2> low{-1, -1};
        std::array<int, 2> high{-1, -1};
        double high_from = 0.0;  // as the number is expected
        int doubt_channel = -1;
        bool second_instruments = false;
        bool was_seen = false;  // the meter was read elsewhere on the same machine
        // Whether nothing that was read bears on it but by way of the suspects.
        [[nodiscard]] bool has_no_quirks() const {
            constexpr std::array none{-1, -1};
            return low == none && high == none && doubt_channel < 0 && !was_seen;
        }
        [[nodiscard]] const std::array<int, 2>& at(double expected) const {
            return expected < high_from ? low : high;
        }
    };

    // Requires a table and a ranking over it that outlive it. What the meter showed in `taken` it shows again
    // on every sample that makes one expect the same of both: such a reading tells nothing of them.
    Foresight(const PredictionTable& table, const Ranking& ranking, const std::vector<Reading>& taken,
              const AccuracyOptions& accuracy = {});

    [[nodiscard]] Asked asked(const Reading& reading) const;

    // Shares of the outcomes of a reading (kinds but net_ohms) at a place, summing to 1. `net` is the place's
    // index, -1 where it has none.
    [[nodiscard]] OutcomeShares outcomes(const Asked& asked, int net, std::size_t hypothesis,
                                         const PoweredColumn& column) const;
    // Of numbers with the machine off; `shown` is the hypothesis whose ohms are to be expected, where a part
    // is off the board.
    [[nodiscard]] OutcomeShares outcomes(const Asked& asked, std::size_t hypothesis, std::size_t shown,
                                         const NumberColumn& column) const;

  private:
    [[nodiscard]] Foreseen shifted(const Expected& expected, std::size_t hypothesis, std::size_t sample,
                                   int channel) const;
    void add_meter(const Asked& asked, std::size_t hypothesis, const PoweredColumn& column,
                   OutcomeShares& shares) const;
    // The sample's weight with that of those after it that repeat it; 0 for one that repeats.
    [[nodiscard]] double weight(std::size_t hypothesis, std::size_t sample, const Views& views) const;

    struct SeenMeter {
        std::shared_ptr<const PoweredColumn> column;
        MeterReading reading;
        bool second_instruments = false;
    };
    // A reading of the meter on a machine that should show now what it showed then; nullptr where none was.
    [[nodiscard]] const SeenMeter* seen_alike(const Asked& asked, std::size_t hypothesis, std::size_t sample,
                                              const MeterSummary& expected) const;

    const PredictionTable& table_;
    const Ranking& ranking_;
    AccuracyOptions accuracy_;
    OutcomeEdges edges_;
    std::vector<SeenMeter> seen_;
};

}  // namespace eh
