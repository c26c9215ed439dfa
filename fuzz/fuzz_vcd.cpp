// SPDX-License-Identifier: GPL-3.0-or-later
// Captures of any kind, value-change dumps above all: packets come in the order of time, and what they say
// can be told.
#include <cmath>
#include <sstream>

#include "core/usbc/cc_capture.h"
#include "core/usbc/negotiation.h"
#include "core/usbc/pd_text.h"
#include "fuzz/demand.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace eh;
    std::istringstream file(fuzz::text_of(data, size));
    const auto capture = pd::read_capture(file, "fuzz");
    if (!capture)
        return 0;
    for (const pd::SeenFrame& seen : capture->frames) {
        fuzz::demand(std::isfinite(seen.frame.start_s));
        fuzz::demand(seen.line == 1 || seen.line == 2);
    }
    const pd::Negotiation negotiation = pd::read_negotiation(*capture, 20.0);
    fuzz::demand(!pd::verdict_sentence(negotiation).empty());
    return 0;
}
