// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/cc_capture.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>

#include "core/base/files.h"
#include "core/base/text.h"
#include "core/base/utf16.h"
#include "core/electrics/engineering.h"
#include "core/usbc/message_list.h"
#include "core/usbc/raw_samples.h"
#include "core/usbc/sample_table.h"
#include "core/usbc/value_change_dump.h"

namespace eh::pd {
namespace {

constexpr std::size_t head_bytes = 1U << 16U;
constexpr double half_bit_s = 0.5 * nominal_bit_s;
constexpr double bit_rate_tolerance = 0.3;  // of the line and of the sampling together

std::string first_bytes(std::istream& file) {
    std::string head(head_bytes, '\0');
    file.read(head.data(), static_cast<std::streamsize>(head.size()));
    head.resize(static_cast<std::size_t>(file.gcount()));
    file.clear();
    file.seekg(0);
    return head;
}

bool holds_a_dump(std::string_view text) {
    constexpr std::array<std::string_view, 6> sections{"$date",      "$version", "$comment",
                                                       "$timescale", "$scope",   "$var"};
    std::size_t at = 0;
    while ((at = text.find('$', at)) != std::string_view::npos) {
        const bool starts_a_line =
            at == 0 || text[at - 1] == '\n' || text[at - 1] == ' ' || text[at - 1] == '\t';
        const bool known = std::any_of(sections.begin(), sections.end(), [&](std::string_view section) {
            return text.substr(at).starts_with(section);
        });
        if (starts_a_line && known)
            return true;
        ++at;
    }
    return false;
}

bool is_text(std::string_view bytes) {
    return std::none_of(bytes.begin(), bytes.end(), [](char byte) {
        return static_cast<unsigned char>(byte) < 0x20 && byte != '\n' && byte != '\r' && byte != '\t' &&
               byte != '\f' && byte != '\v' && byte != 0x1A;
    });
}

Result<Capture> read_messages(std::istream& file, const std::string& name) {
    constexpr std::size_t most_bytes = 64U << 20U;
    std::string text;
    std::string piece(1U << 20U, '\0');
    while (file.read(piece.data(), static_cast<std::streamsize>(piece.size())) || file.gcount() > 0) {
        text.append(piece, 0, static_cast<std::size_t>(file.gcount()));
        if (text.size() > most_bytes)
            return refused("this list of messages is longer than 64 MB", name);
    }
    auto frames = parse_messages(text, name);
    if (!frames)
        return frames.error();
    Capture capture;
    capture.frames = std::move(frames).value();
    if (!capture.frames.empty())
        capture.report.seconds = capture.frames.back().frame.end_s - capture.frames.front().frame.start_s;
    return capture;
}

Result<CapturePass> read_pass(CaptureKind kind, std::istream& file, const std::string& name,
                              const CaptureOptions& options) {
    file.clear();
    file.seekg(0);
    if (kind == CaptureKind::value_changes)
        return read_value_changes(file, name, options);
    if (kind == CaptureKind::raw)
        return read_raw_samples(file, name, options);
    return read_sample_table(file, name, options);
}

// The decade next to it, where there is one within the tolerance.
std::optional<double> next_decade(double value) {
    const double decade = std::pow(10.0, std::round(std::log10(value)));
    return std::abs(value / decade - 1.0) < bit_rate_tolerance ? std::optional(decade) : std::nullopt;
}

// The usual rate next to it.
double next_rate(double samples_a_second) {
    constexpr std::array<double, 9> usual{1.0, 1.2, 1.6, 2.0, 2.5, 4.0, 5.0, 6.0, 8.0};
    const double decade = std::pow(10.0, std::floor(std::log10(samples_a_second)));
    double best = 10.0 * decade;
    for (const double rate : usual) {
        if (std::abs(std::log(rate * decade / samples_a_second)) <
            std::abs(std::log(best / samples_a_second)))
            best = rate * decade;
    }
    return best;
}

// The unit of time, or the time of a sample, by which half a bit would be what it is on a CC line.
std::optional<double> fitting_unit_s(const CapturePass& pass) {
    if (!pass.half_bit_s)
        return std::nullopt;
    const double fitting_s = pass.time_unit_s * half_bit_s / *pass.half_bit_s;
    if (!std::isfinite(fitting_s) || !(fitting_s > 0.0))
        return std::nullopt;
    return pass.has_times ? next_decade(fitting_s) : std::optional(1.0 / next_rate(1.0 / fitting_s));
}

bool has_packets(const Capture& capture) {
    return std::any_of(capture.frames.begin(), capture.frames.end(),
                       [](const SeenFrame& seen) { return seen.frame.good(); });
}

// Reads once more with the unit that the changes themselves suggest: taken where the file says none, else
// only told.
Result<Capture> settle(CapturePass first, CaptureKind kind, std::istream& file, const std::string& name,
                       const CaptureOptions& options) {
    const auto unit_s = fitting_unit_s(first);
    if (!unit_s)
        return std::move(first.capture);
    CaptureOptions other = options;
    if (first.has_times)
        other.time_unit_s = unit_s;
    else
        other.samples_a_second = 1.0 / *unit_s;
    auto second = read_pass(kind, file, name, other);
    if (!second)
        return second.error();
    Capture again = std::move(std::move(second).value().capture);
    if (!has_packets(again))
        return std::move(first.capture);
    if (first.has_times && !first.unit_is_known) {
        again.report.remarks.push_back("The column of time names no unit; taken for " +
                                       format_quantity(*unit_s, Unit::seconds, 2) +
                                       ", at which the changes are packets.");
        return again;
    }
    CaptureQuestion& question = *first.capture.report.question;
    question.suggested_s = unit_s;
    question.sentence +=
        first.has_times
            ? " With " + format_quantity(*unit_s, Unit::seconds, 2) + " as the unit of time it would."
            : " With " + number_text("%.3g", 1e-6 / *unit_s) + " million samples a second it would.";
    return std::move(first.capture);
}

}  // namespace

CaptureKind capture_kind(std::string_view first_bytes) {
    std::string decoded;
    if (utf16_order(first_bytes))
        decoded = as_utf8(first_bytes);
    const std::string_view text =
        decoded.empty() ? without_byte_order_mark(first_bytes) : std::string_view(decoded);
    if (!is_text(text))
        return CaptureKind::raw;
    const std::size_t first = text.find_first_not_of(" \t\r\n");
    if (first != std::string_view::npos && text[first] == '{')
        return CaptureKind::messages;
    return holds_a_dump(text) ? CaptureKind::value_changes : CaptureKind::table;
}

Result<Capture> read_capture(std::istream& file, const std::string& name, const CaptureOptions& options) {
    const CaptureKind kind = capture_kind(first_bytes(file));
    if (kind == CaptureKind::messages)
        return read_messages(file, name);
    auto read = read_pass(kind, file, name, options);
    if (!read)
        return read.error();
    CapturePass pass = std::move(read).value();
    if (!pass.capture.report.question)
        return std::move(pass.capture);
    pass.capture.report.question->time_unit = pass.has_times;
    pass.capture.report.question->sample_rate = !pass.has_times;
    return settle(std::move(pass), kind, file, name, options);
}

Result<Capture> read_capture(const std::filesystem::path& path, const CaptureOptions& options) {
    auto file = open_for_reading(path);
    if (!file)
        return file.error();
    return read_capture(**file, path.filename().string(), options);
}

}  // namespace eh::pd
