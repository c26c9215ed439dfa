// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/files.h"

#include <algorithm>
#include <fstream>

namespace eh {

Result<std::string> read_text_file(const std::filesystem::path& path, std::size_t limit_bytes) {
    std::error_code problem;
    if (std::filesystem::is_directory(path, problem))
        return refused("this is a folder; name a file", path.string());
    std::ifstream file(path, std::ios::binary);
    if (!file)
        return Error{ErrorKind::not_found, "the file cannot be opened; check its name and rights",
                     path.string()};
    const auto size = std::filesystem::file_size(path, problem);
    if (!problem && size > limit_bytes)
        return refused("the file is larger than anything this program writes", path.string());
    std::string text;
    if (!problem && std::filesystem::is_regular_file(path, problem)) {
        text.resize(size);
        file.read(text.data(), static_cast<std::streamsize>(size));
        text.resize(static_cast<std::size_t>(file.gcount()));
    } else {
        // A pipe or a device may go on for ever.
        std::string piece(1U << 16U, '\0');
        while (text.size() <= limit_bytes &&
               (file.read(piece.data(), static_cast<std::streamsize>(piece.size())) || file.gcount() > 0))
            text.append(piece, 0, static_cast<std::size_t>(file.gcount()));
        if (text.size() > limit_bytes)
            return refused("there is more here than anything this program writes", path.string());
    }
    if (file.bad())
        return Error{ErrorKind::unavailable, "the file could not be read to its end", path.string()};
    return text;
}

Result<std::unique_ptr<std::istream>> open_for_reading(const std::filesystem::path& path) {
    std::error_code problem;
    const auto found = std::filesystem::status(path, problem);
    if (std::filesystem::is_directory(found))
        return refused("this is a folder; name a file", path.string());
    if (std::filesystem::exists(found) && !std::filesystem::is_regular_file(found))
        return refused(
            "this is a pipe or a device; the file is read more than once, so name a file, or - for "
            "standard input on the command line",
            path.string());
    std::unique_ptr<std::istream> file = std::make_unique<std::ifstream>(path, std::ios::binary);
    if (!*file)
        return Error{ErrorKind::not_found, "the file cannot be opened; check its name and rights",
                     path.string()};
    return file;
}

Outcome may_be_written(const std::filesystem::path& path) {
    std::error_code problem;
    const auto found = std::filesystem::status(path, problem);
    if (std::filesystem::exists(found) && !std::filesystem::is_regular_file(found))
        return refused("this is a folder or a device, not a file to be written; name another file",
                       path.string());
    return Done{};
}

Outcome write_text_file(const std::filesystem::path& path, std::string_view text) {
    if (auto may = may_be_written(path); !may)
        return may;
    // A link is followed, so that it goes on pointing at the file.
    std::error_code problem;
    const std::filesystem::path target =
        std::filesystem::is_symlink(path, problem) ? std::filesystem::canonical(path, problem) : path;
    const std::filesystem::path part = target.string() + ".part";
    const auto fail = [&] {
        std::error_code ignored;
        std::filesystem::remove(part, ignored);
        return Error{ErrorKind::unavailable,
                     "the file could not be written; check the folder's rights, and whether the disk is full",
                     path.string()};
    };
    {
        std::ofstream out(part, std::ios::binary | std::ios::trunc);
        out.write(text.data(), static_cast<std::streamsize>(text.size()));
        out.close();
        if (!out)
            return fail();
    }
    std::filesystem::rename(part, target, problem);
    if (problem)
        return fail();
    return Done{};
}

std::vector<std::filesystem::path> files_of(const std::filesystem::path& folder, const std::string& ending) {
    std::vector<std::filesystem::path> files;
    std::error_code problem;
    for (const auto& entry : std::filesystem::directory_iterator(folder, problem)) {
        if (entry.path().extension() == ending)
            files.push_back(entry.path());
    }
    std::sort(files.begin(), files.end());
    return files;
}

}  // namespace eh
