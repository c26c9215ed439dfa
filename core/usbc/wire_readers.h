// SPDX-License-Identifier: GPL-3.0-or-later
// The wires of one capture, read all at once: which of them are the CC lines often only shows by the packets.
#pragma once

#include <array>
#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "core/base/lines.h"
#include "core/usbc/cc_capture.h"

namespace eh::pd {

// How often each length of time lay between two changes of a wire, in eighths of an octave.
class IntervalCounts {
  public:
    void count(double interval_s);
    // The half bit, when most intervals are of two lengths, one twice the other, as biphase-mark code has
    // them; nullopt else, and below 64 intervals.
    [[nodiscard]] std::optional<double> half_bit_s() const;

  private:
    static constexpr std::size_t octaves = 96;  // from 2^-64 s on
    static constexpr std::size_t parts = 8;
    struct Bin {
        std::uint64_t count = 0;
        double sum_s = 0.0;
    };
    // The bins about this one: some 30 % to either side, for the tolerance of bit rate and sampling.
    [[nodiscard]] Bin around(std::size_t bin) const;

    std::array<Bin, octaves * parts> bins_{};
    std::uint64_t total_ = 0;
};

class WireReaders {
  public:
    explicit WireReaders(const std::vector<std::string>& names);
    WireReaders(const WireReaders&) = delete;
    WireReaders& operator=(const WireReaders&) = delete;

    // Wire number `wire` is at this level at t_s; counts the change if it is one. Times must not go back.
    void level(std::size_t wire, bool high, double t_s) {
        Wire& each = *wires_[wire];
        const int now = high ? 1 : 0;
        if (each.level == now)
            return;
        if (each.level >= 0)
            change(each, t_s);
        each.level = now;
    }
    // What was found, nothing more being read: the chosen wires' packets in the order of time, and the
    // question when there are changes, but no packets. Refuses wires that are asked for by name and are not
    // there.
    Result<Capture> finish(const std::string& file, const CaptureOptions& options);
    // The half bit of the wire that looks most like a CC line; nullopt when none does.
    [[nodiscard]] std::optional<double> half_bit_s() const;

  private:
    struct Wire {
        explicit Wire(std::string wire_name);
        std::string name;
        FrameReader reader;
        std::vector<Frame> frames;
        std::uint64_t good = 0;
        std::uint64_t edges = 0;
        int level = -1;
        double last_s = 0.0;
        IntervalCounts intervals;
    };
    // By line, CC1 first; null where there is none.
    using Chosen = std::array<Wire*, 2>;

    static void change(Wire& wire, double t_s);
    [[nodiscard]] Result<Chosen> asked_for(const std::string& file, const CaptureOptions& options);
    [[nodiscard]] Chosen named() const;
    [[nodiscard]] Chosen talking() const;
    [[nodiscard]] Result<Chosen> choose(const std::string& file, const CaptureOptions& options,
                                        CaptureReport& report);

    std::vector<std::unique_ptr<Wire>> wires_;
};

// One reading of a file, and what it was read with.
struct CapturePass {
    Capture capture;
    double time_unit_s = 1.0;    // of the file's times, or of one sample where it holds none
    bool unit_is_known = false;  // the file or the user says so
    bool has_times = true;
    std::optional<double> half_bit_s;  // of what looks like a CC line, with this unit
};

// Tells the caller how far a reading got, once a piece of the file.
class Supervision {
  public:
    Supervision(const Lines& lines, const CaptureOptions& options) : lines_(lines), options_(options) {}
    // False when the reading shall end.
    bool goes_on() {
        if (seen_ == lines_.refills())
            return true;
        seen_ = lines_.refills();
        if (options_.progress)
            options_.progress(lines_.bytes());
        return !options_.stop || !options_.stop();
    }

  private:
    const Lines& lines_;
    const CaptureOptions& options_;
    std::uint64_t seen_ = 0;
};

// Errors that every kind of capture may end with.
Error reading_stopped(const std::string& file);
Error time_goes_back(const std::string& file, std::uint64_t line);

}  // namespace eh::pd
