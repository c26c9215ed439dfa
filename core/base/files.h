// Small file helper of the core.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace eh {

// The whole content of a file of at most `limit_bytes`; larger or unreadable files are refused.
Result<std::string> read_text_file(const std::filesystem::path& path, std::size_t limit_bytes = 64u << 20);

// The files of a folder with this ending (".json"), by name; none where there is no such folder.
std::vector<std::filesystem::path> files_of(const std::filesystem::path& folder, const std::string& ending);

}  // namespace eh
