// SPDX-License-Identifier: GPL-3.0-or-later
// What the window does so that no entry is lost: jobs that come in from files, what the disk did not take.
#include <QFileDialog>

#include "app/format/text.h"
#include "app/main_window.h"
#include "core/base/files.h"
#include "core/job/job_json.h"

namespace eh {

void MainWindow::importJob(const QString& file, Told done) {
    workbench_.import.start(file, [this, done = std::move(done)](const Result<std::optional<Job>>& job) {
        if (job && job->has_value()) {
            opening_.drop();
            showJob(**job, BenchStation);
        }
        done(job ? Outcome(Done{}) : Outcome(job.error()));
    });
}

// Stands until it is mended, beside whatever else is said.
void MainWindow::showUnsaved() {
    unsaved_->setText(workbench_.unsaved());
    unsaved_->setVisible(!unsaved_->text().isEmpty());
}

bool MainWindow::mayLeave() {
    while (!workbench_.bringToDisk()) {
        switch (ask_unsaved_(workbench_.unsaved())) {
            case UnsavedChoice::try_again:
                break;
            case UnsavedChoice::keep_elsewhere:
                if (const Outcome kept = saveElsewhere(); kept)
                    return true;
                else
                    say(format::qt(kept.error().text()));
                break;
            case UnsavedChoice::lose:
                return true;
            case UnsavedChoice::stay:
                return false;
        }
    }
    return true;
}

Outcome MainWindow::saveElsewhere() {
    const QString folder = QFileDialog::getExistingDirectory(this, tr("Write the jobs into this folder"));
    if (folder.isEmpty())
        return Error{ErrorKind::unavailable, "no folder was chosen", {}};
    for (const Job& job : workbench_.repository.waiting()) {
        if (auto written =
                write_text_file(inside(folder.toStdString(), job.id, ".hound.json"), job_to_text(job));
            !written)
            return written;
    }
    return Done{};
}

}  // namespace eh
