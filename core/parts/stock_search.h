// SPDX-License-Identifier: GPL-3.0-or-later
// Searching the stock as a technician asks: "100n 25v 0402", "4k7 1%", "usb-c mid-mount", "drawer 3".
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/parts/stock.h"

namespace eh {

class StockSearch {
  public:
    // Prepares the words of every part. The stock is not kept.
    explicit StockSearch(const Stock& stock);

    // Indices of the parts that meet every word of the question, in the order: at hand first, then by kind,
    // value and name. A word that is a value ("100n", "4k7", "10 %" without blank) asks for that value within
    // 1 %; volts and amps ask for at least that rating, percent for at most that tolerance; any other word
    // must stand in name, package, dielectric, place, donor or note. A value written without unit may also
    // stand as a word. An empty question finds all.
    [[nodiscard]] std::vector<std::size_t> find(std::string_view question) const;

  private:
    struct Entry {
        std::string words;  // folded
        PartKind kind;
        double value;  // < 0: none
        double tolerance;
        double volts;
        double amps;
        int count;
    };
    std::vector<Entry> entries_;
    std::vector<std::size_t> order_;
};

}  // namespace eh
