// SPDX-License-Identifier: GPL-3.0-or-later
// Captures of the CC lines as files: value-change dumps (VCD, IEEE 1364), tables of samples, bytes of
// samples, and lists of messages (JSON). Formats: docs/formats.md.
//
// What a file does not say is found out where the line itself tells it: packets run on one wire and not on
// another, and half a bit takes 1.67 µs whatever the unit of time. What it does not tell is asked for.
#pragma once

#include <cstdint>
#include <filesystem>
#include <functional>
#include <iosfwd>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/usbc/line_code.h"

namespace eh::pd {

// A frame and the line it was seen on: 1 for CC1, 2 for CC2.
struct SeenFrame {
    Frame frame;
    int line = 1;
};

// One wire or column of a capture.
struct CapturedWire {
    std::string name;
    std::uint64_t edges = 0;
    std::uint64_t packets = 0;  // good ones
};

// What the reader would have to be told: asked when the line changed, but nothing of it reads as a packet.
struct CaptureQuestion {
    std::string sentence;               // what was found, for a technician
    bool time_unit = false;             // whether the unit of the column of time may be another
    bool sample_rate = false;           // whether it holds samples without a time
    std::optional<double> suggested_s;  // unit of time (s) or time of a sample at which it would be packets
    bool volts = false;                 // whether the threshold may be wrong
};

struct CaptureReport {
    double seconds = 0.0;              // from the first to the last moment of the file
    std::uint64_t edges = 0;           // changes of the CC lines
    std::uint64_t odd_lines = 0;       // that were left out because they say nothing that can be read
    std::vector<CapturedWire> wires;   // all of the file that may be a CC line
    std::vector<std::string> remarks;  // what was found out about it, a sentence each
    std::optional<CaptureQuestion> question;
};

struct CaptureOptions {
    // Wires that are CC1 and CC2. Both empty: those whose names hold "cc1" and "cc2", unless packets run on
    // others only; then those.
    std::string cc1;
    std::string cc2;
    // Seconds of one unit of a table's column of time. Empty: what its name says, else what makes packets of
    // the line's changes, else seconds.
    std::optional<double> time_unit_s;
    // Samples a second of a file that holds no time. Empty: what it says of it.
    std::optional<double> samples_a_second;
    // Volts above which a sampled line counts as high, and how far it must fall below to count as low: the
    // line swings between 0 and 1.05 to 1.2 V (specification, from memory).
    double threshold_volts = 0.55;
    double hysteresis_volts = 0.1;
    std::function<bool()> stop = {};                   // asked now and then; true ends the reading
    std::function<void(std::uint64_t)> progress = {};  // bytes read so far
};

struct Capture {
    std::vector<SeenFrame> frames;  // in the order of time
    CaptureReport report;
};

// A file of any of the kinds, told apart by what it holds. `name` stands in errors. The stream must be able
// to go back. Refused with place and sentence: what is none of them, an unknown wire, a time scale that
// cannot be read, times that go back; stopped: kind unavailable. A file that ends in the middle is read up to
// there. Memory grows with the packets, not with the file.
Result<Capture> read_capture(std::istream& file, const std::string& name, const CaptureOptions& options = {});
// The same of a file; one that cannot be opened is an error of kind not_found.
Result<Capture> read_capture(const std::filesystem::path& path, const CaptureOptions& options = {});

enum class CaptureKind : std::uint8_t { messages, value_changes, table, raw };
// What the first bytes of a file (some 64 KB) look like; a table is anything that is text.
CaptureKind capture_kind(std::string_view first_bytes);

// Edges as a VCD of one wire "cc1", time scale 10 ns.
void write_vcd(std::ostream& file, const std::vector<double>& edges, double end_s);

}  // namespace eh::pd
