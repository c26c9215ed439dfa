// SPDX-License-Identifier: GPL-3.0-or-later
// The shop's jobs: what every place that keeps them can do. One file beside the program (store/file_store.h)
// or a server that several benches share (store/server_store.h).
//
// What save() has returned Done for survives the end of the process at any moment. One store belongs to one
// thread.
#pragma once

#include <cstdint>
#include <filesystem>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/job/job.h"
#include "core/shop/shop_rates.h"

namespace eh {

// A line of the shelf.
struct JobSummary {
    std::string id;
    std::string number;
    std::string customer;
    std::string machine;
    std::string technician;
    JobStage stage = JobStage::intake;
    WaitState waits;
    std::string wait_note;
    std::int64_t created_ms = 0;
    std::int64_t updated_ms = 0;
    std::string cure_block;  // what cured, where the proof tells; else empty
    Work cure_work = Work::none;
    friend bool operator==(const JobSummary&, const JobSummary&) = default;
};

// An earlier job like the one that was asked about.
struct SimilarJob {
    JobSummary job;
    double share = 0.0;  // 0 to 1, see core/shop/similar_jobs.h
    int alike = 0;
    int compared = 0;
};

// What has happened since the store was asked last.
struct StoreNews {
    bool changed = false;  // another window or bench has written
    bool away = false;     // the server does not answer; what is saved is kept here
    int unsent = 0;        // jobs that are kept here until it does
    std::vector<std::string>
        conflicts;  // ids of jobs that were sent late and had been changed there meanwhile
};

class JobStore {
  public:
    // Opens or makes a shop file: see FileStore::open().
    static Result<std::unique_ptr<JobStore>> open(const std::filesystem::path& file);

    JobStore() = default;
    virtual ~JobStore() = default;
    JobStore(const JobStore&) = delete;
    JobStore& operator=(const JobStore&) = delete;

    // The shop file; of a server, the file of this bench that keeps what could not be sent. Recordings,
    // pictures and parts stand beside it.
    [[nodiscard]] virtual const std::filesystem::path& file() const = 0;
    // For people: the file's path, or the server's address.
    [[nodiscard]] virtual std::string place() const = 0;

    // Every job, most recently changed first.
    virtual Result<std::vector<JobSummary>> list() = 0;
    // Open jobs that wait for this (all open ones when nullopt), those due first, then the most recently
    // changed. For WaitsFor::nothing the closed ones, most recently changed first. At most `most`.
    virtual Result<std::vector<JobSummary>> shelf(std::optional<WaitsFor> waits, int most) = 0;
    // How many jobs wait for what.
    virtual Result<std::map<WaitsFor, int>> counts() = 0;
    // Jobs that have all of these words or their beginnings somewhere (core/shop/search_text.h), newest
    // first, at most `most`. Case and accents do not matter. No words: no jobs.
    virtual Result<std::vector<JobSummary>> search(const std::string& words, int most) = 0;
    // Proven jobs of the same topology whose readings were most like this one's, best first.
    virtual Result<std::vector<SimilarJob>> similar(const Job& job, int most) = 0;
    // What cured, summed over the proven jobs.
    virtual Result<std::vector<ConfirmedRepair>> repairs() = 0;
    // How many jobs, open or closed, are on machines of this topology.
    virtual Result<int> jobs_on(const std::string& topology) = 0;

    virtual Result<Job> load(const std::string& id) = 0;
    // As load(), but not remembered as seen: for looking at a job that is not going to be saved.
    virtual Result<Job> peek(const std::string& id) = 0;
    // As load(), without readings: for statistics over many jobs. Not remembered as seen: saving it is a
    // mistake.
    virtual Result<std::vector<Job>> heads(JobStage from) = 0;
    // Writes what differs from what was last written or loaded here. When another window has changed the job
    // since, its readings are kept, this side's are added, and the error says so (ErrorKind::conflict);
    // load() again.
    virtual Outcome save(const Job& job) = 0;
    // Adds jobs that are not there yet: all of them, or none where one cannot be written.
    virtual Outcome add_all(const std::vector<Job>& jobs) = 0;
    virtual Outcome remove(const std::string& id) = 0;
    // Whether the job stands in the store as this side saw it last. True where the store cannot be asked.
    virtual bool is_current(const std::string& id) = 0;

    // Another view of the same shop, to be called and used in a thread of its own; of a server that is away,
    // what is kept here.
    using Opener = std::function<Result<std::unique_ptr<JobStore>>()>;
    [[nodiscard]] virtual Opener another() const = 0;

    // Cheap enough to be asked every second.
    virtual StoreNews news() = 0;

    // A complete copy as a shop file. An existing file of that name is replaced.
    virtual Outcome backup_to(const std::filesystem::path& file) = 0;
};

}  // namespace eh
