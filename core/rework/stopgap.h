// SPDX-License-Identifier: GPL-3.0-or-later
// Temporary repairs that must come back (format eager-hound.stopgaps/1).
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace eh {

// A lead soldered on until the part is there, contacts bent back, a conversion on trial.
struct Stopgap {
    std::string id;
    std::string job;
    std::string what;
    std::int64_t made_ms = 0;
    std::int64_t due_ms = 0;
    bool done = false;
    friend bool operator==(const Stopgap&, const Stopgap&) = default;
};

// Those not done, earliest due first.
std::vector<Stopgap> open_stopgaps(std::vector<Stopgap> all);

// Reads the list, refused with file and field; and writes it as text that reads back equal.
Result<std::vector<Stopgap>> parse_stopgaps(const std::string& text, const std::string& file);
std::string write_stopgaps(const std::vector<Stopgap>& stopgaps);

}  // namespace eh
