// SPDX-License-Identifier: GPL-3.0-or-later
// The line code: edges at any times. A packet that is found whole is sent again as the same bits.
#include "core/usbc/line_code.h"
#include "core/usbc/pd_text.h"
#include "fuzz/demand.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace eh;
    pd::Interpreter interpreter;
    pd::FrameReader reader([&](const pd::Frame& frame) {
        fuzz::demand(frame.end_s >= frame.start_s);
        fuzz::demand(!interpreter.sentence(frame).empty());
        if (frame.kind == pd::FrameKind::message && frame.good())
            fuzz::demand(!pd::line_bits(frame.message).empty());
    });
    // Each byte is the time to the next edge: up to two bits and a half, or a pause.
    constexpr double bit_s = 1.0 / 300e3;
    double t_s = 0.0;
    for (std::size_t i = 0; i < size; ++i) {
        t_s += data[i] == 255 ? 1e-3 : bit_s * data[i] / 100.0;
        reader.edge(t_s);
    }
    reader.finish();
    return 0;
}
