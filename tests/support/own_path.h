// SPDX-License-Identifier: GPL-3.0-or-later
// Places for files of this process alone: the same test may run twice at a time, in two languages.
#pragma once

#include <unistd.h>

#include <filesystem>
#include <string>

namespace eh::test {

// In the folder for temporary files; nothing is made there yet. Requires a name of no folder.
inline std::filesystem::path own_path(const std::string& name) {
    return std::filesystem::temp_directory_path() / (std::to_string(::getpid()) + "-" + name);
}

}  // namespace eh::test
