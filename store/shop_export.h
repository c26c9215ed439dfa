// SPDX-License-Identifier: GPL-3.0-or-later
// The whole shop as one open file (format eager-hound.shop/1): jobs and the files of its parts.
#pragma once

#include <filesystem>
#include <string>

#include "core/base/result.h"
#include "store/job_store.h"

namespace eh {

struct ShopExportOptions {
    bool personal_data = true;  // customers' names and words; without them jobs keep what the statistics need
};

// Every job of the store and the JSON files in `parts_folder` (none where it is empty or not there). Fails
// with the first job that cannot be read. Recordings and pictures are files of their own and stay beside the
// shop file.
Result<std::string> export_shop(JobStore& store, const std::filesystem::path& parts_folder,
                                const ShopExportOptions& options = {});

struct ShopImport {
    int jobs = 0;   // taken over
    int known = 0;  // left as they are: the store has a job of that id
    int files = 0;  // of parts, taken over
    int kept = 0;   // files that were there already and stay
};

// Takes an export over: jobs whose id is not there, files of parts that are not there. Refuses a text that is
// no export, and a job that cannot be read, before anything is written. Importing an export of all into an
// empty store and exporting again gives the same text.
Result<ShopImport> import_shop(const std::string& text, const std::string& file, JobStore& store,
                               const std::filesystem::path& parts_folder);

// What makes a customer known is taken out of a job: name, words, what was brought, notes and findings in
// words.
void remove_personal_data(Job& job);

}  // namespace eh
