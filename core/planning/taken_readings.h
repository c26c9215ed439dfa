// SPDX-License-Identifier: GPL-3.0-or-later
// What was read already, as far as it decides whether the same is worth reading again.
#pragma once

#include <string>
#include <vector>

#include "core/inference/ranking.h"

namespace eh {

// Whether the same part would be the warm one in both: it does not hang on which way up the plug is or whose
// charger it hangs on.
bool same_heat(const BenchConfiguration& a, const BenchConfiguration& b);

class TakenReadings {
  public:
    // Both must outlive this. `may_hang`: whether a reading from before all power was cut and one from after
    // it are two.
    TakenReadings(const std::vector<Reading>& taken, const Ranking& ranking, bool may_hang)
        : taken_(taken), ranking_(ranking), may_hang_(may_hang) {}

    // Whether a reading was taken and fits nothing, so that it is taken again before anybody believes or
    // forgets it; at most twice.
    [[nodiscard]] bool to_be_retaken(ReadingKind kind, const std::string& place,
                                     const BenchConfiguration& configuration) const;
    // Whether it was taken, and need not be again.
    [[nodiscard]] bool hold(ReadingKind kind, const std::string& place,
                            const BenchConfiguration& configuration) const;
    // How much of what a reading promises is new, 0..1, where the same net's volts were read before, or what
    // the machine says, and only what is plugged in has changed since, or this very plug was moved in that
    // port the other way up: what was odd about it there is odd about it again. Where the meter was dark, the
    // machine says little new.
    [[nodiscard]] double freshness(ReadingKind kind, const std::string& place,
                                   const BenchConfiguration& configuration) const;
    // Whether a part was seen burnt or broken.
    [[nodiscard]] bool show_broken(const std::string& block) const;
    // Whether the meter dropped out when the shop's own plug was moved in this inlet: the inlet was seen to
    // let go (common practice). False for other parts.
    [[nodiscard]] bool show_letting_go(const std::string& block, const MachinePlan& plan) const;
    // Whether a net was last measured to be shorted, and the last look for heat that found any named this
    // part.
    [[nodiscard]] bool heat_names(const std::string& block, const std::string& net) const;

  private:
    // As much of a configuration as makes two readings two.
    [[nodiscard]] BenchConfiguration what_counts(const BenchConfiguration& configuration) const;

    const std::vector<Reading>& taken_;
    const Ranking& ranking_;
    bool may_hang_ = false;
};

}  // namespace eh
