// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/pd_message.h"

#include <zlib.h>

#include <algorithm>
#include <cassert>

namespace eh::pd {
namespace {

constexpr std::uint8_t low_bits(std::uint32_t value, int bits) {
    return static_cast<std::uint8_t>(value & ((1U << bits) - 1U));
}

std::uint16_t half_word(std::span<const std::uint8_t> bytes) {
    return static_cast<std::uint16_t>(bytes[0] | (bytes[1] << 8U));
}

constexpr std::size_t extended_header_bytes = 2;

}  // namespace

Header unpack_header(std::uint16_t bits) {
    Header header;
    header.type = low_bits(bits, 5);
    header.data_host = (bits >> 5U & 1U) != 0;
    header.revision = low_bits(bits >> 6U, 2);
    header.power_source = (bits >> 8U & 1U) != 0;
    header.id = low_bits(bits >> 9U, 3);
    header.objects = low_bits(bits >> 12U, 3);
    header.extended = (bits >> 15U & 1U) != 0;
    return header;
}

std::uint16_t pack(const Header& header) {
    return static_cast<std::uint16_t>(
        low_bits(header.type, 5) | (header.data_host ? 1U << 5U : 0U) | low_bits(header.revision, 2) << 6U |
        (header.power_source ? 1U << 8U : 0U) | low_bits(header.id, 3) << 9U |
        low_bits(header.objects, 3) << 12U | (header.extended ? 1U << 15U : 0U));
}

MessageClass class_of(const Header& header) {
    if (header.extended)
        return MessageClass::extended;
    return header.objects == 0 ? MessageClass::control : MessageClass::data;
}

bool is(const Message& message, ControlType type) {
    return class_of(message.header) == MessageClass::control &&
           message.header.type == static_cast<std::uint8_t>(type);
}

bool is(const Message& message, DataType type) {
    return class_of(message.header) == MessageClass::data &&
           message.header.type == static_cast<std::uint8_t>(type);
}

bool is(const Message& message, ExtendedType type) {
    return class_of(message.header) == MessageClass::extended &&
           message.header.type == static_cast<std::uint8_t>(type);
}

std::vector<std::uint32_t> objects_of(const Message& message) {
    constexpr std::size_t object_bytes = 4;
    std::vector<std::uint32_t> objects;
    for (std::size_t i = 0; i + object_bytes <= message.payload.size(); i += object_bytes) {
        std::uint32_t object = 0;
        for (std::size_t b = 0; b < object_bytes; ++b)
            object |= static_cast<std::uint32_t>(message.payload[i + b]) << (8U * b);
        objects.push_back(object);
    }
    return objects;
}

Message with_objects(Address address, Header header, std::span<const std::uint32_t> objects) {
    assert(objects.size() <= 7);
    header.objects = static_cast<std::uint8_t>(objects.size());
    Message message{address, header, {}};
    for (const std::uint32_t object : objects) {
        for (unsigned shift = 0; shift < 32; shift += 8)
            message.payload.push_back(static_cast<std::uint8_t>(object >> shift));
    }
    return message;
}

ExtendedHeader unpack_extended_header(std::uint16_t bits) {
    return {bits & 0x1FF, (bits >> 10U & 1U) != 0, bits >> 11U & 0xF, (bits >> 15U & 1U) != 0};
}

std::uint16_t pack(const ExtendedHeader& header) {
    return static_cast<std::uint16_t>(
        (static_cast<unsigned>(header.data_bytes) & 0x1FFU) | (header.request_chunk ? 1U << 10U : 0U) |
        (static_cast<unsigned>(header.chunk) & 0xFU) << 11U | (header.chunked ? 1U << 15U : 0U));
}

std::optional<ExtendedHeader> extended_header_of(const Message& message) {
    if (!message.header.extended || message.payload.size() < extended_header_bytes)
        return std::nullopt;
    return unpack_extended_header(half_word(message.payload));
}

std::vector<std::uint8_t> extended_data_of(const Message& message) {
    const auto header = extended_header_of(message);
    if (!header)
        return {};
    constexpr int chunk_bytes = 26;
    const int before = header->chunked ? header->chunk * chunk_bytes : 0;
    const int due = header->data_bytes - before;
    const auto there = static_cast<int>(message.payload.size() - extended_header_bytes);
    const int count = std::max(0, std::min(due, there));
    const auto first = message.payload.begin() + extended_header_bytes;
    return {first, first + count};
}

std::vector<std::uint8_t> bytes_of(const Message& message) {
    const std::uint16_t header = pack(message.header);
    std::vector<std::uint8_t> bytes(2 + message.payload.size());
    bytes[0] = static_cast<std::uint8_t>(header);
    bytes[1] = static_cast<std::uint8_t>(header >> 8U);
    std::copy(message.payload.begin(), message.payload.end(), bytes.begin() + 2);
    return bytes;
}

std::optional<Message> message_from(Address address, std::span<const std::uint8_t> bytes) {
    if (bytes.size() < 2)
        return std::nullopt;
    Message message{address, unpack_header(half_word(bytes)), {}};
    message.payload.assign(bytes.begin() + 2, bytes.end());
    return message;
}

bool length_agrees(const Message& message) {
    const auto extended = extended_header_of(message);
    if (message.header.extended && !extended)
        return false;
    if (extended && !extended->chunked)
        return message.payload.size() ==
               extended_header_bytes + static_cast<std::size_t>(extended->data_bytes);
    return message.payload.size() == std::size_t{4} * message.header.objects;
}

std::uint32_t crc32(std::span<const std::uint8_t> bytes) {
    return static_cast<std::uint32_t>(::crc32(0, bytes.data(), static_cast<uInt>(bytes.size())));
}

}  // namespace eh::pd
