// SPDX-License-Identifier: GPL-3.0-or-later
// The shop as one SQLite file: write-ahead log, everything in transactions.
#pragma once

#include <filesystem>
#include <memory>
#include <vector>

#include "store/sql_store.h"

namespace eh {

class FileStore : public SqlStore {
  public:
    // Opens or makes the file. A database of an older program is copied beside it, then brought forward. A
    // damaged file, or one of a newer program (ErrorKind::newer_version), is refused and not touched. A file
    // or folder that may only be read, or that another program holds locked, is refused in words. Once a day
    // a copy is laid beside the file. Checking and copying a large file would hold the start up: of those
    // only the head is looked at, and care_due() says that take_care_of() is still to be called.
    static Result<std::unique_ptr<FileStore>> open_file(const std::filesystem::path& file);

    Outcome backup_to(const std::filesystem::path& file) override;
    [[nodiscard]] Opener another() const override;

    [[nodiscard]] bool care_due() const { return care_due_; }

    // Only for tests: the file may grow to so many pages of 4 kB, as on a disk that is full.
    void limit_pages(int pages);

  private:
    FileStore(const QSqlDatabase& database, const std::filesystem::path& file);
    Outcome bring_forward(int version);
    Outcome lay_copy();
    Outcome lay_copy_of_the_day();

    bool care_due_ = false;
};

// Files up to this size are checked and copied when they are opened.
inline constexpr std::uintmax_t large_file_bytes = std::uintmax_t{24} << 20;

// Whether the last copy beside the file is more than a day old, or there is none.
bool copy_is_due(const std::filesystem::path& file);

// Checks a shop file from end to end, and lays the daily copy where it is due. Over connections of its own,
// so that it may run in a thread of its own while the file is in use.
Outcome take_care_of(const std::filesystem::path& file);

// The copies beside a database file, newest first.
std::vector<std::filesystem::path> backups_of(const std::filesystem::path& file);

// Puts a copy in the place of a database; what stood there is kept under another name beside it. Refuses a
// copy that is damaged or was written only in part, and leaves everything as it is.
Outcome restore_backup(const std::filesystem::path& backup, const std::filesystem::path& file);

// Gives a file that was written under another name its own; on failure the part is removed.
Outcome put_in_place(const std::filesystem::path& part, const std::filesystem::path& file);

}  // namespace eh
