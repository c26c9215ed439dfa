// SPDX-License-Identifier: GPL-3.0-or-later
// Answers of bench instruments.
#include <cmath>

#include "core/electrics/scpi_number.h"
#include "fuzz/demand.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace eh;
    const std::string text = fuzz::text_of(data, size);
    const auto number = parse_scpi_number(text);
    fuzz::demand(!number || !std::isnan(*number));
    // Blanks around it change nothing.
    fuzz::demand(parse_scpi_number(" " + text + " \r\n") == number);
    return 0;
}
