// SPDX-License-Identifier: GPL-3.0-or-later
// The job file, format eager-hound.job/1 (docs/formats.md, data/schemas/job.schema.json).
#pragma once

#include <nlohmann/json_fwd.hpp>
#include <string>

#include "core/base/result.h"
#include "core/job/job.h"

namespace eh {

// The whole job as indented JSON text. parse_job() gives back an equal Job.
std::string job_to_text(const Job& job);

// Reads a job file. Unknown fields are ignored, so that a newer program's file of the same version opens; a
// missing or wrong field is refused with its place. `topology` ids are not looked up here. Values must be
// plausible for a bench (core/electrics/engineering.h).
Result<Job> parse_job(const std::string& text, const std::string& file);

}  // namespace eh
