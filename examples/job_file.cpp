// SPDX-License-Identifier: GPL-3.0-or-later
// A job as a file: written, read back, and what is wrong in a file that somebody edited.
#include <fmt/core.h>

#include "core/job/job_json.h"

int main() {
    eh::Job job;
    job.id = eh::JobId::made("example");
    job.ticket.topology = "usbc-two-chained";
    job.ticket.customer = "Mirela Dachs";
    const std::string text = eh::job_to_text(job);
    const auto again = eh::parse_job(text, "example.hound.json");
    fmt::print("the same job: {}\n", again.ok() && *again == job);
    const auto edited =
        eh::parse_job(R"({"format": "eager-hound.job/1", "id": "../elsewhere"})", "edited.hound.json");
    fmt::print("{}\n", edited.error().text());
}
