// SPDX-License-Identifier: GPL-3.0-or-later
// What the shop has: parts with places and counts, donor boards, orders on their way
// (format eager-hound.stock/1).
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace eh {

enum class PartKind { resistor, capacitor, receptacle, jack, regulator, chip, other };
inline constexpr int part_kind_count = 7;
// The words of the stock file; from() knows just those.
std::string to_text(PartKind kind);
std::optional<PartKind> part_kind_from(const std::string& text);

struct StockPart {
    std::string id;  // unique in the stock
    PartKind kind = PartKind::other;
    std::string name;
    std::string package;              // 0402, QFN 6x6, mid-mount 16 pins
    std::optional<double> value;      // ohms or farads
    std::optional<double> tolerance;  // 0.01 = 1 %
    std::optional<double> volts;      // rated; output of a regulator stands in its own field
    std::optional<double> amps;       // rated
    std::optional<double> out_volts;  // of a regulator
    std::string dielectric;           // X5R, X7R, C0G
    std::string footprint;            // id of a footprint
    std::string pinout;               // of a regulator or switch, as text that two parts can share
    std::string place;                // drawer
    int count = 0;
    std::string from_board;     // taken off a donor board: which
    std::string from_position;  // and where on it
    std::string note;
    friend bool operator==(const StockPart&, const StockPart&) = default;
};

// A board that is kept for its parts.
struct DonorBoard {
    std::string id;
    std::string title;
    std::string place;
    std::vector<std::string> taken;  // positions that are no longer on it
    friend bool operator==(const DonorBoard&, const DonorBoard&) = default;
};

struct PartOrder {
    std::string id;
    std::string what;  // id of a part of the stock, or words
    int count = 1;
    std::string from;  // whom
    std::int64_t ordered_ms = 0;
    double lead_days = 14.0;
    std::string job;  // number of the job that is parked for it; may be empty
    bool arrived = false;
    friend bool operator==(const PartOrder&, const PartOrder&) = default;
};

struct Stock {
    std::vector<StockPart> parts;
    std::vector<DonorBoard> donors;
    std::vector<PartOrder> orders;

    // nullptr where the stock has no such part.
    [[nodiscard]] const StockPart* find(const std::string& id) const;
    friend bool operator==(const Stock&, const Stock&) = default;
};

// Refuses unknown kinds, negative counts and values, ids that stand twice, with file and field.
Result<Stock> parse_stock(const std::string& text, const std::string& file);
std::string write_stock(const Stock& stock);

// A job that waits for a part.
struct ParkedJob {
    std::string job;
    std::string what;
    std::int64_t expected_ms = 0;
    bool late = false;
};

// Jobs that orders which have not arrived hold up, most urgent first; a job with several orders waits for its
// last one.
std::vector<ParkedJob> parked_jobs(const Stock& stock, std::int64_t now_ms);

// An id that no part, donor or order has: `prefix` and a number.
std::string fresh_stock_id(const Stock& stock, const std::string& prefix);

}  // namespace eh
