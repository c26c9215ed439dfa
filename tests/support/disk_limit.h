// SPDX-License-Identifier: GPL-3.0-or-later
// A disk that is full, for this process alone.
#pragma once

#include <sys/resource.h>
#include <csignal>

namespace eh::test {

// As long as it lives no file of this process grows beyond so many bytes: writing there fails.
class FilesEndAt {
  public:
    explicit FilesEndAt(rlim_t bytes) : before_signal_(std::signal(SIGXFSZ, SIG_IGN)) {
        getrlimit(RLIMIT_FSIZE, &before_);
        const rlimit limit{bytes, before_.rlim_max};
        setrlimit(RLIMIT_FSIZE, &limit);
    }
    ~FilesEndAt() {
        setrlimit(RLIMIT_FSIZE, &before_);
        std::signal(SIGXFSZ, before_signal_);
    }
    FilesEndAt(const FilesEndAt&) = delete;
    FilesEndAt& operator=(const FilesEndAt&) = delete;

  private:
    rlimit before_{};
    void (*before_signal_)(int);
};

}  // namespace eh::test
