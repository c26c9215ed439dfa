// SPDX-License-Identifier: GPL-3.0-or-later
// Readings taken again at the same place: what is no news the second time.
//
// A net near the multimeter's limit is over it on one machine and below it on the next, but on one machine it
// stays what it is. Weighed as if it were tossed anew, three readings of 83 kΩ would speak a thousand times
// louder than one against every fault that leaves the net alone.
#pragma once

#include <vector>

#include "core/inference/likelihood.h"
#include "core/readings/reading.h"

namespace eh {

// The last of the earlier readings that measured the same net in the same way; nullptr if there is none, or
// the reading is no resistance or drop of a net. Of a look: the last one at the same part, with the same
// parts on the board.
const Reading* taken_before(const std::vector<const Reading*>& earlier, const Reading& reading);

// The last of the earlier readings that showed the same number at the same place with the bench as it is now,
// within what the instrument leaves; its place in the list, -1 if there is none. Kinds without a number are
// none.
int same_as_before(const std::vector<const Reading*>& earlier, const Reading& reading,
                   const AccuracyOptions& accuracy);

// Of odd readings like this one, the share that the machine brings about, so that they come again: about half
// where leaks decide (kiloohms, volts of nets), and few where it takes more than a leak.
double comes_again(const Reading& reading, const AccuracyOptions& accuracy);

// The terms of a reading whose net was measured before: over the limit or not as before, as far as the
// machine itself accounts for what was seen then. What meant nothing then does not bind it.
// A look that shows what the last one showed is no news.
std::vector<SampleTerms> taken_again(std::vector<SampleTerms> samples, const Reading& reading,
                                     const Reading& before, const AccuracyOptions& accuracy);

}  // namespace eh
