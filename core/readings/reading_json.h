// SPDX-License-Identifier: GPL-3.0-or-later
// Readings and the bench they were taken on, as JSON: the same inside a job file and in the rows of the
// store.
#pragma once

#include <nlohmann/json.hpp>
#include <string>

#include "core/base/json_reader.h"
#include "core/base/result.h"
#include "core/readings/reading.h"

namespace eh {

// As the job file holds them; the readers give back equal ones.
nlohmann::json write_configuration(const BenchConfiguration& configuration);
nlohmann::json write_reading(const Reading& reading);

// Throw JsonRefused, within read_json(). Values must be plausible for a bench (core/electrics/engineering.h).
BenchConfiguration read_configuration(const JsonReader& field);
Reading read_reading(const JsonReader& field);

// Single ones as a text of one line. parse_reading() gives back an equal Reading; `place` names it in errors.
std::string configuration_to_text(const BenchConfiguration& configuration);
std::string reading_to_text(const Reading& reading);
Result<Reading> parse_reading(const std::string& text, const std::string& place);

}  // namespace eh
