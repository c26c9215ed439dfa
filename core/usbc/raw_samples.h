// SPDX-License-Identifier: GPL-3.0-or-later
// Bytes of samples without any word: a byte a sample, a bit a wire.
#pragma once

#include <iosfwd>
#include <string>

#include "core/base/result.h"
#include "core/usbc/wire_readers.h"

namespace eh::pd {

// Reads the eight bits as wires "D0" (the lowest) to "D7"; The time of a sample is 1
// where options name no rate: the packets then only show once it is known.
Result<CapturePass> read_raw_samples(std::istream& file, const std::string& name,
                                     const CaptureOptions& options);

}  // namespace eh::pd
