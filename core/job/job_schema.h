// SPDX-License-Identifier: GPL-3.0-or-later
// The published schema of the job file (data/schemas/job.schema.json), checked where a file comes in from
// outside.
#pragma once

#include <filesystem>
#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <string>

#include "core/base/result.h"
#include "core/job/job.h"

namespace valijson {
class Schema;
}

namespace eh {

class JobSchema {
  public:
    // Reads a JSON schema. Fields that it does not name are let through, since a newer program's file of the
    // same version may hold more (docs/formats.md). Refused, with the file, where the text is no schema.
    static Result<JobSchema> read(const std::string& text, const std::string& file);

    // The shipped one, below the data directory. Refused where it cannot be read.
    static Result<JobSchema> load(const std::filesystem::path& data_directory);

    // Refused at the first field that is not what the schema says: "job.hound.json, readings[3].place: ...".
    [[nodiscard]] Outcome check(const nlohmann::json& job, const std::string& file) const;

  private:
    explicit JobSchema(std::shared_ptr<const valijson::Schema> schema) : schema_(std::move(schema)) {}
    std::shared_ptr<const valijson::Schema> schema_;
};

// A job file from outside: read as parse_job() reads it, then held against the schema, which knows bounds and
// words that a reader passes over. Refused by either with a sentence that names the field.
Result<Job> admit_job(const std::string& text, const std::string& file, const JobSchema& schema);

}  // namespace eh
