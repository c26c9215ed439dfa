// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/design_lesson_json.h"

#include "core/base/json_reader.h"

namespace eh {

using nlohmann::json;

namespace {

constexpr double most_log_odds = 50.0;
constexpr double least_ohms = 1e-3;
constexpr double most_ohms = 1e7;

}  // namespace

json write_lesson(const DesignLesson& lesson) {
    json habits = json::object();
    for (std::size_t h = 0; h < habit_count; ++h) {
        if (lesson.habits[h] != 0.0)
            habits[to_text(static_cast<Habit>(h))] = lesson.habits[h];
    }
    return {{"habits", std::move(habits)}, {"sound_ohms", lesson.sound_ohms}};
}

DesignLesson read_lesson(const JsonReader& field) {
    DesignLesson lesson;
    const JsonReader habits = field.at("habits");
    for (const auto& [name, value] : habits.members()) {
        if (const auto habit = habit_from(name))
            lesson.habits[static_cast<std::size_t>(*habit)] =
                habits.number_between(name, -most_log_odds, most_log_odds);
    }
    const JsonReader nets = field.at("sound_ohms");
    for (const auto& [net, value] : nets.members())
        lesson.sound_ohms[net] = nets.number_between(net, least_ohms, most_ohms);
    return lesson;
}

}  // namespace eh
