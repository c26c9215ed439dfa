// SPDX-License-Identifier: GPL-3.0-or-later
// Tables of samples: a line a sample, or a line a change, in volts or in levels of 0 and 1.
#pragma once

#include <iosfwd>
#include <string>

#include "core/base/result.h"
#include "core/usbc/wire_readers.h"

namespace eh::pd {

// Reads every column but the time as a wire. Refused: a file without a line of numbers, columns of amps (a
// meter's recording), times that go back.
Result<CapturePass> read_sample_table(std::istream& file, const std::string& name,
                                      const CaptureOptions& options);

}  // namespace eh::pd
