// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/photo_folder.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QImageReader>
#include <QSaveFile>
#include <QUuid>
#include "core/base/text.h"

namespace eh {
namespace {

constexpr qint64 largest_bytes = 150LL << 20;
constexpr int longest_side = 1600;
constexpr int jpeg_quality = 85;
constexpr int most_megabytes_decoded = 512;

}  // namespace

QString PhotoFolder::path(const JobId& job, const FileName& file) const {
    return QString::fromStdString(inside(inside(base_.toStdString(), job), file).string());
}

Result<FileName> PhotoFolder::take(const QString& source, const JobId& job) const {
    const QFileInfo info(source);
    const std::string place = info.fileName().toStdString();
    if (base_.isEmpty())
        return Error{ErrorKind::unavailable, "no shop is open that could keep the picture", place};
    if (!info.isFile())
        return Error{ErrorKind::not_found, "there is no such file", place};
    if (info.size() > largest_bytes)
        return refused(
            "a picture of " + integer_text(info.size() >> 20) +
                " MB is more than can be taken in; let the camera or an editor make it smaller than 150 MB",
            place);
    QImageReader reader(source);
    reader.setAutoTransform(true);
    // Set for this reader's process; the usual limit is for pictures from the network.
    QImageReader::setAllocationLimit(most_megabytes_decoded);
    const QSize size = reader.size();
    if (size.isValid() && std::max(size.width(), size.height()) > longest_side)
        reader.setScaledSize(size.scaled(longest_side, longest_side, Qt::KeepAspectRatio));
    QImage image = reader.read();
    if (image.isNull())
        return refused("this is no picture that can be read (" + reader.errorString().toStdString() + ")",
                       place);
    if (std::max(image.width(), image.height()) > longest_side)
        image = image.scaled(longest_side, longest_side, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    const FileName file =
        FileName::made(QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString() + ".jpg");
    QDir().mkpath(QFileInfo(path(job, file)).path());
    QSaveFile out(path(job, file));
    if (!out.open(QIODevice::WriteOnly) || !image.save(&out, "JPEG", jpeg_quality) || !out.commit())
        return Error{ErrorKind::unavailable,
                     "the picture could not be written: " + out.errorString().toStdString(),
                     path(job, file).toStdString()};
    return file;
}

}  // namespace eh
