// SPDX-License-Identifier: GPL-3.0-or-later
// What the program keeps of customers is for the user alone, whatever the umask of the session is.
#pragma once

#include <filesystem>

namespace eh {

// For every main(), before anything is written: files are made 0600, folders 0700. A file that somebody
// exports can be given to others afterwards; the other way round it is too late.
void keep_files_private();

// Takes rights of group and others off a file, or off a folder and everything below it. Links are not
// followed. What belongs to somebody else stays as it is. Never fails: a shop on a file system without rights
// is used all the same.
void make_private(const std::filesystem::path& path);

}  // namespace eh
