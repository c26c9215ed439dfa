// SPDX-License-Identifier: GPL-3.0-or-later
// Fingerprints of texts, to tell whether something on disk belongs to them (XXH3 of libxxhash, 128 bits).
#pragma once

#include <string>
#include <string_view>

namespace eh {

// 32 hexadecimal digits, the same for the same bytes. Not for keeping secrets.
std::string fingerprint(std::string_view bytes);

}  // namespace eh
