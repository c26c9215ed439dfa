// SPDX-License-Identifier: GPL-3.0-or-later
// JSON as text. The library's own way of writing ends the program at a text that is not UTF-8.
#pragma once

#include <nlohmann/json_fwd.hpp>
#include <string>

namespace eh {

// Written with `indent` spaces a level, on one line when negative. Bytes that are no UTF-8 become U+FFFD;
// numbers that are not finite become null. Numbers have a decimal point whatever the locale.
[[nodiscard]] std::string json_text(const nlohmann::json& value, int indent = -1);

}  // namespace eh
