// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/edit_job_command.h"

#include "app/services/job_session.h"

namespace eh {

namespace {
constexpr int mergeable_id = 1;
}

EditJobCommand::EditJobCommand(JobSession& session, const QString& text, Job before, Job after,
                               const QString& merge)
    : QUndoCommand(text),
      session_(session),
      before_(std::move(before)),
      after_(std::move(after)),
      merge_(merge) {}

void EditJobCommand::undo() {
    session_.put(before_, JobRepository::Pace::at_once);
}

void EditJobCommand::redo() {
    session_.put(after_,
                 merge_.isEmpty() ? JobRepository::Pace::at_once : JobRepository::Pace::when_fingers_rest);
}

int EditJobCommand::id() const {
    return merge_.isEmpty() ? -1 : mergeable_id;
}

bool EditJobCommand::mergeWith(const QUndoCommand* other) {
    const auto* next = dynamic_cast<const EditJobCommand*>(other);
    if (next == nullptr || next->merge_ != merge_)
        return false;
    after_ = next->after_;
    return true;
}

}  // namespace eh
