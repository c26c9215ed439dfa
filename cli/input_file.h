// SPDX-License-Identifier: GPL-3.0-or-later
// A file that a command reads, where "-" stands for standard input.
#pragma once

#include <QTemporaryFile>
#include <string>

#include "core/base/result.h"

namespace eh::cli {

// Readers of captures and boards go back in their file, which a pipe cannot: standard input is laid into a
// file of its own first, that goes with this object.
class InputFile {
  public:
    // Where to read what `name` means. Refuses what cannot be laid down: an empty disk quota, 4 GB or more.
    Result<std::string> path(const std::string& name);

  private:
    QTemporaryFile spool_;
};

}  // namespace eh::cli
