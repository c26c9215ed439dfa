// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/private_files.h"

#include <sys/stat.h>

namespace eh {

namespace fs = std::filesystem;

namespace {

constexpr fs::perms of_others = fs::perms::group_all | fs::perms::others_all;

void take_rights(const fs::path& path) {
    std::error_code problem;
    const fs::file_status found = fs::symlink_status(path, problem);
    if (!problem && !fs::is_symlink(found) && (found.permissions() & of_others) != fs::perms::none)
        fs::permissions(path, of_others, fs::perm_options::remove, problem);
}

}  // namespace

void keep_files_private() {
    ::umask(S_IRWXG | S_IRWXO);
}

void make_private(const fs::path& path) {
    take_rights(path);
    std::error_code problem;
    if (!fs::is_directory(fs::symlink_status(path, problem)))
        return;
    auto entry =
        fs::recursive_directory_iterator(path, fs::directory_options::skip_permission_denied, problem);
    for (; !problem && entry != fs::recursive_directory_iterator(); entry.increment(problem))
        take_rights(entry->path());
}

}  // namespace eh
