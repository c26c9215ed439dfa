// SPDX-License-Identifier: GPL-3.0-or-later
// Footprints as they are typed, and as files.
#include "core/parts/footprint.h"
#include "fuzz/demand.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace eh;
    const std::string text = fuzz::text_of(data, size);
    (void)parse_footprints(text, "fuzz");
    const auto typed = parse_measured_footprint(text);
    if (!typed)
        return 0;
    const auto again = parse_footprints(write_footprints({*typed}), "again");
    fuzz::demand(!again || again->size() == 1);
    (void)compare_footprints(*typed, *typed);
    return 0;
}
