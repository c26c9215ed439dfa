// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/line_code.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <optional>
#include <span>

namespace eh::pd {
namespace {

constexpr std::size_t preamble_bits = 64;
constexpr std::size_t symbol_bits = 5;
constexpr std::size_t start_symbols = 4;
constexpr std::size_t start_bits = start_symbols * symbol_bits;
constexpr std::size_t checksum_bytes = 4;
constexpr std::size_t shortest_packet_bits = 24;  // less is a glitch, not worth a word

// Symbols above the sixteen data nibbles.
enum Symbol : std::uint8_t { sync_1 = 16, sync_2, sync_3, reset_1, reset_2, end_of_packet, nothing };

// As sent, first bit lowest.
constexpr std::array<std::uint8_t, 22> codes{0x1E, 0x09, 0x14, 0x15, 0x0A, 0x0B, 0x0E, 0x0F,
                                             0x12, 0x13, 0x16, 0x17, 0x1A, 0x1B, 0x1C, 0x1D,
                                             0x18, 0x11, 0x06, 0x07, 0x19, 0x0D};

constexpr std::array<std::uint8_t, 32> make_symbols() {
    std::array<std::uint8_t, 32> symbols{};
    symbols.fill(nothing);
    for (std::size_t s = 0; s < codes.size(); ++s)
        symbols[codes[s]] = static_cast<std::uint8_t>(s);
    return symbols;
}
constexpr auto symbols = make_symbols();

using Start = std::array<std::uint8_t, start_symbols>;
// By Address, then hard reset and cable reset.
constexpr std::array<Start, 7> starts{{{sync_1, sync_1, sync_1, sync_2},
                                       {sync_1, sync_1, sync_3, sync_3},
                                       {sync_1, sync_3, sync_1, sync_3},
                                       {sync_1, reset_2, reset_2, sync_3},
                                       {sync_1, reset_2, sync_3, sync_2},
                                       {reset_1, reset_1, reset_1, reset_2},
                                       {reset_1, sync_1, reset_1, sync_3}}};
constexpr std::size_t hard_reset_start = 5;
constexpr std::size_t cable_reset_start = 6;

void append_symbol(std::vector<bool>& bits, std::uint8_t symbol) {
    for (std::size_t b = 0; b < symbol_bits; ++b)
        bits.push_back((codes[symbol] >> b & 1U) != 0);
}

std::vector<bool> opened(const Start& start) {
    std::vector<bool> bits;
    for (std::size_t i = 0; i < preamble_bits; ++i)
        bits.push_back(i % 2 != 0);
    for (const std::uint8_t symbol : start)
        append_symbol(bits, symbol);
    return bits;
}

void append_byte(std::vector<bool>& bits, std::uint8_t byte) {
    append_symbol(bits, byte & 0xFU);
    append_symbol(bits, byte >> 4U);
}

std::uint8_t symbol_at(std::span<const std::uint8_t> bits, std::size_t at) {
    unsigned code = 0;
    for (std::size_t b = 0; b < symbol_bits; ++b)
        code |= static_cast<unsigned>(bits[at + b]) << b;
    return symbols[code];
}

struct FoundStart {
    std::size_t which = 0;
    std::size_t after = 0;  // first bit behind it
    bool repaired = false;
};

// The most symbols that agree with any start here, and which start that is.
std::pair<int, std::size_t> agreement_at(std::span<const std::uint8_t> bits, std::size_t at) {
    Start here{};
    for (std::size_t s = 0; s < start_symbols; ++s)
        here[s] = symbol_at(bits, at + s * symbol_bits);
    std::pair<int, std::size_t> best{0, 0};
    for (std::size_t k = 0; k < starts.size(); ++k) {
        int agreeing = 0;
        for (std::size_t s = 0; s < start_symbols; ++s)
            agreeing += here[s] == starts[k][s] ? 1 : 0;
        if (agreeing > best.first)
            best = {agreeing, k};
    }
    return best;
}

// Three right symbols of four are a valid start (specification); a whole one close behind is preferred.
std::optional<FoundStart> find_start(std::span<const std::uint8_t> bits) {
    constexpr std::size_t look_further = symbol_bits;
    for (std::size_t at = 0; at + start_bits <= bits.size(); ++at) {
        const auto [agreeing, which] = agreement_at(bits, at);
        if (agreeing == start_symbols)
            return FoundStart{which, at + start_bits, false};
        if (agreeing < static_cast<int>(start_symbols) - 1)
            continue;
        for (std::size_t next = at + 1; next <= at + look_further && next + start_bits <= bits.size();
             ++next) {
            const auto [whole, whole_which] = agreement_at(bits, next);
            if (whole == start_symbols)
                return FoundStart{whole_which, next + start_bits, false};
        }
        return FoundStart{which, at + start_bits, true};
    }
    return std::nullopt;
}

// Bytes up to the ending symbol.
std::vector<std::uint8_t> read_bytes(std::span<const std::uint8_t> bits, std::size_t at, Damage& damage) {
    std::vector<std::uint8_t> bytes;
    bool low = true;
    bool ended = false;
    for (; at + symbol_bits <= bits.size(); at += symbol_bits) {
        const std::uint8_t symbol = symbol_at(bits, at);
        if (symbol == end_of_packet) {
            ended = true;
            break;
        }
        damage.bad_symbol = damage.bad_symbol || symbol > 0xF;
        const auto nibble = static_cast<std::uint8_t>(symbol & 0xFU);
        if (low)
            bytes.push_back(nibble);
        else
            bytes.back() = static_cast<std::uint8_t>(bytes.back() | nibble << 4U);
        low = !low;
    }
    damage.no_end = !ended;
    damage.cut_short = !low;
    if (!low)
        bytes.pop_back();
    return bytes;
}

void read_message(std::span<const std::uint8_t> bits, const FoundStart& start, Frame& frame) {
    frame.kind = FrameKind::message;
    const std::vector<std::uint8_t> bytes = read_bytes(bits, start.after, frame.damage);
    if (bytes.size() < 2 + checksum_bytes) {
        frame.damage.cut_short = true;
        frame.message = message_from(static_cast<Address>(start.which), bytes).value_or(Message{});
        frame.message.address = static_cast<Address>(start.which);
        return;
    }
    const auto content = std::span(bytes).first(bytes.size() - checksum_bytes);
    frame.message = *message_from(static_cast<Address>(start.which), content);
    frame.checksum_due = crc32(content);
    for (std::size_t b = 0; b < checksum_bytes; ++b)
        frame.checksum_sent |= static_cast<std::uint32_t>(bytes[content.size() + b]) << (8U * b);
    frame.damage.bad_checksum = frame.checksum_sent != frame.checksum_due;
    frame.damage.wrong_length = !length_agrees(frame.message);
}

}  // namespace

std::vector<bool> line_bits(const Message& message) {
    std::vector<bool> bits = opened(starts[static_cast<std::size_t>(message.address)]);
    const std::vector<std::uint8_t> bytes = bytes_of(message);
    for (const std::uint8_t byte : bytes)
        append_byte(bits, byte);
    const std::uint32_t checksum = crc32(bytes);
    for (unsigned shift = 0; shift < 32; shift += 8)
        append_byte(bits, static_cast<std::uint8_t>(checksum >> shift));
    append_symbol(bits, end_of_packet);
    return bits;
}

std::vector<bool> reset_bits(FrameKind reset) {
    assert(reset == FrameKind::hard_reset || reset == FrameKind::cable_reset);
    return opened(starts[reset == FrameKind::hard_reset ? hard_reset_start : cable_reset_start]);
}

double append_edges(const std::vector<bool>& bits, double start_s, std::vector<double>& edges, double bit_s) {
    bool high = false;
    double now_s = start_s;
    for (const bool bit : bits) {
        edges.push_back(now_s);
        high = !high;
        if (bit) {
            edges.push_back(now_s + 0.5 * bit_s);
            high = !high;
        }
        now_s += bit_s;
    }
    edges.push_back(now_s);  // ends the last bit
    high = !high;
    if (high) {
        now_s += bit_s;
        edges.push_back(now_s);
    }
    return now_s;
}

void FrameReader::edge(double t_s) {
    constexpr double shortest_pulse_s = 0.1 * nominal_bit_s;
    if (held_ && t_s - held_s_ < shortest_pulse_s) {
        held_ = false;
        return;
    }
    if (held_)
        clean_edge(held_s_);
    held_ = true;
    held_s_ = t_s;
}

void FrameReader::clean_edge(double t_s) {
    constexpr double pause_s = 1.6 * nominal_bit_s;
    constexpr std::size_t most_changes = 8192;  // the longest message takes some 5,600
    if (!changes_s_.empty() && t_s - last_s_ > pause_s)
        end_packet();
    last_s_ = t_s;
    if (changes_s_.size() < most_changes)
        changes_s_.push_back(t_s);
}

void FrameReader::finish() {
    if (held_)
        clean_edge(held_s_);
    held_ = false;
    end_packet();
}

void FrameReader::end_packet() {
    const RecoveredBits recovered = recover_bits(changes_s_);
    const double start_s = changes_s_.empty() ? 0.0 : changes_s_.front();
    changes_s_.clear();
    const std::span<const std::uint8_t> bits(recovered.bits);
    if (bits.size() < shortest_packet_bits)
        return;
    Frame frame;
    frame.start_s = start_s;
    frame.end_s = last_s_;
    const auto start = find_start(bits);
    frame.damage.bad_timing = recovered.last_slip > (start ? start->after : 0);
    if (start) {
        frame.damage.start_repaired = start->repaired;
        if (start->which == hard_reset_start)
            frame.kind = FrameKind::hard_reset;
        else if (start->which == cable_reset_start)
            frame.kind = FrameKind::cable_reset;
        else
            read_message(bits, *start, frame);
    }
    // A checksum of 32 bits that agrees outweighs a change that is missing or one too many.
    if (frame.kind == FrameKind::message && !frame.damage.bad_checksum && !frame.damage.cut_short)
        frame.damage.bad_timing = false;
    found_(std::move(frame));
}

}  // namespace eh::pd
