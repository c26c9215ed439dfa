// SPDX-License-Identifier: GPL-3.0-or-later
// Job after job, for programs that play a bench: what was simulated for one answer serves the next.
#pragma once

#include <istream>
#include <memory>
#include <ostream>
#include <string>
#include <utility>
#include <vector>

#include "cli/commands.h"

namespace eh::cli {

// Answers jobs of a shop, keeping the last few kinds of machine that were asked about.
class JobLines {
  public:
    // `shop` outlives it; `most_acts` is how many acts are proposed: with 0 none are looked for.
    JobLines(const Shop& shop, std::size_t most_acts) : shop_(&shop), most_acts_(most_acts) {}

    // Reads one job file a line, in one line of JSON each, and writes one line each: what diagnose() and
    // next() answer, in one object, or {"error": ...} where the job is refused. Empty lines are passed over.
    // Ends with the input; refused where a line is longer than a job file may be, or the answer cannot be
    // written.
    Outcome answer_all(std::istream& in, std::ostream& out);

  private:
    Result<nlohmann::json> answer(const Job& job);

    const Shop* shop_;
    std::size_t most_acts_;
    std::vector<std::pair<std::string, std::unique_ptr<MachineUnderTest>>> machines_;  // last asked first
};

}  // namespace eh::cli
