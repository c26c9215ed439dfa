// Samples of the CC lines in volts.
#include <cmath>
#include <sstream>

#include "core/usbc/cc_capture.h"
#include "fuzz/demand.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace eh;
    std::istringstream file(fuzz::text_of(data, size));
    (void)pd::read_cc_samples(file, "fuzz", {}, [](const pd::SeenFrame& frame) {
        fuzz::demand(std::isfinite(frame.frame.start_s));
    });
    return 0;
}
