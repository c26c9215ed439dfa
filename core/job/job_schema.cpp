// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/job_schema.h"

// Without it a schema that cannot be followed ends the program.
#define VALIJSON_USE_EXCEPTIONS 1

#include <cctype>
#include <exception>
#include <nlohmann/json.hpp>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validation_results.hpp>
#include <valijson/validator.hpp>

#include "core/base/files.h"
#include "core/job/job_json.h"

namespace eh {
namespace {

using nlohmann::json;
using valijson::adapters::NlohmannJsonAdapter;

void let_more_fields_through(json& schema) {
    if (schema.is_object())
        schema.erase("additionalProperties");
    if (schema.is_structured()) {
        for (json& inner : schema)
            let_more_fields_through(inner);
    }
}

// "<root>", "[readings]", "[3]", "[place]" as "readings[3].place".
std::string path_of(const std::vector<std::string>& context) {
    std::string path;
    for (const std::string& step : context) {
        if (step.size() < 3 || step.front() != '[')
            continue;
        const bool index = std::isdigit(static_cast<unsigned char>(step[1])) != 0;
        if (index)
            path += step;
        else
            path += (path.empty() ? "" : ".") + step.substr(1, step.size() - 2);
    }
    return path;
}

}  // namespace

Result<JobSchema> JobSchema::read(const std::string& text, const std::string& file) {
    json definition = json::parse(text, nullptr, false);
    if (!definition.is_object())
        return refused("this is no JSON schema", file);
    let_more_fields_through(definition);
    auto schema = std::make_shared<valijson::Schema>();
    try {
        valijson::SchemaParser().populateSchema(NlohmannJsonAdapter(definition), *schema);
    } catch (const std::exception& problem) {  // what the library throws of a schema that it cannot follow
        return refused(std::string("this schema cannot be followed: ") + problem.what(), file);
    }
    return JobSchema(std::move(schema));
}

Result<JobSchema> JobSchema::load(const std::filesystem::path& data_directory) {
    const auto file = data_directory / "schemas" / "job.schema.json";
    const auto text = read_text_file(file);
    return text ? read(*text, file.string()) : Result<JobSchema>(text.error());
}

Outcome JobSchema::check(const json& job, const std::string& file) const {
    valijson::Validator validator;
    valijson::ValidationResults results;
    if (validator.validate(*schema_, NlohmannJsonAdapter(job), &results))
        return Done{};
    // The first is the outermost; the field at fault is the deepest.
    valijson::ValidationResults::Error error;
    valijson::ValidationResults::Error deepest;
    while (results.popError(error)) {
        if (error.context.size() >= deepest.context.size())
            deepest = error;
    }
    const std::string path = path_of(deepest.context);
    return refused("this is not what a job file holds here (" + deepest.description + ")",
                   path.empty() ? file : file + ", " + path);
}

Result<Job> admit_job(const std::string& text, const std::string& file, const JobSchema& schema) {
    auto job = parse_job(text, file);
    if (!job)
        return job;
    if (auto fits = schema.check(json::parse(text, nullptr, false), file); !fits)
        return fits.error();
    return job;
}

}  // namespace eh
