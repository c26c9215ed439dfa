// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/prediction/prediction_cache.h"

#include <algorithm>
#include <fstream>
#include <system_error>
#include <vector>

#include "core/base/files.h"
#include "core/base/fingerprint.h"
#include "core/base/text.h"
#include "core/prediction/prediction_archive.h"

namespace eh {
namespace {

constexpr const char* ending = ".predictions";
// Of the content; stands in front of it.
constexpr std::size_t fingerprint_length = 32;

struct CacheFile {
    std::filesystem::path path;
    std::uintmax_t bytes = 0;
    std::filesystem::file_time_type written;
};

std::vector<CacheFile> files_oldest_first(const std::filesystem::path& directory) {
    std::vector<CacheFile> files;
    std::error_code problem;
    for (const auto& entry : std::filesystem::directory_iterator(directory, problem)) {
        if (entry.path().extension() == ending)
            files.push_back({entry.path(), entry.file_size(problem), entry.last_write_time(problem)});
    }
    std::sort(files.begin(), files.end(),
              [](const CacheFile& a, const CacheFile& b) { return a.written < b.written; });
    return files;
}

}  // namespace

std::filesystem::path PredictionCache::file_of(const PredictionStore& store) const {
    const std::string& knowledge = store.plan().knowledge().fingerprint;
    const std::string& topology = store.plan().topology().fingerprint;
    if (knowledge.empty() || topology.empty())
        return {};
    const PredictionOptions& options = store.options();
    const std::string name = knowledge + ' ' + topology + ' ' + integer_text(options.samples) + ' ' +
                             integer_text(options.seed) + ' ' +
                             machine_number("%.9g", options.tolerance_factor) + ' ' + program_;
    return directory_ / (fingerprint(name) + ending);
}

Outcome PredictionCache::load(PredictionStore& store) const {
    const auto path = file_of(store);
    std::error_code problem;
    if (path.empty() || !std::filesystem::exists(path, problem))
        return Error{ErrorKind::not_found, "no predictions are kept for this machine yet", path.string()};
    const auto text = read_text_file(path, limit_bytes_);
    if (!text)
        return text.error();
    const std::string_view bytes = *text;
    if (bytes.size() < fingerprint_length ||
        bytes.substr(0, fingerprint_length) != fingerprint(bytes.substr(fingerprint_length)))
        return refused("the predictions kept on disk are damaged; they are worked out anew", path.string());
    return PredictionArchive::read(bytes.substr(fingerprint_length), store);
}

Outcome PredictionCache::save(const PredictionStore& store) const {
    const auto path = file_of(store);
    if (path.empty())
        return refused("this machine's data did not come from files, so that its predictions are not kept");
    const std::string content = PredictionArchive::write(store);
    if (content.size() + fingerprint_length > limit_bytes_)
        return refused("the predictions take more room than they may on disk", path.string());
    const Error unwritable{ErrorKind::unavailable,
                           "the predictions cannot be kept on disk; check the folder's rights and room",
                           path.string()};
    std::error_code problem;
    std::filesystem::create_directories(directory_, problem);
    auto unfinished = path;
    unfinished += ".unfinished";
    {
        std::ofstream file(unfinished, std::ios::binary | std::ios::trunc);
        file << fingerprint(content) << content;
        file.close();
        if (!file) {
            std::filesystem::remove(unfinished, problem);
            return unwritable;
        }
    }
    std::filesystem::rename(unfinished, path, problem);
    if (problem)
        return unwritable;
    std::uintmax_t total = 0;
    auto files = files_oldest_first(directory_);
    for (const CacheFile& file : files)
        total += file.bytes;
    for (const CacheFile& file : files) {
        if (total <= limit_bytes_)
            break;
        if (file.path != path && std::filesystem::remove(file.path, problem))
            total -= file.bytes;
    }
    return Done{};
}

std::string this_program() {
    std::error_code problem;
    const auto program = std::filesystem::read_symlink("/proc/self/exe", problem);
    const auto bytes = std::filesystem::file_size(program, problem);
    const auto written = std::filesystem::last_write_time(program, problem).time_since_epoch().count();
    return program.string() + ' ' + integer_text(bytes) + ' ' + integer_text(written);
}

}  // namespace eh
