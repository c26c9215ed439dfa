// Value-change dumps: packets come in the order of time, and what they say can be told.
#include <cmath>
#include <sstream>

#include "core/usbc/cc_capture.h"
#include "core/usbc/negotiation.h"
#include "core/usbc/pd_text.h"
#include "fuzz/demand.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace eh;
    std::istringstream file(fuzz::text_of(data, size));
    std::vector<pd::SeenFrame> frames;
    const auto report = pd::read_vcd(file, "fuzz", {}, [&](pd::SeenFrame frame) {
        fuzz::demand(std::isfinite(frame.frame.start_s));
        fuzz::demand(frame.line == 1 || frame.line == 2);
        frames.push_back(std::move(frame));
    });
    if (report)
        (void)pd::read_negotiation(frames, 20.0);
    return 0;
}
