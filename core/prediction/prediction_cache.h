// SPDX-License-Identifier: GPL-3.0-or-later
// Predictions kept on disk between runs of the program: a file for each topology and state of the knowledge.
#pragma once

#include <filesystem>
#include <memory>
#include <string>

#include "core/base/result.h"
#include "core/prediction/prediction_store.h"

namespace eh {

class PredictionCache {
  public:
    static constexpr std::uintmax_t usual_limit_bytes = 64u << 20;

    // `directory` is made when something is first saved. `program` tells this build from others: predictions
    // of another build are not taken.
    PredictionCache(std::filesystem::path directory, std::string program,
                    std::uintmax_t limit_bytes = usual_limit_bytes)
        : directory_(std::move(directory)), program_(std::move(program)), limit_bytes_(limit_bytes) {}

    // Where the predictions of a store belong; empty where its knowledge did not come from files. The name
    // changes with every byte of the data files, with the options and with the program.
    [[nodiscard]] std::filesystem::path file_of(const PredictionStore& store) const;

    // Adds what is kept to the store. Nothing kept is an error of kind not_found; a damaged file is refused.
    Outcome load(PredictionStore& store) const;
    // Writes what the store holds, all of it or nothing, and deletes the oldest files until those left take
    // no more than the limit. What would not fit alone is not written.
    Outcome save(const PredictionStore& store) const;

  private:
    std::filesystem::path directory_;
    std::string program_;
    std::uintmax_t limit_bytes_;
};

// Tells this build of the running program from others, by the size and date of its file.
std::string this_program();

}  // namespace eh
