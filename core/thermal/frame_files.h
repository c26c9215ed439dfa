// SPDX-License-Identifier: GPL-3.0-or-later
// Thermal frames in files and streams (docs/formats.md): a CSV matrix of degrees Celsius, a 16-bit PGM or PNG
// with its scale. Several frames may follow one another in a CSV or a PGM.
#pragma once

#include <cstdint>
#include <deque>
#include <functional>
#include <iosfwd>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/thermal/thermal_frame.h"

namespace eh {

// What a count of a 16-bit picture stands for where the picture does not say: hundredths of a kelvin, as
// cameras with absolute temperatures mostly write them (common practice).
struct ThermalScale {
    double celsius_per_count = 0.01;
    double celsius_at_zero = -273.15;
};

struct FrameFile {
    std::vector<ThermalFrame> frames;
    std::vector<std::string> remarks;  // what was left out or guessed, with its place
};

// Pixels of the frames that are kept, where nobody says otherwise: some 200 frames of 640 x 480.
inline constexpr std::size_t most_frame_bytes = 256U << 20U;
std::size_t bytes_of(const ThermalFrame& frame);  // in memory
// Drops the earliest frames until the pixels of the rest fit; one always stays. Returns how many went.
std::size_t keep_latest(std::vector<ThermalFrame>& frames, std::size_t most_bytes);

struct FrameReading {
    ThermalScale scale = {};
    std::size_t most_bytes = most_frame_bytes;         // of pixels that are kept, the latest
    std::function<bool(std::uint64_t)> progress = {};  // bytes read so far; false ends the reading
};

// Reads a file of any of the three kinds, told apart by how it begins, piece by piece: time and memory do not
// depend on more than its length and what is kept. Frames of another size than the first are left out with a
// remark; so is one that is cut or holds what is no number, and what no longer fits. Refused: no frame at
// all; a PNG of more than 64 MB. Stopped: kind unavailable.
Result<FrameFile> read_frames(std::istream& file, const std::string& name, const FrameReading& how = {});
// The same of bytes, and of a file, where a folder or one that cannot be opened is refused, too.
Result<FrameFile> read_frames(const std::string& bytes, const std::string& name,
                              const FrameReading& how = {});
Result<FrameFile> read_frame_file(const std::string& path, const FrameReading& how = {});

// PGM frames as they arrive over a wire.
class PgmStream {
  public:
    explicit PgmStream(const ThermalScale& scale = {}) : scale_(scale) {}

    // More bytes. Frames that became whole are in frames() afterwards; the caller takes them.
    // Refused once what comes is no PGM: the stream is of no use from there on.
    Outcome feed(const char* bytes, std::size_t count);
    [[nodiscard]] std::deque<ThermalFrame>& frames() { return frames_; }
    // Whether something of a frame has come that is not whole.
    [[nodiscard]] bool in_the_middle() const { return read_ < waiting_.size(); }
    // Whether a frame came without its scale, so that the usual one stood in.
    [[nodiscard]] bool guessed_scale() const { return guessed_scale_; }

  private:
    ThermalScale scale_;
    [[nodiscard]] Result<bool> take_one();

    std::string waiting_;
    std::size_t read_ = 0;  // of it; what lies before is dropped once a feed
    std::deque<ThermalFrame> frames_;
    bool guessed_scale_ = false;
};

// A frame as 16-bit PGM with its scale in comments; hotter or colder than the scale reaches is cut off there.
std::string write_pgm(const ThermalFrame& frame, const ThermalScale& scale);
// The same as PNG, its scale in text chunks.
std::string write_png(const ThermalFrame& frame, const ThermalScale& scale);
// Frames one after the other as CSV.
std::string write_frame_csv(const std::vector<ThermalFrame>& frames);

}  // namespace eh
