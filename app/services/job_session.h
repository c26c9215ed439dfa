// SPDX-License-Identifier: GPL-3.0-or-later
// The job on the bench: every edit is an undoable command, and every change goes to the shop.
#pragma once

#include <QObject>
#include <QUndoStack>
#include <functional>

#include "app/services/job_repository.h"
#include "core/job/job.h"

namespace eh {

class JobSession : public QObject {
    Q_OBJECT
  public:
    // Changes go to the repository, which must outlive the session; nullptr keeps the job in memory alone.
    explicit JobSession(JobRepository* repository = nullptr, QObject* parent = nullptr);

    void open(const Job& job);
    void close();
    // The open job as another side has left it: shown from now on, what was done here before is not undone
    // any more, and nothing is written.
    void takeOver(const Job& job);
    // What the job is judged by is another than before (its kind of machine was described anew): shown anew,
    // the job itself is as it was. Requires hasJob().
    void reconsider() { emit changed(); }
    [[nodiscard]] bool hasJob() const { return has_job_; }
    [[nodiscard]] const Job& job() const { return job_; }
    [[nodiscard]] QUndoStack& undoStack() { return undo_; }

    // Changes the job through one undoable command. Edits in a row with the same non-empty `merge` key
    // (typing in one field) become one. An edit that changes nothing leaves no trace. Requires hasJob().
    void edit(const QString& text, const std::function<void(Job&)>& change, const QString& merge = {});

    // Changes the job without a step to undo: for what the program works out from the job as it stands. A
    // change that changes nothing writes nothing. Requires hasJob().
    void amend(const std::function<void(Job&)>& change);

    // Adds a reading under a fresh id; gives the id back. `also` changes the job in the same step.
    using AlsoChange = std::function<void(Job& job, const std::string& reading_id)>;
    std::string addReading(Reading reading, const AlsoChange& also = {});

  signals:
    void opened();
    void changed();  // the job differs from before, by an edit, an undo or a redo
    void closed();

  private:
    friend class EditJobCommand;
    void put(const Job& job, JobRepository::Pace pace);

    JobRepository* repository_;
    QUndoStack undo_;
    Job job_;
    bool has_job_ = false;
};

}  // namespace eh
