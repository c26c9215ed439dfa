// Captures of the CC lines as files: value-change dumps (VCD, IEEE 1364), sampled volts (CSV), and lists of
// messages (JSON). Formats: docs/formats.md.
#pragma once

#include <cstdint>
#include <functional>
#include <iosfwd>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/usbc/line_code.h"

namespace eh::pd {

// A frame and the line it was seen on: 1 for CC1, 2 for CC2.
struct SeenFrame {
    Frame frame;
    int line = 1;
};

struct CaptureReport {
    double seconds = 0.0;            // from the first to the last moment of the file
    std::uint64_t edges = 0;         // changes of the CC lines
    std::uint64_t odd_lines = 0;     // that were left out because they say nothing that can be read
    std::vector<std::string> wires;  // names of all wires of the file
};

struct CaptureOptions {
    // Wires that are CC1 and CC2. Empty: those whose names hold "cc1" and "cc2", else the first wire of one
    // bit.
    std::string cc1;
    std::string cc2;
    // Volts above which a sampled line counts as high, and how far it must fall below to count as low: the
    // line swings between 0 and 1.05 to 1.2 V (specification, from memory).
    double threshold_volts = 0.55;
    double hysteresis_volts = 0.1;
    std::function<bool()> stop = {};                   // asked now and then; true ends the reading
    std::function<void(std::uint64_t)> progress = {};  // bytes read so far
};

// Reads a VCD and calls `found` with each packet in the order in which they end. Streams: memory does not
// grow with the file. Refused: no CC wire, a time scale that cannot be read, times that go back; a file that
// ends in the middle is read up to there.
Result<CaptureReport> read_vcd(std::istream& file, const std::string& name, const CaptureOptions& options,
                               const std::function<void(SeenFrame)>& found);

// The same of a CSV "t_s,cc1_volts[,cc2_volts]" with one sample a line.
Result<CaptureReport> read_cc_samples(std::istream& file, const std::string& name,
                                      const CaptureOptions& options,
                                      const std::function<void(SeenFrame)>& found);

// Edges as a VCD of one wire "cc1", time scale 10 ns.
void write_vcd(std::ostream& file, const std::vector<double>& edges, double end_s);

}  // namespace eh::pd
