// SPDX-License-Identifier: GPL-3.0-or-later
// What programmed chips from other boards did: the shop's own table (format eager-hound.donor-results/1).
#pragma once

#include <cstdint>
#include <map>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace eh {

struct DonorPortOutcome {
    double volts = 0.0;
    bool data = true;
    friend bool operator==(const DonorPortOutcome&, const DonorPortOutcome&) = default;
};

struct DonorResult {
    std::string from_board;
    std::string from_position;
    std::string to_board;
    std::string to_position;
    std::map<std::string, DonorPortOutcome> ports;  // by port of the machine it went into
    double wanted_volts = 20.0;
    std::string job;
    std::int64_t when_ms = 0;

    // Every port at its contract (within a tenth) with data.
    [[nodiscard]] bool good() const;
    friend bool operator==(const DonorResult&, const DonorResult&) = default;
};

// Refuses results without ports, and empty names.
Result<std::vector<DonorResult>> parse_donor_results(const std::string& text, const std::string& file);
std::string write_donor_results(const std::vector<DonorResult>& results);
Outcome check_donor_result(const DonorResult& result);

// "left 20 V; right 5 V no data": a port's name, its volts, and "no data" where data is dead. Refused with
// what was not understood.
Result<std::map<std::string, DonorPortOutcome>> parse_port_outcomes(const std::string& text);

enum class DonorStanding { proven, same_place, mixed, failed_before, unknown };

struct DonorAdvice {
    DonorStanding standing = DonorStanding::unknown;
    int worked = 0;
    int failed = 0;
    double lowest_chance = 0.0;   // 90 % interval of the chance that it works (Jeffreys), from the shop's own
    double highest_chance = 1.0;  // results of just this pair
    std::string verdict;          // "proven", "failed before", "unknown: risk" ...
    std::vector<std::string> why;
};

// May a chip from there go here? Names are compared without regard to case and outer blanks. The same board
// and position is safe unless the shop's own results say otherwise; another position of the same board, and
// another board, are a risk until proven (common practice). Results of the way back and of other positions
// are told as hints and do not count.
DonorAdvice advise_donor(const std::vector<DonorResult>& results, const std::string& from_board,
                         const std::string& from_position, const std::string& to_board,
                         const std::string& to_position);

}  // namespace eh
