// SPDX-License-Identifier: GPL-3.0-or-later
// What a machine taught of its design, in the job file.
#pragma once

#include <nlohmann/json_fwd.hpp>

#include "core/machine/model/design_lesson.h"

namespace eh {

class JsonReader;

// As the job file holds it; read_lesson() gives back an equal one. Habits that it tells nothing of are left
// out.
nlohmann::json write_lesson(const DesignLesson& lesson);
// Refuses (JsonRefused) odds or ohms that no reading gives. Habits of a newer program are passed over.
DesignLesson read_lesson(const JsonReader& field);

}  // namespace eh
