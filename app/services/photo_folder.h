// SPDX-License-Identifier: GPL-3.0-or-later
// The pictures of a job on disk: reduced when they come in, so that the shop's folder stays small.
#pragma once

#include <QImage>
#include <QString>

#include "core/base/identifier.h"
#include "core/base/result.h"

namespace eh {

class PhotoFolder {
  public:
    // Pictures of a job lie in `base`/ID.
    void setBase(const QString& base) { base_ = base; }
    [[nodiscard]] QString path(const JobId& job, const FileName& file) const;

    // Reads the picture at `source`, at most 1600 pixels along its longer side, and writes it as JPEG for
    // that job, under a name that no other picture has; gives the file's name. Refused with a sentence: files
    // above 150 MB, and what is no picture. Touches no widget: may run beside the window.
    [[nodiscard]] Result<FileName> take(const QString& source, const JobId& job) const;

  private:
    QString base_;
};

}  // namespace eh
