// SPDX-License-Identifier: GPL-3.0-or-later
// The pictures of a repair: shown as a strip, taken over from files, dropped in.
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QMimeData>

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
    coming_.push_back({file, photo, session_.job().id});
    if (!taking_.running())
        takeNextPicture();
}

void StepsPanel::takeNextPicture() {
    const Coming next = coming_.front();
    coming_.pop_front();
    taking_.start([folder = photos_, next](const TaskControl&) { return folder.take(next.file, next.job); },
                  [this, next](const Result<FileName>& taken) {
                      pictureTaken(next, taken);
                      if (!coming_.empty())
                          takeNextPicture();
                  });
}

void StepsPanel::pictureTaken(Coming picture, const Result<FileName>& taken) {
    if (!taken) {
        emit said(format::qt(taken.error().text()));
        return;
    }
    // Another job may be open by now; the picture belongs to the one it was dropped on.
    if (!session_.hasJob() || session_.job().id != picture.job) {
        QFile::remove(photos_.path(picture.job, *taken));
        emit said(
            tr("The picture is not kept: its job was closed meanwhile. Open the job and attach it again."));
        return;
    }
    // Only now: others may have come meanwhile, and each takes an id of its own.
    picture.photo.id = fresh_id(session_.job(), "p");
    picture.photo.file = *taken;
    session_.edit(tr("Picture"), [&](Job& changed) { changed.rework.photos.push_back(picture.photo); });
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
