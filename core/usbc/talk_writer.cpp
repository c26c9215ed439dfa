// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/talk_writer.h"

#include <algorithm>

namespace eh::pd {
namespace {

// From the end of a message to its acknowledgement, and to the next message: within tInterFrameGap (25 us at
// least) and tReceive (1.1 ms at most), as the specification has them (from memory).
constexpr double acknowledge_after_s = 60e-6;
constexpr double next_after_s = 600e-6;
constexpr std::uint8_t ids = 8;

double seconds_of(const std::vector<bool>& bits) {
    return static_cast<double>(bits.size()) * nominal_bit_s;
}

}  // namespace

void TalkWriter::wait_until(double t_s) {
    now_s_ = std::max(now_s_, t_s);
}

Header TalkWriter::header_of(Side side) {
    Header header;
    header.power_source = side == Side::charger;
    header.data_host = side == Side::charger;  // until they swap, who gives power is host
    std::uint8_t& next = next_id_[side];
    header.id = next;
    next = static_cast<std::uint8_t>((next + 1) % ids);
    return header;
}

void TalkWriter::put(const Message& message) {
    Frame frame;
    frame.kind = FrameKind::message;
    frame.message = message;
    frame.checksum_due = frame.checksum_sent = crc32(bytes_of(message));
    frame.start_s = now_s_;
    now_s_ += seconds_of(line_bits(message));
    frame.end_s = now_s_;
    frames_.push_back(std::move(frame));
}

void TalkWriter::acknowledge(const Message& message) {
    Message answer;
    answer.address = message.address;
    answer.header = message.header;
    answer.header.type = static_cast<std::uint8_t>(ControlType::good_crc);
    answer.header.objects = 0;
    answer.header.extended = false;
    answer.header.power_source = !message.header.power_source;
    answer.header.data_host = message.address == Address::sop && !message.header.data_host;
    now_s_ += acknowledge_after_s;
    put(answer);
}

void TalkWriter::say(Side side, ControlType type, bool acknowledged) {
    Message message;
    message.header = header_of(side);
    message.header.type = static_cast<std::uint8_t>(type);
    put(message);
    if (acknowledged)
        acknowledge(message);
    now_s_ += next_after_s;
}

void TalkWriter::say(Side side, DataType type, std::span<const std::uint32_t> objects, bool acknowledged) {
    Header header = header_of(side);
    header.type = static_cast<std::uint8_t>(type);
    const Message message = with_objects(Address::sop, header, objects);
    put(message);
    if (acknowledged)
        acknowledge(message);
    now_s_ += next_after_s;
}

void TalkWriter::offer(std::span<const Offer> offers, bool acknowledged) {
    std::vector<std::uint32_t> objects;
    for (const Offer& each : offers)
        objects.push_back(pack_offer(each));
    say(Side::charger, DataType::source_capabilities, objects, acknowledged);
}

void TalkWriter::request(const Request& request, const Offer& offer, bool acknowledged) {
    const std::uint32_t bits = pack_request(request, offer);
    say(Side::machine, DataType::request, std::span(&bits, 1), acknowledged);
}

void TalkWriter::ask_cable(const CableIdentity* marker) {
    VendorHeader ask;
    ask.vendor = standard_vendor;
    ask.structured = true;
    ask.version = 1;
    ask.command = static_cast<std::uint8_t>(VendorCommand::discover_identity);
    const std::uint32_t bits = pack(ask);
    Header header;
    header.type = static_cast<std::uint8_t>(DataType::vendor_defined);
    header.id = cable_id_;
    const Message question = with_objects(Address::sop_prime, header, std::span(&bits, 1));
    put(question);
    if (marker != nullptr) {
        acknowledge(question);
        now_s_ += next_after_s;
        header.power_source = true;  // towards a cable this bit says who speaks
        const Message answer = with_objects(Address::sop_prime, header, cable_identity_objects(*marker));
        put(answer);
        acknowledge(answer);
    }
    cable_id_ = static_cast<std::uint8_t>((cable_id_ + 1) % ids);
    now_s_ += next_after_s;
}

void TalkWriter::hard_reset() {
    Frame frame;
    frame.kind = FrameKind::hard_reset;
    frame.start_s = now_s_;
    now_s_ += seconds_of(reset_bits(FrameKind::hard_reset));
    frame.end_s = now_s_;
    frames_.push_back(std::move(frame));
    next_id_.clear();
    cable_id_ = 0;
    now_s_ += next_after_s;
}

std::vector<double> edges_of(std::span<const Frame> frames) {
    std::vector<double> edges;
    for (const Frame& frame : frames) {
        if (!frame.good())
            continue;
        const bool message = frame.kind == FrameKind::message;
        append_edges(message ? line_bits(frame.message) : reset_bits(frame.kind), frame.start_s, edges);
    }
    return edges;
}

}  // namespace eh::pd
