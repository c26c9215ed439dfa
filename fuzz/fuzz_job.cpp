// SPDX-License-Identifier: GPL-3.0-or-later
// Job files: one that is read is written and read again the same.
#include "core/job/job_json.h"
#include "fuzz/demand.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace eh;
    const auto job = parse_job(fuzz::text_of(data, size), "fuzz");
    if (!job)
        return 0;
    const auto again = parse_job(job_to_text(*job), "again");
    fuzz::demand(again.ok() && *again == *job);
    return 0;
}
