// Thermal frames of any kind, whole and in pieces.
#include <cstdint>
#include <cstdlib>
#include <string>

#include "core/thermal/frame_files.h"

using namespace eh;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string bytes(reinterpret_cast<const char*>(data), size);
    const auto read = read_frames(bytes, "fuzz");
    if (read.ok()) {
        for (const ThermalFrame& frame : read->frames)
            if (frame.celsius.size() !=
                static_cast<std::size_t>(frame.width) * static_cast<std::size_t>(frame.height))
                std::abort();
    }
    PgmStream stream;
    for (std::size_t at = 0; at < size; at += 7)
        if (!stream.feed(bytes.data() + at, std::min<std::size_t>(7, size - at)).ok())
            break;
    return 0;
}
