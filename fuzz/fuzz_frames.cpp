// SPDX-License-Identifier: GPL-3.0-or-later
// Thermal frames of any kind, whole and in pieces.
#include <algorithm>

#include "core/thermal/frame_files.h"
#include "fuzz/demand.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace eh;
    const std::string bytes = fuzz::text_of(data, size);
    const auto read = read_frames(bytes, "fuzz");
    if (read.ok()) {
        for (const ThermalFrame& frame : read->frames)
            fuzz::demand(frame.celsius.size() ==
                         static_cast<std::size_t>(frame.width) * static_cast<std::size_t>(frame.height));
    }
    PgmStream stream;
    for (std::size_t at = 0; at < size; at += 7)
        if (!stream.feed(bytes.data() + at, std::min<std::size_t>(7, size - at)).ok())
            break;
    return 0;
}
