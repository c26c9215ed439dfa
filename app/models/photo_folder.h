// The pictures of a job on disk: reduced when they come in, so that the shop's folder stays small.
#pragma once

#include <QImage>
#include <QString>

#include "core/base/result.h"

namespace eh {

class PhotoFolder {
  public:
    // Pictures of a job lie in `base`/ID.
    void setBase(const QString& base) { base_ = base; }
    [[nodiscard]] QString path(const std::string& job, const std::string& file) const;

    // Reads the picture at `source`, at most 1600 pixels along its longer side, and writes it as JPEG under
    // `name` for that job; gives the file's name. Refused with a sentence: files above 150 MB, and what is no
    // picture. Touches no widget: may run beside the window.
    [[nodiscard]] Result<std::string> take(const QString& source, const std::string& job,
                                           const std::string& name) const;

  private:
    QString base_;
};

}  // namespace eh
