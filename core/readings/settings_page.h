// SPDX-License-Identifier: GPL-3.0-or-later
// What a machine's settings page tells of adapter and battery in numbers, beside what it says in words.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/readings/kind_of_reading.h"

namespace eh {

struct SettingsPage {
    std::optional<double> adapter_watts = {};   // 0: the page does not know them
    std::optional<double> health_percent = {};  // what the battery still holds of its first capacity
    std::optional<int> cycles = {};             // how often the battery was charged
    [[nodiscard]] bool empty() const { return !adapter_watts && !health_percent && !cycles; }
    friend bool operator==(const SettingsPage&, const SettingsPage&) = default;
};

// Watts of adapters that a page tells apart: 0, 15, 30, 45, 65, 90, 130 and more.
inline constexpr int adapter_watt_kinds = 8;

// Refused with a sentence where no page shows such numbers: watts of 0 to 500, a health of 0 to 120 % (a new
// pack may hold a little more than its label says), 0 to 5,000 cycles.
Outcome check_page(const SettingsPage& page, const std::string& where);

// Takes “65w”, “health 82%” and “cycles 310” out of a quick line. Refused where a number is missing or is one
// that check_page refuses.
Result<SettingsPage> take_page(std::vector<std::string>& words);

// Fields `adapter_watts`, `health_percent` and `cycles` of a job file, each of which may be missing. Reading
// throws JsonRefused with the field.
void write_page(const SettingsPage& page, nlohmann::json& file);
SettingsPage read_page(const JsonReader& field);

// ", adapter given as 65 W, battery health 82 %, 310 cycles"; empty of an empty page.
std::string page_text(const SettingsPage& page);

// The broad spread of the numbers on it, where they mean nothing.
double page_background(const SettingsPage& page);

}  // namespace eh
