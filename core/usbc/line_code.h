// SPDX-License-Identifier: GPL-3.0-or-later
// Messages as they run over the CC line: 4b5b symbols in biphase-mark code, and back, damaged ones included.
//
// USB Power Delivery specification, revision 3, physical layer (from memory; the tests have another decoder
// read what is written here): 300 kbit/s, preamble of 64 alternating bits, four symbols that start the
// packet, bytes with the low half first, CRC-32, one symbol that ends it.
#pragma once

#include <cstdint>
#include <functional>
#include <string>
#include <vector>

#include "core/usbc/bit_clock.h"
#include "core/usbc/pd_message.h"

namespace eh::pd {

enum class FrameKind : std::uint8_t { message, hard_reset, cable_reset, unreadable };

// What is wrong with a frame; several may hold.
struct Damage {
    bool bad_checksum = false;
    bool cut_short = false;       // ends in the middle
    bool bad_symbol = false;      // five bits that stand for nothing
    bool bad_timing = false;      // a half bit without its other half
    bool start_repaired = false;  // one of the four starting symbols was wrong: still a valid start
    bool no_end = false;          // the ending symbol is missing
    bool wrong_length = false;    // the payload is not as long as the header says
    bool any_fatal() const {
        return bad_checksum || cut_short || bad_symbol || bad_timing || no_end || wrong_length;
    }
    friend bool operator==(const Damage&, const Damage&) = default;
};

// One packet of the line, whatever came of it.
struct Frame {
    double start_s = 0.0;
    double end_s = 0.0;
    FrameKind kind = FrameKind::unreadable;
    Message message;  // as far as it could be read
    std::uint32_t checksum_sent = 0;
    std::uint32_t checksum_due = 0;
    Damage damage;
    // A message or reset that can be trusted.
    [[nodiscard]] bool good() const { return kind != FrameKind::unreadable && !damage.any_fatal(); }
};

// The bits of a packet in the order of sending, preamble to end.
std::vector<bool> line_bits(const Message& message);
// Of a reset: hard for the port partner, or of the cable alone. Requires one of these two kinds.
std::vector<bool> reset_bits(FrameKind reset);
// Appends the moments at which the line changes for these bits, from start_s on; the line is low before and
// after. Returns when it is idle again.
double append_edges(const std::vector<bool>& bits, double start_s, std::vector<double>& edges,
                    double bit_s = nominal_bit_s);

// Finds the packets in a stream of edges. Two changes closer together than a third of a microsecond are a
// spike or a contact that chatters and count as none: half a bit takes five times as long. Memory is bounded
// whatever comes.
class FrameReader {
  public:
    // Called with each packet as soon as it is over.
    explicit FrameReader(std::function<void(Frame)> found) : found_(std::move(found)) {}

    // The line changed at t_s; times must not go back.
    void edge(double t_s);
    // Nothing more comes: what is there is a packet, or part of one.
    void finish();

  private:
    void clean_edge(double t_s);
    void end_packet();

    std::function<void(Frame)> found_;
    std::vector<double> changes_s_;  // of the packet that is under way, as many as the longest has
    bool held_ = false;              // the last change waits for whether it is one of a spike's two
    double held_s_ = 0.0;
    double last_s_ = 0.0;
};

}  // namespace eh::pd
