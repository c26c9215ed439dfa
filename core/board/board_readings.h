// SPDX-License-Identifier: GPL-3.0-or-later
// What the shop measured on boards of a kind: readings of nets, kept as reference for the next one.
//
// One JSON file a kind of board, "eager-hound.board-readings/1" (docs/formats.md).
#pragma once

#include <cstdint>
#include <filesystem>
#include <set>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/board/net_expectation.h"

namespace eh {

struct BoardReading {
    std::string net;
    NetQuantity quantity = NetQuantity::ohms;
    NetValue value;
    bool sound = false;  // the technician took this net for sound: it counts as reference
    std::string job;     // whose board it was; one reading of a net a job counts
    std::int64_t taken_ms = 0;
    std::string reading;  // id of the job's reading that was taken with it; empty: there is none
};

class BoardReadings {
  public:
    std::string board;  // its title

    // The newest first for one net and job.
    void add(BoardReading reading) { readings_.push_back(std::move(reading)); }
    [[nodiscard]] const std::vector<BoardReading>& all() const { return readings_; }
    // The newest reading of a net in a job; nullptr when there is none.
    [[nodiscard]] const BoardReading* newest(const std::string& net, NetQuantity quantity,
                                             const std::string& job) const;
    // Of sound boards, the newest of each job, without those of `but_job`.
    [[nodiscard]] std::vector<NetValue> sound_boards(const std::string& net, NetQuantity quantity,
                                                     const std::string& but_job) const;
    // Makes the newest reading of a net in a job a reference, or none; false when there is none.
    // Puts aside those of this job whose reading the job has no more, and takes back those whose reading it
    // has again: what is undone and redone there goes and comes here. True when something changed.
    bool follow(const std::string& job, const std::set<std::string>& readings);
    bool set_sound(const std::string& net, NetQuantity quantity, const std::string& job, bool sound);

  private:
    std::vector<BoardReading> aside_;     // undone in the job that is open
    std::vector<BoardReading> readings_;  // in the order in which they were taken
};

// As JSON text; parse_board_readings() gives back equal readings.
std::string write_board_readings(const BoardReadings& readings);
// Refuses what is no such file, with the field.
Result<BoardReadings> parse_board_readings(const std::string& text, const std::string& file);

}  // namespace eh
