// SPDX-License-Identifier: GPL-3.0-or-later
// The recording of a meter's stream on disk: everything that came, with its gaps, in memory that does not
// grow with it.
//
// A file of little-endian words of 8 bytes, one for a sample (core/trace/stream_words.h). What has been
// flushed survives the end of the process; a word that was cut in the middle of its writing is dropped at the
// next opening. Besides the samples that are not yet written only a min/max pyramid is kept in memory.
#pragma once

#include <cstdint>
#include <filesystem>
#include <fstream>
#include <functional>
#include <memory>
#include <span>
#include <vector>

#include "core/base/result.h"
#include "core/trace/min_max_pyramid.h"
#include "core/trace/stream_words.h"

namespace eh {

class TraceRecord {
  public:
    // Opens a recording and goes on with it, or makes one. One of the older format is written anew in this
    // one first. A file of another kind is refused and not touched.
    static Result<std::unique_ptr<TraceRecord>> open(const std::filesystem::path& file);
    ~TraceRecord();
    TraceRecord(const TraceRecord&) = delete;
    TraceRecord& operator=(const TraceRecord&) = delete;

    // Adds samples in the order of time. What no word can hold (stream_words.h) and samples that do not go
    // forward in time by a microsecond are left out and counted.
    void append(std::span<const MeterSample> samples);
    // Notes that the source went away.
    void mark_gap(double t_s);
    // Writes what has not been written yet. On an error (a full disk) it is kept and tried again next time,
    // of more than four million samples the newest two; a gap stands for the others.
    Outcome flush();

    [[nodiscard]] const std::filesystem::path& file() const { return file_; }
    [[nodiscard]] bool empty() const { return samples_ == 0; }
    [[nodiscard]] std::uint64_t samples() const { return samples_; }
    [[nodiscard]] std::uint64_t left_out() const { return left_out_; }
    [[nodiscard]] double first_s() const { return first_s_; }  // 0 when empty
    [[nodiscard]] double last_s() const { return last_s_; }

    // The samples with from_s <= t < to_s, in order.
    [[nodiscard]] std::vector<MeterSample> between(double from_s, double to_s) const;
    // The same in pieces of some thousand, for stretches that memory should not hold; ends early when `take`
    // returns false.
    void visit(double from_s, double to_s,
               const std::function<bool(std::span<const MeterSample>)>& take) const;
    // When the source went away, in [from_s, to_s).
    [[nodiscard]] std::vector<double> gaps(double from_s, double to_s) const;

    // What the stream moved between in each of `count` equal parts of [from_s, to_s). Edges may stand one
    // part beside their place where the stretch is long. Requires from_s < to_s and count > 0.
    [[nodiscard]] std::vector<TraceEnvelope> columns(double from_s, double to_s, std::size_t count) const;

  private:
    explicit TraceRecord(std::filesystem::path file) : file_(std::move(file)) {}
    void take_in(StreamWord word);
    void take_in_all();
    void push_new();
    void forget_oldest();
    [[nodiscard]] std::vector<StreamWord> read(std::uint64_t first, std::uint64_t count) const;
    // The samples of `count` words from the first of a node on; ends early when `take` returns false.
    void each_sample(std::uint64_t node, std::uint64_t count,
                     const std::function<bool(const MeterSample&)>& take) const;
    [[nodiscard]] std::uint64_t words() const { return written_ + pending_.size(); }

    std::filesystem::path file_;
    std::ofstream writer_;
    mutable std::ifstream reader_;
    std::uint64_t written_ = 0;        // words in the file
    std::vector<StreamWord> pending_;  // behind them
    std::vector<StreamWord> new_;      // on their way behind those
    StreamEncoder encoder_;
    StreamDecoder decoder_;  // has read them all
    MinMaxPyramid pyramid_;
    std::vector<std::int64_t> node_clocks_us_;  // what the decoder said where each node begins
    TraceEnvelope open_node_;                   // of the words that do not fill a node yet
    std::size_t open_count_ = 0;
    std::vector<double> gaps_;
    std::uint64_t samples_ = 0;
    std::uint64_t left_out_ = 0;
    double first_s_ = 0.0;
    double last_s_ = 0.0;
    std::int64_t last_given_us_ = 0;  // of the last sample, before its time was cut to a step
};

}  // namespace eh
