// The recording of a meter's stream on disk: everything that came, with its gaps, in memory that does not
// grow with it.
//
// A file of little-endian records of 16 bytes (docs/formats.md): time, volts, amps. What has been flushed
// survives the end of the process; a record that was cut in the middle of its writing is dropped at the next
// opening. Besides the samples that are not yet written only a min/max pyramid is kept in memory.
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

namespace eh {

class TraceRecord {
  public:
    // Opens a recording and goes on with it, or makes one. A file of another kind is refused and not touched.
    static Result<std::unique_ptr<TraceRecord>> open(const std::filesystem::path& file);
    ~TraceRecord();
    TraceRecord(const TraceRecord&) = delete;
    TraceRecord& operator=(const TraceRecord&) = delete;

    // Adds samples in the order of time. Samples that do not go forward in time are left out and counted.
    void append(std::span<const MeterSample> samples);
    // Notes that the source went away.
    void mark_gap(double t_s);
    // Writes what has not been written yet. On an error (a full disk) it is kept and tried again next time,
    // the newest two million samples of it.
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
    struct Record {
        double t_s = 0.0;
        float volts = 0.0F;
        float amps = 0.0F;
    };
    static_assert(sizeof(Record) == 16);

    explicit TraceRecord(std::filesystem::path file) : file_(std::move(file)) {}
    void take_in(const Record& record);
    void push(const Record& record);
    [[nodiscard]] std::vector<Record> read(std::uint64_t first, std::uint64_t count) const;
    // Index of the first record whose block of the pyramid reaches t_s.
    [[nodiscard]] std::uint64_t record_near(double t_s) const;

    std::filesystem::path file_;
    std::ofstream writer_;
    mutable std::ifstream reader_;
    std::uint64_t written_ = 0;    // records in the file
    std::vector<Record> pending_;  // behind them
    MinMaxPyramid pyramid_;
    TraceEnvelope open_node_;  // of the records that do not fill a node yet
    std::size_t open_count_ = 0;
    std::vector<double> gaps_;
    std::uint64_t samples_ = 0;
    std::uint64_t left_out_ = 0;
    double first_s_ = 0.0;
    double last_s_ = 0.0;
};

}  // namespace eh
