// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/kept_predictions.h"

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

#include "core/prediction/prediction_archive.h"
#include "core/prediction/prediction_cache.h"

namespace eh::test {
namespace {

PredictionCache cache() {
    // Builds before this one leave their files, until there are too many.
    constexpr std::uintmax_t limit_bytes = std::uintmax_t{512} << 20;
    return {kept_predictions(), this_program(), limit_bytes};
}

}  // namespace

std::filesystem::path kept_predictions() {
    std::error_code problem;
    return std::filesystem::path(EH_TEST_PREDICTIONS) /
           std::filesystem::read_symlink("/proc/self/exe", problem).filename();
}

void take_predictions(PredictionStore& store) {
    (void)cache().load(store);
}

void leave_predictions(PredictionStore& store) {
    std::error_code problem;
    std::filesystem::create_directories(kept_predictions(), problem);
    const int lock = ::open((kept_predictions() / "lock").c_str(), O_CREAT | O_RDWR | O_CLOEXEC, 0644);
    if (lock < 0)
        return;
    if (::flock(lock, LOCK_EX) == 0) {
        take_predictions(store);
        const auto on_disk = std::filesystem::file_size(cache().file_of(store), problem);
        if (problem || PredictionArchive::write(store).size() > on_disk)
            (void)cache().save(store);
    }
    ::close(lock);
}

}  // namespace eh::test
