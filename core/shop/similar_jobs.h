// SPDX-License-Identifier: GPL-3.0-or-later
// Which earlier jobs are like this one: by what was read of machines of the same kind.
#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <vector>

#include "core/job/job.h"

namespace eh {

// Readings boiled down to what makes two jobs alike, four bytes each: what was read and in which state (22
// bits of a hash), and what it came to (10 bits on a scale on which a step of 8 is a clear difference). In
// rising order; of readings of the same thing the first, which shows the machine as it came in.
using JobSignature = std::vector<std::uint32_t>;

// Readings that are set aside, and those taken after the first work, do not count. Facts of the intake do.
JobSignature signature_of(const Job& job);

struct Likeness {
    std::size_t index = 0;  // into the signatures
    double share = 0.0;     // 0 to 1
    int alike = 0;          // readings that agree,
    int compared = 0;       // of those that both have
};

// The most alike, best first; those with nothing in common are left out. Gower's general coefficient (Gower,
// Biometrics 27, 1971): the weighted mean of agreements over what both jobs have, an agreement falling from 1
// to 0 over a clear difference. A thing that comes to the same in most of the jobs says little and weighs
// little: its weight is the logarithm of one over the share of jobs that agree on it. One thing more, on
// which the two disagree, is assumed, so that a single agreement is not yet likeness.
std::vector<Likeness> most_alike(const JobSignature& asked, std::span<const JobSignature> signatures,
                                 std::size_t most);

}  // namespace eh
