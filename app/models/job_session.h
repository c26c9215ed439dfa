// SPDX-License-Identifier: GPL-3.0-or-later
// The job on the bench: every edit is an undoable command, and every change is on disk before the next.
#pragma once

#include <QObject>
#include <QStringList>
#include <QTimer>
#include <QUndoStack>
#include <functional>
#include <map>
#include <memory>

#include "core/job/job.h"
#include "store/job_store.h"

namespace eh {

class JobSession : public QObject {
    Q_OBJECT
  public:
    explicit JobSession(QObject* parent = nullptr);

    // The store that changes go to; nullptr keeps the job in memory alone. What could not be saved into the
    // store before is given up: ask unsaved() first.
    void setStore(JobStore* store);

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

    // Adds a reading under a fresh id; gives the id back. `also` changes the job in the same step.
    using AlsoChange = std::function<void(Job& job, const std::string& reading_id)>;
    std::string addReading(Reading reading, const AlsoChange& also = {});

    // Jobs whose last state is not on disk, because the disk or the server did not take it: by number, or id
    // where they have none. They are kept here, whatever job is opened meanwhile, and saved again with every
    // edit and every few seconds.
    [[nodiscard]] QStringList unsaved() const;
    // As it is kept here; nullptr when that job is on disk.
    [[nodiscard]] const Job* unsavedJob(const std::string& id) const;
    [[nodiscard]] std::vector<Job> unsavedJobs() const;
    // Tries once more now; whether all is on disk.
    bool saveAgain();

  signals:
    void unsavedChanged();
    void opened();
    void changed();  // the job differs from before, by an edit, an undo or a redo
    void closed();
    void trouble(const QString& sentence);

  private:
    friend class EditJobCommand;
    void put(const Job& job);
    Outcome save(const Job& job);

    JobStore* store_ = nullptr;
    QUndoStack undo_;
    Job job_;
    bool has_job_ = false;
    std::map<JobId, Job> unsaved_;
    QTimer try_again_;
};

}  // namespace eh
