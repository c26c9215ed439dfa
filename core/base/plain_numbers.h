// SPDX-License-Identifier: GPL-3.0-or-later
// The C library's locale, which Qt sets from the environment, changes how printf, strtod and the parsers of
// the command line write and read numbers.
#pragma once

#include <clocale>

namespace eh {

// For every main(), once Qt's application object is there and before other threads run: from here on the C
// library's numbers have a point. What people read gets their mark elsewhere (core/base/text.h).
inline void keep_plain_numbers() {
    std::setlocale(LC_NUMERIC, "C");  // NOLINT(concurrency-mt-unsafe): before other threads
}

}  // namespace eh
