// SPDX-License-Identifier: GPL-3.0-or-later
// Value-change dumps (VCD, IEEE 1364): every change of every wire with its time.
#pragma once

#include <iosfwd>
#include <string>

#include "core/base/result.h"
#include "core/usbc/wire_readers.h"

namespace eh::pd {

// Reads every wire of one bit, sixty-four at most. Lines before the first $ section are read past. Refused: a
// head that is not whole, a time scale that cannot be read, no wire of one bit, times that go back.
Result<CapturePass> read_value_changes(std::istream& file, const std::string& name,
                                       const CaptureOptions& options);

}  // namespace eh::pd
