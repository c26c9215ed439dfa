// SPDX-License-Identifier: GPL-3.0-or-later
// What the window does so that no entry is lost: jobs that come in from files, what the disk did not take.
#include <QFileDialog>
#include <QStringList>

#include "app/format/text.h"
#include "app/main_window.h"
#include "core/base/files.h"
#include "core/base/private_files.h"
#include "core/job/job_json.h"

namespace eh {

void MainWindow::importJob(const QString& file, Told done) {
    import_.start(file, [this, done = std::move(done)](const Result<std::optional<Job>>& job) {
        if (job && job->has_value()) {
            opening_.drop();
            showJob(**job, BenchStation);
        }
        done(job ? Outcome(Done{}) : Outcome(job.error()));
    });
}

// Stands until it is mended, beside whatever else is said.
void MainWindow::showUnsaved() {
    const QStringList jobs = repository_.unsaved();
    const QStringList lists = shop_parts_.unsaved();
    QStringList what;
    if (!jobs.isEmpty())
        what << tr("job %1").arg(jobs.join(", "));
    if (!lists.isEmpty())
        what << lists.join(", ");
    unsaved_->setText(tr("Not on disk: %1. Trying again.").arg(what.join("; ")));
    unsaved_->setVisible(!what.isEmpty());
}

bool MainWindow::allSaved() {
    constexpr std::chrono::milliseconds patience{3000};
    shop_parts_.flush();
    return repository_.waitUntilSaved(patience) && shop_parts_.unsaved().isEmpty();
}

bool MainWindow::mayLeave() {
    while (!allSaved()) {
        switch (ask_unsaved_(unsaved_->text())) {
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
    for (const Job& job : repository_.waiting()) {
        if (auto written =
                write_text_file(inside(folder.toStdString(), job.id, ".hound.json"), job_to_text(job));
            !written)
            return written;
    }
    return Done{};
}

void MainWindow::mendRights(const std::filesystem::path& shop) {
    mending_.start(
        [shop](const TaskControl&) {
            for (const char* beside : {".traces", ".parts", ".photos"})
                make_private(shop.string() + beside);
            return true;
        },
        [](bool) {});
}

}  // namespace eh
