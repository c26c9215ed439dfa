// SPDX-License-Identifier: GPL-3.0-or-later
// What a target demands of every input; a demand that is not met ends it, and libFuzzer keeps the input.
#pragma once

#include <cstdlib>
#include <string>

namespace eh::fuzz {

inline void demand(bool met) {
    if (!met)
        std::abort();
}

inline std::string text_of(const unsigned char* data, std::size_t size) {
    return {reinterpret_cast<const char*>(data), size};
}

}  // namespace eh::fuzz
