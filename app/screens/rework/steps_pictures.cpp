// SPDX-License-Identifier: GPL-3.0-or-later
// The pictures of a repair: shown as a strip, taken over from files, dropped in.
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFutureWatcher>
#include <QMimeData>
#include <QtConcurrent>

#include "app/format/text.h"
#include "app/screens/rework/steps_panel.h"
#include "app/widgets/form_parts.h"

namespace eh {
namespace {

constexpr int thumbnail_height = 74;
constexpr int most_thumbnails = 4;

}  // namespace

void StepsPanel::showPhotos() {
    QString strip;
    const auto& job = session_.hasJob() ? session_.job() : Job{};
    const auto& photos = job.rework.photos;
    const std::size_t from = photos.size() > most_thumbnails ? photos.size() - most_thumbnails : 0;
    for (std::size_t i = from; i < photos.size(); ++i)
        strip += QStringLiteral("<img src=\"%1\" height=\"%2\"/> ")
                     .arg(photos_.path(job.id, photos[i].file).toHtmlEscaped())
                     .arg(thumbnail_height);
    form::show_html(photo_strip_, strip.isEmpty()
                                      ? tr("Drop a picture here, or attach one: it stays with the step.")
                                      : strip);
    photo_strip_->setToolTip(photos.size() == 1 ? tr("one picture") : tr("%1 pictures").arg(photos.size()));
}

void StepsPanel::choosePhoto() {
    const QString file = QFileDialog::getOpenFileName(this, tr("Attach a picture"), {},
                                                      tr("Pictures (*.jpg *.jpeg *.png *.webp *.bmp)"));
    if (!file.isEmpty())
        attach(file);
}

void StepsPanel::attach(const QString& file) {
    if (!session_.hasJob())
        return;
    const RepairStep* step = model_->step(steps_->currentIndex().row());
    StepPhoto photo;
    photo.step = step == nullptr ? std::string() : step->id;
    photo.caption = step == nullptr ? std::string() : step->says;
    const JobId job = session_.job().id;
    auto* watcher = new QFutureWatcher<Result<FileName>>(this);
    connect(watcher, &QFutureWatcher<Result<FileName>>::finished, this,
            [this, watcher, photo, job]() mutable {
                const auto taken = watcher->result();
                watcher->deleteLater();
                if (!taken) {
                    emit said(format::qt(taken.error().text()));
                    return;
                }
                // Another job may be open by now; the picture belongs to the one it was dropped on.
                if (!session_.hasJob() || session_.job().id != job) {
                    QFile::remove(photos_.path(job, *taken));
                    emit said(
                        tr("The picture is not kept: its job was closed meanwhile. Open the job and "
                           "attach it again."));
                    return;
                }
                // Only now: several pictures may be on their way at once, and each takes an id of its own.
                photo.id = fresh_id(session_.job(), "p");
                photo.file = *taken;
                session_.edit(tr("Picture"), [&](Job& changed) { changed.rework.photos.push_back(photo); });
            });
    watcher->setFuture(QtConcurrent::run([folder = photos_, file, job] { return folder.take(file, job); }));
}

void StepsPanel::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls())
        event->acceptProposedAction();
}

void StepsPanel::dropEvent(QDropEvent* event) {
    for (const QUrl& url : event->mimeData()->urls())
        attach(url.toLocalFile());
}

}  // namespace eh
