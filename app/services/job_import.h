// SPDX-License-Identifier: GPL-3.0-or-later
// Jobs that come in from files: read beside the window, compared with what the shop has of the same job, and
// kept. One after the other, in the order in which they were given.
#pragma once

#include <QObject>
#include <deque>

#include "app/services/job_repository.h"
#include "app/services/latest_task.h"
#include "core/job/job_merge.h"

namespace eh {

enum class ImportChoice { keep, take, copy, cancel };

class JobImport : public QObject {
    Q_OBJECT
  public:
    // Asked where the shop has the job already, and other than the file says.
    using Ask = std::function<ImportChoice(const Job& known, const std::vector<std::string>& differences)>;
    // The job as it stands in the shop now; nullopt where the user gave it up.
    using Done = std::function<void(const Result<std::optional<Job>>& job)>;

    explicit JobImport(JobRepository& repository, QObject* parent = nullptr);
    void setAsk(Ask ask) { ask_ = std::move(ask); }

    void start(const QString& file, Done done);
    static JobId freshId();

  private:
    struct Entry {
        QString file;
        Done done;
    };
    void next();
    void compare(const Job& job);
    void settle(const Result<Job>& known, const Job& file);
    // What the shop's state and the file's become together; nullopt when the import is given up.
    std::optional<Job> meet(const Job& known, const Job& file);
    void end(const Result<std::optional<Job>>& job);

    JobRepository& repository_;
    Ask ask_;
    std::deque<Entry> entries_;  // the first is being worked on
    LatestTask<Result<Job>> reading_;
    Asking known_;
};

}  // namespace eh
