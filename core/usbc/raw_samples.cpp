// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/raw_samples.h"

#include <array>
#include <istream>

#include "core/base/text.h"

namespace eh::pd {

Result<CapturePass> read_raw_samples(std::istream& file, const std::string& name,
                                     const CaptureOptions& options) {
    constexpr std::size_t piece_bytes = 1U << 20U;
    constexpr std::size_t wire_count = 8;
    std::vector<std::string> names;
    for (std::size_t wire = 0; wire < wire_count; ++wire)
        names.push_back("D" + integer_text(wire));
    CapturePass pass;
    pass.has_times = false;
    pass.unit_is_known = options.samples_a_second.has_value();
    pass.time_unit_s = 1.0 / options.samples_a_second.value_or(1.0);
    WireReaders readers(names);
    std::vector<char> piece(piece_bytes);
    std::uint64_t samples = 0;
    unsigned last = 0;
    while (file) {
        file.read(piece.data(), static_cast<std::streamsize>(piece.size()));
        const auto got = static_cast<std::size_t>(file.gcount());
        for (std::size_t i = 0; i < got; ++i, ++samples) {
            const auto sample = static_cast<unsigned char>(piece[i]);
            if (sample == last && samples > 0)
                continue;
            last = sample;
            for (std::size_t wire = 0; wire < wire_count; ++wire)
                readers.level(wire, (sample >> wire & 1U) != 0,
                              static_cast<double>(samples) * pass.time_unit_s);
        }
        if (options.progress)
            options.progress(samples);
        if (options.stop && options.stop())
            return reading_stopped(name);
    }
    auto capture = readers.finish(name, options);
    if (!capture)
        return capture.error();
    pass.capture = std::move(capture).value();
    pass.capture.report.seconds = static_cast<double>(samples) * pass.time_unit_s;
    pass.half_bit_s = readers.half_bit_s();
    return pass;
}

}  // namespace eh::pd
