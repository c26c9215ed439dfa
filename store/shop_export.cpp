// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/shop_export.h"

#include <algorithm>
#include <nlohmann/json.hpp>
#include <set>

#include "core/base/files.h"
#include "core/base/json_reader.h"
#include "core/base/json_text.h"
#include "core/job/job_json.h"

namespace eh {

namespace fs = std::filesystem;
using nlohmann::json;

namespace {

constexpr std::size_t largest_file = std::size_t{1} << 30;
// What a shop shares beside its jobs; nothing else of the folder is taken along, and nothing else is written.
const std::set<std::string>& shared_files() {
    static const std::set<std::string> names{"stock.json", "donor-results.json", "heat-logs.json",
                                             "stopgaps.json", "footprints.json"};
    return names;
}

}  // namespace

void remove_personal_data(Job& job) {
    job.ticket.customer.clear();
    job.ticket.claim.clear();
    job.ticket.brought.clear();
    job.findings.clear();
    job.handover.found.clear();
    job.handover.done.clear();
    job.handover.advice.clear();
    job.handover.unproven_reason.clear();
    job.handover.follow_up.clear();
    job.waiting.note.clear();
    job.technician.clear();
    job.rework.photos.clear();
    for (Act& act : job.acts)
        act.note.clear();
    for (Reading& reading : job.readings)
        reading.note.clear();
    for (OpeningItem& item : job.rework.opening)
        item.note.clear();
}

Result<std::string> export_shop(JobStore& store, const fs::path& parts_folder,
                                const ShopExportOptions& options) {
    auto list = store.list();
    if (!list)
        return list.error();
    std::vector<JobSummary> jobs = std::move(list).value();
    // By id, so that two exports of the same shop are the same text.
    std::sort(jobs.begin(), jobs.end(), [](const JobSummary& a, const JobSummary& b) { return a.id < b.id; });
    json written = json::array();
    for (const JobSummary& summary : jobs) {
        auto loaded = store.load(summary.id);
        if (!loaded)
            return loaded.error();
        Job job = std::move(loaded).value();
        if (!options.personal_data)
            remove_personal_data(job);
        written.push_back(json::parse(job_to_text(job)));
    }
    json parts = json::object();
    std::error_code none;
    for (const std::string& name : shared_files()) {
        if (parts_folder.empty() || !fs::exists(parts_folder / name, none))
            continue;
        const auto text = read_text_file(parts_folder / name, largest_file);
        if (!text)
            return text.error();
        const json content = json::parse(*text, nullptr, false);
        if (content.is_discarded())
            return refused("this file of the shop is no JSON; repair or remove it, then export again",
                           (parts_folder / name).string());
        parts[name] = content;
    }
    return json_text(
               {{"format", "eager-hound.shop/1"}, {"jobs", std::move(written)}, {"parts", std::move(parts)}},
               1) +
           "\n";
}

Result<ShopImport> import_shop(const std::string& text, const std::string& file, JobStore& store,
                               const fs::path& parts_folder) {
    struct Content {
        std::vector<Job> jobs;
        std::vector<std::pair<std::string, std::string>> files;
    };
    auto read = read_json<Result<Content>>(text, file, [&](const JsonReader& root) -> Result<Content> {
        root.check_format("eager-hound.shop", 1);
        Content content;
        for (const JsonReader& item : root.items("jobs")) {
            auto job = parse_job(json_text(item.raw()), item.path());
            if (!job)
                return job.error();
            content.jobs.push_back(std::move(job).value());
        }
        for (const auto& [name, value] : root.at("parts").members()) {
            if (shared_files().count(name) == 0)
                value.refuse("“" + name + "” is no file that a shop shares");
            content.files.emplace_back(name, json_text(value.raw(), 1) + "\n");
        }
        return content;
    });
    if (!read)
        return read.error();
    if (!*read)
        return read->error();
    const auto list = store.list();
    if (!list)
        return list.error();
    std::set<std::string> known;
    for (const JobSummary& summary : *list)
        known.insert(summary.id);
    ShopImport done;
    std::vector<Job> fresh;
    for (const Job& job : (*read)->jobs) {
        if (known.insert(job.id).second)
            fresh.push_back(job);
        else
            ++done.known;
    }
    if (auto added = store.add_all(fresh); !added)
        return added.error();
    done.jobs = static_cast<int>(fresh.size());
    std::error_code problem;
    if (!(*read)->files.empty() && !parts_folder.empty())
        fs::create_directories(parts_folder, problem);
    for (const auto& [name, content] : (*read)->files) {
        if (parts_folder.empty() || fs::exists(parts_folder / name, problem)) {
            ++done.kept;
            continue;
        }
        if (auto wrote = write_text_file(parts_folder / name, content); !wrote)
            return wrote.error();
        ++done.files;
    }
    return done;
}

}  // namespace eh
