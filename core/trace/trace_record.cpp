// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/trace_record.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <system_error>

namespace eh {

namespace fs = std::filesystem;

namespace {

static_assert(std::endian::native == std::endian::little, "words are written as they lie in memory");

using Header = std::array<char, 16>;
constexpr Header header{'E', 'H', '-', 'T', 'R', 'A', 'C', 'E', ' ', '2', '\n', 0, 0, 0, 0, 0};
constexpr std::size_t most_pending = 1 << 22;
constexpr std::size_t pending_to_flush = 4096;
constexpr std::uint64_t piece = 8192;

// The first format: time, volts and amps as numbers, 16 bytes a sample; no volts at a gap.
constexpr Header old_header{'E', 'H', '-', 'T', 'R', 'A', 'C', 'E', ' ', '1', '\n', 0, 0, 0, 0, 0};
struct OldRecord {
    double t_s = 0.0;
    float volts = 0.0F;
    float amps = 0.0F;
};
static_assert(sizeof(OldRecord) == 16);

Outcome write_anew(const fs::path& file) {
    const fs::path beside = file.string() + ".new";
    std::error_code problem;
    fs::remove(beside, problem);
    {
        auto made = TraceRecord::open(beside);
        if (!made.ok())
            return made.error();
        TraceRecord& record = **made;
        std::ifstream old(file, std::ios::binary);
        old.seekg(old_header.size());
        OldRecord one;
        while (old.read(reinterpret_cast<char*>(&one), sizeof one)) {
            const MeterSample sample{one.t_s, one.volts, one.amps};
            if (std::isnan(one.volts))
                record.mark_gap(one.t_s);
            else
                record.append(std::span(&sample, 1));
        }
        if (auto written = record.flush(); !written.ok())
            return written;
    }
    fs::rename(beside, file, problem);
    if (problem)
        return Error{ErrorKind::unavailable,
                     "the older recording cannot be written anew; check the folder and its rights",
                     file.string()};
    return Done{};
}

}  // namespace

Result<std::unique_ptr<TraceRecord>> TraceRecord::open(const fs::path& file) {
    std::error_code problem;
    if (file.has_parent_path())
        fs::create_directories(file.parent_path(), problem);
    std::unique_ptr<TraceRecord> record(new TraceRecord(file));
    if (fs::exists(file, problem) && fs::file_size(file, problem) > 0) {
        Header found{};
        std::ifstream(file, std::ios::binary).read(found.data(), found.size());
        if (found == old_header) {
            if (const auto renewed = write_anew(file); !renewed.ok())
                return renewed.error();
        } else if (found != header) {
            return refused("this is no recording of a meter's stream and has not been touched",
                           file.string());
        }
        const std::uint64_t bytes = fs::file_size(file, problem) - header.size();
        record->written_ = bytes / sizeof(StreamWord);
        if (bytes % sizeof(StreamWord) != 0)  // cut while it was written
            fs::resize_file(file, header.size() + record->written_ * sizeof(StreamWord), problem);
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
    record->take_in_all();
    return record;
}

TraceRecord::~TraceRecord() {
    (void)flush();
}

// Everything that is known of a word besides its place in the file.
void TraceRecord::take_in(StreamWord word) {
    if (open_count_ == 0)
        node_clocks_us_.push_back(decoder_.clock());
    const StreamEvent event = decoder_.take(word);
    if (event.kind == StreamEvent::Kind::gap) {
        gaps_.push_back(event.sample.t_s);
    } else if (event.kind == StreamEvent::Kind::sample) {
        open_node_.take_in(event.sample);
        if (samples_++ == 0)
            first_s_ = event.sample.t_s;
        last_s_ = event.sample.t_s;
    }
    if (++open_count_ < MinMaxPyramid::base)
        return;
    // Of no sample at all: the node stands at the last time there was, so that nodes stay in order.
    if (open_node_.samples == 0)
        open_node_.from_s = open_node_.to_s = last_s_;
    pyramid_.add(open_node_);
    open_node_ = {};
    open_count_ = 0;
}

// From the beginning, for a recording that was opened or has lost words in its middle.
void TraceRecord::take_in_all() {
    decoder_ = StreamDecoder();
    pyramid_.clear();
    node_clocks_us_.clear();
    open_node_ = {};
    open_count_ = 0;
    gaps_.clear();
    samples_ = 0;
    first_s_ = last_s_ = 0.0;
    for (std::uint64_t at = 0; at < words(); at += piece) {
        for (const StreamWord word : read(at, piece))
            take_in(word);
    }
    encoder_.go_on_from(decoder_.clock());
    last_given_us_ = std::max(last_given_us_, stream_microseconds(last_s_));
}

void TraceRecord::push_new() {
    for (const StreamWord word : new_) {
        take_in(word);
        pending_.push_back(word);
        if (pending_.size() >= pending_to_flush && pending_.size() % pending_to_flush == 0)
            (void)flush();
    }
    new_.clear();
}

void TraceRecord::append(std::span<const MeterSample> samples) {
    for (const MeterSample& sample : samples) {
        const bool fits = fits_stream(sample);
        if (!fits || (samples_ > 0 && stream_microseconds(sample.t_s) <= last_given_us_)) {
            ++left_out_;
            continue;
        }
        last_given_us_ = stream_microseconds(sample.t_s);
        encoder_.sample(sample, new_);
        push_new();
    }
}

void TraceRecord::mark_gap(double t_s) {
    const double last_gap_s = gaps_.empty() ? last_s_ : gaps_.back();
    encoder_.gap(std::max({t_s, last_s_, last_gap_s}), new_);
    push_new();
}

Outcome TraceRecord::flush() {
    if (pending_.empty())
        return Done{};
    writer_.clear();
    const auto end = static_cast<std::streamoff>(header.size() + written_ * sizeof(StreamWord));
    writer_.seekp(end);
    writer_.write(reinterpret_cast<const char*>(pending_.data()),
                  static_cast<std::streamsize>(pending_.size() * sizeof(StreamWord)));
    writer_.flush();
    if (!writer_) {
        std::error_code ignored;
        fs::resize_file(file_, static_cast<std::uintmax_t>(end), ignored);
        if (pending_.size() > most_pending)
            forget_oldest();
        return Error{ErrorKind::unavailable,
                     "the meter's stream cannot be written; make room on the disk, it is kept in memory "
                     "meanwhile",
                     file_.string()};
    }
    written_ += pending_.size();
    pending_.clear();
    return Done{};
}

// Half of what could not be written. The words behind it count from a time that is said anew.
void TraceRecord::forget_oldest() {
    const auto kept = pending_.begin() + static_cast<std::ptrdiff_t>(most_pending / 2);
    const auto lost_node = written_ / MinMaxPyramid::base;
    StreamDecoder clock(node_clocks_us_[lost_node]);
    for (const StreamWord word : read(lost_node * MinMaxPyramid::base, written_ % MinMaxPyramid::base))
        (void)clock.take(word);
    const double lost_from_s = stream_seconds(clock.clock());
    std::for_each(pending_.begin(), kept, [&](StreamWord word) { (void)clock.take(word); });
    std::vector<StreamWord> rest;
    StreamEncoder words;
    words.gap(lost_from_s, rest);
    words.clock(clock.clock(), rest);
    rest.insert(rest.end(), kept, pending_.end());
    pending_ = std::move(rest);
    take_in_all();
}

std::vector<StreamWord> TraceRecord::read(std::uint64_t first, std::uint64_t count) const {
    std::vector<StreamWord> words;
    if (first < written_) {
        words.resize(std::min(count, written_ - first));
        reader_.clear();
        reader_.seekg(static_cast<std::streamoff>(header.size() + first * sizeof(StreamWord)));
        reader_.read(reinterpret_cast<char*>(words.data()),
                     static_cast<std::streamsize>(words.size() * sizeof(StreamWord)));
        words.resize(static_cast<std::size_t>(reader_.gcount()) / sizeof(StreamWord));
    }
    for (std::uint64_t at = std::max(first, written_); at < first + count && at - written_ < pending_.size();
         ++at)
        words.push_back(pending_[at - written_]);
    return words;
}

void TraceRecord::each_sample(std::uint64_t node, std::uint64_t count,
                              const std::function<bool(const MeterSample&)>& take) const {
    const std::uint64_t first = node * MinMaxPyramid::base;
    const std::uint64_t end = std::min(words(), first + count);
    if (first >= end)
        return;
    StreamDecoder decoder(node_clocks_us_[node]);
    for (std::uint64_t at = first; at < end; at += piece) {
        for (const StreamWord word : read(at, std::min(piece, end - at))) {
            const StreamEvent event = decoder.take(word);
            if (event.kind == StreamEvent::Kind::sample && !take(event.sample))
                return;
        }
    }
}

void TraceRecord::visit(double from_s, double to_s,
                        const std::function<bool(std::span<const MeterSample>)>& take) const {
    std::vector<MeterSample> samples;
    bool wanted = true;
    each_sample(pyramid_.node_at(from_s), words(), [&](const MeterSample& sample) {
        if (sample.t_s >= to_s)
            return false;
        if (sample.t_s >= from_s)
            samples.push_back(sample);
        if (samples.size() == piece) {
            wanted = take(samples);
            samples.clear();
        }
        return wanted;
    });
    if (wanted && !samples.empty())
        take(samples);
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
    // As long as nodes are coarser than columns, the samples themselves are read, in one go.
    if (pyramid_.node_at(to_s) + 1 - pyramid_.node_at(from_s) < count) {
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
        each_sample(node, MinMaxPyramid::base, [&](const MeterSample& sample) {
            if (sample.t_s >= from_s && sample.t_s < to_s)
                columns[column_of(sample.t_s)].take_in(sample);
            return true;
        });
    };
    pyramid_.cover(from_s, to_s, width_s, take, open);
    if (open_node_.samples > 0 && open_node_.to_s >= from_s && open_node_.from_s < to_s)
        take(open_node_);
    return columns;
}

}  // namespace eh
