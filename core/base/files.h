// SPDX-License-Identifier: GPL-3.0-or-later
// Small file helper of the core.
#pragma once

#include <filesystem>
#include <istream>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"

namespace eh {

// The whole content of a file of at most `limit_bytes`; larger or unreadable files are refused.
Result<std::string> read_text_file(const std::filesystem::path& path, std::size_t limit_bytes = 64u << 20);

// A file to be read piece by piece. A folder and a file that is not there or may not be read get their
// sentence; errors name the whole path.
Result<std::unique_ptr<std::istream>> open_for_reading(const std::filesystem::path& path);

// Refuses a place that holds something other than an ordinary file: a device, a pipe, a folder. Writing there
// beside and renaming would take its place.
Outcome may_be_written(const std::filesystem::path& path);

// Writes a file in one piece: beside it under another name first, then renamed, so that at any moment the old
// or the new content is there whole. Refuses as may_be_written(); says so when the disk does not take it.
Outcome write_text_file(const std::filesystem::path& path, std::string_view text);

// The files of a folder with this ending (".json"), by name; none where there is no such folder.
std::vector<std::filesystem::path> files_of(const std::filesystem::path& folder, const std::string& ending);

}  // namespace eh
