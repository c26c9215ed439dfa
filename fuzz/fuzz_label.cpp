// SPDX-License-Identifier: GPL-3.0-or-later
// Labels of chargers and typed numbers.
#include "core/electrics/engineering.h"
#include "core/usbc/supply_check.h"
#include "fuzz/demand.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace eh;
    const std::string text = fuzz::text_of(data, size);
    (void)parse_quantity(text);
    const auto offers = parse_label(text);
    if (!offers)
        return 0;
    const auto check = check_supply(*offers, {}, {});
    if (check)
        fuzz::demand(check->plug_volts <= check->contract.most_volts && !check->notes.empty());
    return 0;
}
