// SPDX-License-Identifier: GPL-3.0-or-later
// One edit of the job, as the undo stack keeps it.
#pragma once

#include <QUndoCommand>

#include "core/job/job.h"

namespace eh {

class JobSession;

class EditJobCommand : public QUndoCommand {
  public:
    EditJobCommand(JobSession& session, const QString& text, Job before, Job after, const QString& merge);

    void undo() override;
    void redo() override;
    [[nodiscard]] int id() const override;
    bool mergeWith(const QUndoCommand* other) override;

  private:
    JobSession& session_;
    Job before_;
    Job after_;
    QString merge_;
};

}  // namespace eh
