// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/board_readings.h"

#include <algorithm>
#include <set>

#include "core/base/json_reader.h"
#include "core/base/json_text.h"
#include "core/base/text.h"

namespace eh {
namespace {

constexpr const char* readings_format = "eager-hound.board-readings";
constexpr int newest_readings_format = 1;
constexpr double most_ohms = 1e9;
constexpr double most_drop_volts = 10.0;

BoardReading read_one(const JsonReader& item) {
    BoardReading reading;
    reading.net = item.text("net");
    const bool ohms = item.has("ohms");
    const bool drop = item.has("drop_volts");
    reading.value.open = item.boolean("open", false);
    if (reading.net.empty() || static_cast<int>(ohms) + static_cast<int>(drop) != 1)
        item.refuse("a reading has a net, and either ohms or drop_volts");
    reading.quantity = ohms ? NetQuantity::ohms : NetQuantity::drop;
    reading.value.value = ohms ? item.number_between("ohms", 0.0, most_ohms)
                               : item.number_between("drop_volts", 0.0, most_drop_volts);
    if (item.has("lead_ohms"))
        reading.value.lead_ohms = item.number_between("lead_ohms", 0.0, 10.0);
    reading.sound = item.boolean("sound", false);
    reading.job = item.text("job", "");
    reading.reading = item.text("reading", "");
    reading.taken_ms = static_cast<std::int64_t>(item.number("taken_ms", 0.0));
    return reading;
}

}  // namespace

const BoardReading* BoardReadings::newest(const std::string& net, NetQuantity quantity,
                                          const std::string& job) const {
    const auto found = std::find_if(readings_.rbegin(), readings_.rend(), [&](const BoardReading& reading) {
        return reading.net == net && reading.quantity == quantity && reading.job == job;
    });
    return found == readings_.rend() ? nullptr : &*found;
}

std::vector<NetValue> BoardReadings::sound_boards(const std::string& net, NetQuantity quantity,
                                                  const std::string& but_job) const {
    std::vector<NetValue> values;
    std::set<std::string> told;
    for (auto reading = readings_.rbegin(); reading != readings_.rend(); ++reading) {
        if (reading->net != net || reading->quantity != quantity || reading->job == but_job ||
            !told.insert(reading->job).second)
            continue;
        if (reading->sound)
            values.push_back(reading->value);
    }
    return values;
}

bool BoardReadings::follow(const std::string& job, const std::set<std::string>& readings) {
    const auto linked = [&](const BoardReading& kept) { return kept.job == job && !kept.reading.empty(); };
    const auto gone = std::stable_partition(
        readings_.begin(), readings_.end(),
        [&](const BoardReading& kept) { return !linked(kept) || readings.count(kept.reading) != 0; });
    const auto back = std::stable_partition(aside_.begin(), aside_.end(), [&](const BoardReading& kept) {
        return !linked(kept) || readings.count(kept.reading) == 0;
    });
    const std::vector<BoardReading> undone(gone, readings_.end());
    const std::vector<BoardReading> redone(back, aside_.end());
    readings_.erase(gone, readings_.end());
    aside_.erase(back, aside_.end());
    readings_.insert(readings_.end(), redone.begin(), redone.end());
    aside_.insert(aside_.end(), undone.begin(), undone.end());
    return !undone.empty() || !redone.empty();
}

bool BoardReadings::set_sound(const std::string& net, NetQuantity quantity, const std::string& job,
                              bool sound) {
    const BoardReading* const reading = newest(net, quantity, job);
    if (reading == nullptr)
        return false;
    readings_[static_cast<std::size_t>(reading - readings_.data())].sound = sound;
    return true;
}

std::string write_board_readings(const BoardReadings& readings) {
    nlohmann::json root{{"format", std::string(readings_format) + "/" + integer_text(newest_readings_format)},
                        {"board", readings.board}};
    auto& list = root["readings"] = nlohmann::json::array();
    for (const BoardReading& reading : readings.all()) {
        nlohmann::json one{
            {"net", reading.net},
            {reading.quantity == NetQuantity::ohms ? "ohms" : "drop_volts", reading.value.value},
            {"sound", reading.sound},
            {"job", reading.job},
            {"taken_ms", reading.taken_ms}};
        if (!reading.reading.empty())
            one["reading"] = reading.reading;
        if (reading.value.open)
            one["open"] = true;
        if (reading.value.lead_ohms > 0.0)
            one["lead_ohms"] = reading.value.lead_ohms;
        list.push_back(std::move(one));
    }
    return json_text(root, 1);
}

Result<BoardReadings> parse_board_readings(const std::string& text, const std::string& file) {
    return read_json<BoardReadings>(text, file, [](const JsonReader& root) {
        root.check_format(readings_format, newest_readings_format);
        BoardReadings readings;
        readings.board = root.text("board", "");
        for (const JsonReader& item : root.items("readings"))
            readings.add(read_one(item));
        return readings;
    });
}

}  // namespace eh
