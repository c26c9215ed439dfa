#include "core/trace/trace_record.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstring>
#include <limits>
#include <system_error>

namespace eh {

namespace fs = std::filesystem;

namespace {

static_assert(std::endian::native == std::endian::little, "records are written as they lie in memory");

constexpr std::array<char, 16> header{'E', 'H', '-', 'T', 'R', 'A', 'C', 'E', ' ', '1', '\n', 0, 0, 0, 0, 0};
constexpr std::size_t most_pending = 1 << 21;
constexpr std::size_t pending_to_flush = 4096;
constexpr std::uint64_t piece = 8192;

}  // namespace

Result<std::unique_ptr<TraceRecord>> TraceRecord::open(const fs::path& file) {
    std::error_code problem;
    if (file.has_parent_path())
        fs::create_directories(file.parent_path(), problem);
    const bool exists = fs::exists(file, problem) && fs::file_size(file, problem) > 0;
    std::unique_ptr<TraceRecord> record(new TraceRecord(file));
    if (exists) {
        std::array<char, header.size()> found{};
        std::ifstream stream(file, std::ios::binary);
        stream.read(found.data(), found.size());
        if (!stream || found != header)
            return refused("this is no recording of a meter's stream and has not been touched",
                           file.string());
        const std::uint64_t bytes = fs::file_size(file, problem) - header.size();
        record->written_ = bytes / sizeof(Record);
        if (bytes % sizeof(Record) != 0)  // cut while it was written
            fs::resize_file(file, header.size() + record->written_ * sizeof(Record), problem);
        record->writer_.open(file, std::ios::binary | std::ios::app);
    } else {
        record->writer_.open(file, std::ios::binary | std::ios::trunc);
        record->writer_.write(header.data(), header.size());
        record->writer_.flush();
    }
    record->reader_.open(file, std::ios::binary);
    if (!record->writer_ || !record->reader_)
        return Error{ErrorKind::unavailable,
                     "the recording cannot be written here; check the folder, its rights and the free space",
                     file.string()};
    for (std::uint64_t at = 0; at < record->written_; at += piece) {
        for (const Record& one : record->read(at, piece))
            record->take_in(one);
    }
    return record;
}

TraceRecord::~TraceRecord() {
    (void)flush();
}

// Everything that is known of a record besides its place in the file.
void TraceRecord::take_in(const Record& record) {
    if (std::isnan(record.volts)) {
        gaps_.push_back(record.t_s);
    } else {
        open_node_.take_in(MeterSample{record.t_s, record.volts, record.amps});
        if (samples_++ == 0)
            first_s_ = record.t_s;
        last_s_ = record.t_s;
    }
    if (++open_count_ < MinMaxPyramid::base)
        return;
    // Of nothing but gaps: the node stands at the last time there was, so that nodes stay in order.
    if (open_node_.samples == 0)
        open_node_.from_s = open_node_.to_s = last_s_;
    pyramid_.add(open_node_);
    open_node_ = {};
    open_count_ = 0;
}

void TraceRecord::push(const Record& record) {
    take_in(record);
    pending_.push_back(record);
    if (pending_.size() >= pending_to_flush && pending_.size() % pending_to_flush == 0)
        (void)flush();
}

void TraceRecord::append(std::span<const MeterSample> samples) {
    for (const MeterSample& sample : samples) {
        if (!std::isfinite(sample.t_s) || !std::isfinite(sample.volts) || !std::isfinite(sample.amps) ||
            (samples_ > 0 && sample.t_s <= last_s_)) {
            ++left_out_;
            continue;
        }
        push({sample.t_s, static_cast<float>(sample.volts), static_cast<float>(sample.amps)});
    }
}

void TraceRecord::mark_gap(double t_s) {
    constexpr float none = std::numeric_limits<float>::quiet_NaN();
    push({std::max(t_s, last_s_), none, none});
}

Outcome TraceRecord::flush() {
    if (pending_.empty())
        return Done{};
    writer_.clear();
    const auto end = static_cast<std::streamoff>(header.size() + written_ * sizeof(Record));
    writer_.seekp(end);
    writer_.write(reinterpret_cast<const char*>(pending_.data()),
                  static_cast<std::streamsize>(pending_.size() * sizeof(Record)));
    writer_.flush();
    if (!writer_) {
        std::error_code ignored;
        fs::resize_file(file_, static_cast<std::uintmax_t>(end), ignored);
        if (pending_.size() > most_pending)
            pending_.erase(pending_.begin(), pending_.end() - static_cast<std::ptrdiff_t>(most_pending));
        return Error{ErrorKind::unavailable,
                     "the meter's stream cannot be written; make room on the disk, it is kept in memory "
                     "meanwhile",
                     file_.string()};
    }
    written_ += pending_.size();
    pending_.clear();
    return Done{};
}

std::vector<TraceRecord::Record> TraceRecord::read(std::uint64_t first, std::uint64_t count) const {
    std::vector<Record> records;
    if (first < written_) {
        records.resize(std::min(count, written_ - first));
        reader_.clear();
        reader_.seekg(static_cast<std::streamoff>(header.size() + first * sizeof(Record)));
        reader_.read(reinterpret_cast<char*>(records.data()),
                     static_cast<std::streamsize>(records.size() * sizeof(Record)));
        records.resize(static_cast<std::size_t>(reader_.gcount()) / sizeof(Record));
    }
    for (std::uint64_t at = std::max(first, written_); at < first + count && at - written_ < pending_.size();
         ++at)
        records.push_back(pending_[at - written_]);
    return records;
}

std::uint64_t TraceRecord::record_near(double t_s) const {
    return pyramid_.node_at(t_s) * MinMaxPyramid::base;
}

void TraceRecord::visit(double from_s, double to_s,
                        const std::function<bool(std::span<const MeterSample>)>& take) const {
    std::vector<MeterSample> samples;
    const std::uint64_t end = written_ + pending_.size();
    for (std::uint64_t at = record_near(from_s); at < end; at += piece) {
        samples.clear();
        bool beyond = false;
        for (const Record& record : read(at, piece)) {
            beyond = record.t_s >= to_s;
            if (beyond)
                break;
            if (record.t_s >= from_s && !std::isnan(record.volts))
                samples.push_back({record.t_s, record.volts, record.amps});
        }
        if (!samples.empty() && !take(samples))
            return;
        if (beyond)
            return;
    }
}

std::vector<MeterSample> TraceRecord::between(double from_s, double to_s) const {
    std::vector<MeterSample> all;
    visit(from_s, to_s, [&](std::span<const MeterSample> samples) {
        all.insert(all.end(), samples.begin(), samples.end());
        return true;
    });
    return all;
}

std::vector<double> TraceRecord::gaps(double from_s, double to_s) const {
    const auto first = std::lower_bound(gaps_.begin(), gaps_.end(), from_s);
    return {first, std::lower_bound(first, gaps_.end(), to_s)};
}

std::vector<TraceEnvelope> TraceRecord::columns(double from_s, double to_s, std::size_t count) const {
    std::vector<TraceEnvelope> columns(count);
    const double width_s = (to_s - from_s) / static_cast<double>(count);
    const auto column_of = [&](double t_s) {
        return static_cast<std::size_t>(
            std::clamp((t_s - from_s) / width_s, 0.0, static_cast<double>(count) - 1.0));
    };
    const std::uint64_t first = record_near(from_s);
    const std::uint64_t last = record_near(to_s) + MinMaxPyramid::base;
    // As long as nodes are coarser than columns, the samples themselves are read, in one go.
    if (last - first < count * MinMaxPyramid::base) {
        visit(from_s, to_s, [&](std::span<const MeterSample> samples) {
            for (const MeterSample& sample : samples)
                columns[column_of(sample.t_s)].take_in(sample);
            return true;
        });
        return columns;
    }
    // A node that reaches into two columns counts in both, so that what is empty between stays empty.
    const auto take = [&](const TraceEnvelope& node) {
        const std::size_t begin = column_of(node.from_s);
        const std::size_t end = column_of(node.to_s);
        columns[begin].take_in(node);
        if (end != begin)
            columns[end].take_in(node);
    };
    const auto open = [&](std::size_t node) {
        for (const Record& record : read(node * MinMaxPyramid::base, MinMaxPyramid::base)) {
            if (record.t_s >= from_s && record.t_s < to_s && !std::isnan(record.volts))
                columns[column_of(record.t_s)].take_in(MeterSample{record.t_s, record.volts, record.amps});
        }
    };
    pyramid_.cover(from_s, to_s, width_s, take, open);
    if (open_node_.samples > 0 && open_node_.to_s >= from_s && open_node_.from_s < to_s)
        take(open_node_);
    return columns;
}

}  // namespace eh
