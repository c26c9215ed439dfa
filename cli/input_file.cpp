// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/input_file.h"

#include <QDir>
#include <array>
#include <iostream>

namespace eh::cli {

Result<std::string> InputFile::path(const std::string& name) {
    if (name != "-")
        return name;
    constexpr std::size_t piece_bytes = 1U << 20U;
    constexpr qint64 most_bytes = qint64{4} << 30;
    spool_.setFileTemplate(QDir::tempPath() + "/standard-input-XXXXXX");
    const Error full{ErrorKind::unavailable,
                     "what comes in cannot be kept in a temporary file; is the disk full?", "standard input"};
    if (!spool_.open())
        return full;
    std::string piece(piece_bytes, '\0');
    while (std::cin.read(piece.data(), static_cast<std::streamsize>(piece.size())) || std::cin.gcount() > 0) {
        if (spool_.write(piece.data(), std::cin.gcount()) != std::cin.gcount())
            return full;
        if (spool_.size() > most_bytes)
            return refused("this is longer than any capture; name a file instead", "standard input");
    }
    if (!spool_.flush())
        return full;
    return spool_.fileName().toStdString();
}

}  // namespace eh::cli
