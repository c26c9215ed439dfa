// SPDX-License-Identifier: GPL-3.0-or-later
// The flags of offers and requests in words: what one side says of itself beside volts and amps.
#pragma once

#include <span>
#include <string>
#include <vector>

#include "core/usbc/pd_objects.h"

namespace eh::pd {

// Of a list of offers (of_source) or needs; the specification puts them into the first, which is 5 V fixed.
// None where the list begins otherwise.
std::vector<std::string> flag_words(std::span<const Offer> offers, bool of_source);
std::vector<std::string> flag_words(const Request& request);

// " It says of itself: …." to be put behind a sentence; empty where nothing is flagged.
std::string flags_sentence(const std::vector<std::string>& words);

}  // namespace eh::pd
