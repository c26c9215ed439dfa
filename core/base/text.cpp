#include "core/base/text.h"

#include <array>
#include <cstdio>

namespace eh {

std::string number_text(const char* format, double value) {
    std::array<char, 64> text{};
    std::snprintf(text.data(), text.size(), format, value);
    return text.data();
}

std::string whole_text(double value) {
    return number_text("%.0f", value);
}

std::string percent_text(double share) {
    return number_text("%.0f %%", 100.0 * share);
}

std::string lower_case(std::string_view text) {
    std::string lower(text);
    for (char& c : lower) {
        if (c >= 'A' && c <= 'Z')
            c = static_cast<char>(c - 'A' + 'a');
    }
    return lower;
}

}  // namespace eh
