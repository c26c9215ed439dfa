// SPDX-License-Identifier: GPL-3.0-or-later
// Writes a conversation the way two ports hold it: numbered messages, each acknowledged, at the pace of the
// line.
#pragma once

#include <map>
#include <span>
#include <vector>

#include "core/usbc/line_code.h"
#include "core/usbc/pd_objects.h"

namespace eh::pd {

enum class Side { charger, machine };

class TalkWriter {
  public:
    // Moves the clock on; times already passed are kept.
    void wait_until(double t_s);
    [[nodiscard]] double now_s() const { return now_s_; }

    // One message, acknowledged by the other side at once or not at all.
    void say(Side side, ControlType type, bool acknowledged = true);
    void say(Side side, DataType type, std::span<const std::uint32_t> objects, bool acknowledged = true);
    void offer(std::span<const Offer> offers, bool acknowledged = true);
    void request(const Request& request, const Offer& offer, bool acknowledged = true);
    // The charger asks the cable who it is; a marked one acknowledges and answers.
    void ask_cable(const CableIdentity* marker);
    void hard_reset();

    [[nodiscard]] const std::vector<Frame>& frames() const { return frames_; }

  private:
    void put(const Message& message);
    void acknowledge(const Message& message);
    [[nodiscard]] Header header_of(Side side);

    double now_s_ = 0.0;
    std::map<Side, std::uint8_t> next_id_;
    std::uint8_t cable_id_ = 0;
    std::vector<Frame> frames_;
};

// The frames on the line: moments of its changes. Damaged and unreadable frames are left away.
std::vector<double> edges_of(std::span<const Frame> frames);

}  // namespace eh::pd
