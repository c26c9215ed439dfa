// SPDX-License-Identifier: GPL-3.0-or-later
// What the window does so that no entry is lost: jobs that come in from files, what the disk did not take.
#include <QFileDialog>
#include <QFileInfo>
#include <QUuid>

#include "app/format/text.h"
#include "app/main_window.h"
#include "core/base/files.h"
#include "core/base/private_files.h"
#include "core/job/job_json.h"
#include "core/job/job_merge.h"

namespace eh {

Outcome MainWindow::importJob(const QString& file) {
    const auto text = read_text_file(file.toStdString());
    if (!text)
        return text.error();
    auto parsed = parse_job(*text, QFileInfo(file).fileName().toStdString());
    if (!parsed)
        return parsed.error();
    Job job = std::move(parsed).value();
    // A later try would put the state that waits for the disk over the imported one.
    if (!session_.saveAgain())
        return Error{ErrorKind::unavailable,
                     "some entries are not on disk yet; make room on the disk first, then import",
                     {}};
    if (store_ != nullptr) {
        if (const auto known = store_->load(job.id)) {
            const auto met = meet(*known, job);
            if (!met)
                return Done{};
            job = *met;
        } else if (known.error().kind != ErrorKind::not_found) {
            return known.error();
        }
        if (auto saved = store_->save(job); !saved)
            return saved;
    }
    recording_.openJob(job.id, feed_.now_s());
    session_.open(job);
    go(BenchStation);
    sayUnknownFacts();
    return Done{};
}

std::optional<Job> MainWindow::meet(const Job& known, const Job& file) {
    const auto what = differences(known, file);
    if (what.empty())
        return known;
    switch (ask_import_(known, what)) {
        case ImportChoice::keep:
            return with_readings_of(known, file);
        case ImportChoice::take:
            return with_readings_of(file, known);
        case ImportChoice::copy: {
            Job copy = file;
            copy.id = freshJobId();
            copy.ticket.number = tr("%1 copy").arg(format::qt(file.ticket.number)).trimmed().toStdString();
            return copy;
        }
        case ImportChoice::cancel:
            break;
    }
    return std::nullopt;
}

JobId MainWindow::freshJobId() {
    return JobId::made(QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString());
}

// Stands until it is mended, beside whatever else is said.
void MainWindow::showUnsaved() {
    const QStringList jobs = session_.unsaved();
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
    shop_parts_.flush();
    return session_.saveAgain() && shop_parts_.unsaved().isEmpty();
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
    for (const Job& job : session_.unsavedJobs()) {
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
