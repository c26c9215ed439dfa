// SPDX-License-Identifier: GPL-3.0-or-later
// What a file that someone opens or drops is, told by what it holds and not by its name alone.
#pragma once

#include <QString>
#include <cstdint>

namespace eh {

enum class OpenedFile : std::uint8_t { job, capture, trace };

// Looks at the first 64 KB. Captures are value-change dumps, lists of messages, tables of samples of the CC
// line and bytes of samples; traces are tables that name volts and amps, or whose lines lie a tenth of a
// millisecond apart or more, as no samples of a CC line do. Anything else counts as a job file, whose reader
// says what it misses.
OpenedFile kind_of(const QString& file);

}  // namespace eh
