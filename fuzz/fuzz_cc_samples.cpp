// SPDX-License-Identifier: GPL-3.0-or-later
// Tables of samples, as every program exports them another way.
#include <cmath>
#include <sstream>

#include "core/usbc/sample_table.h"
#include "fuzz/demand.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace eh;
    std::istringstream file(fuzz::text_of(data, size));
    pd::CaptureOptions options;
    options.samples_a_second = 2e6;
    const auto capture = pd::read_sample_table(file, "fuzz", options);
    if (!capture)
        return 0;
    for (const pd::SeenFrame& seen : capture->capture.frames)
        fuzz::demand(std::isfinite(seen.frame.start_s));
    fuzz::demand(!capture->half_bit_s || *capture->half_bit_s > 0.0);
    return 0;
}
