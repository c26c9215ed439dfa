// Small texts that many parts of the core make.
#pragma once

#include <string>
#include <string_view>

namespace eh {

// One number as printf writes it: number_text("%.3g V", 19.53) is "19.5 V". The format takes one double and
// gives less than 64 characters; what is longer is cut.
[[nodiscard]] std::string number_text(const char* format, double value);
// Without decimals: "217".
[[nodiscard]] std::string whole_text(double value);
// A share in whole per cent: "37 %".
[[nodiscard]] std::string percent_text(double share);
// Capitals of A to Z as small letters; other bytes stay, so UTF-8 stays whole.
[[nodiscard]] std::string lower_case(std::string_view text);

}  // namespace eh
