// SPDX-License-Identifier: GPL-3.0-or-later
// One message of USB Power Delivery as it stands on the wire: whom it addresses, header and payload.
//
// Bit layout: USB Power Delivery specification, revision 3 (from memory; the tests hold it against the
// kernel's include/linux/usb/pd.h). Meaning of the payload: core/usbc/pd_objects.h; sentences:
// core/usbc/pd_text.h.
#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <vector>

namespace eh::pd {

// The ordered set that starts a message says who is meant: the port partner, or one end of the cable.
enum class Address : std::uint8_t {
    sop,
    sop_prime,
    sop_double_prime,
    sop_prime_debug,
    sop_double_prime_debug
};

enum class ControlType : std::uint8_t {
    good_crc = 1,
    goto_min = 2,
    accept = 3,
    reject = 4,
    ping = 5,
    ps_rdy = 6,
    get_source_cap = 7,
    get_sink_cap = 8,
    dr_swap = 9,
    pr_swap = 10,
    vconn_swap = 11,
    wait = 12,
    soft_reset = 13,
    data_reset = 14,
    data_reset_complete = 15,
    not_supported = 16,
    get_source_cap_extended = 17,
    get_status = 18,
    fr_swap = 19,
    get_pps_status = 20,
    get_country_codes = 21,
    get_sink_cap_extended = 22,
    get_source_info = 23,
    get_revision = 24,
};

enum class DataType : std::uint8_t {
    source_capabilities = 1,
    request = 2,
    bist = 3,
    sink_capabilities = 4,
    battery_status = 5,
    alert = 6,
    get_country_info = 7,
    enter_usb = 8,
    epr_request = 9,
    epr_mode = 10,
    source_info = 11,
    revision = 12,
    vendor_defined = 15,
};

enum class ExtendedType : std::uint8_t {
    source_capabilities_extended = 1,
    status = 2,
    get_battery_cap = 3,
    get_battery_status = 4,
    battery_capabilities = 5,
    get_manufacturer_info = 6,
    manufacturer_info = 7,
    security_request = 8,
    security_response = 9,
    firmware_update_request = 10,
    firmware_update_response = 11,
    pps_status = 12,
    country_info = 13,
    country_codes = 14,
    sink_capabilities_extended = 15,
    extended_control = 16,
    epr_source_capabilities = 17,
    epr_sink_capabilities = 18,
    vendor_defined_extended = 30,
};

struct Header {
    std::uint8_t type = 0;      // 0..31: a ControlType, DataType or ExtendedType
    bool data_host = false;     // sender's data role; reserved towards a cable
    std::uint8_t revision = 2;  // as coded: 0, 1, 2 for revisions 1, 2, 3
    bool power_source = false;  // sender's power role; towards a cable: sent by the cable's plug
    std::uint8_t id = 0;        // 0..7, counts up
    std::uint8_t objects = 0;   // 0..7 data objects of four bytes
    bool extended = false;
    friend bool operator==(const Header&, const Header&) = default;
};

// Every 16 bits are some header: pack() and unpack_header() are each other's inverse.
Header unpack_header(std::uint16_t bits);
std::uint16_t pack(const Header& header);

struct Message {
    Address address = Address::sop;
    Header header;
    std::vector<std::uint8_t> payload;  // after the header, before the checksum
    friend bool operator==(const Message&, const Message&) = default;
};

enum class MessageClass : std::uint8_t { control, data, extended };
// By the header alone: control without objects, data with them, extended by its bit.
MessageClass class_of(const Header& header);
// Whether a message is of this type, by class and number.
bool is(const Message& message, ControlType type);
bool is(const Message& message, DataType type);
bool is(const Message& message, ExtendedType type);

// The payload as data objects, little end first; a rest of less than four bytes is left away.
std::vector<std::uint32_t> objects_of(const Message& message);
// A message of these data objects, whose count goes into the header. Requires at most 7.
Message with_objects(Address address, Header header, std::span<const std::uint32_t> objects);

// An extended message's own header, the first two bytes of its payload.
struct ExtendedHeader {
    int data_bytes = 0;  // of the whole message, over all chunks
    bool request_chunk = false;
    int chunk = 0;
    bool chunked = false;
    friend bool operator==(const ExtendedHeader&, const ExtendedHeader&) = default;
};
ExtendedHeader unpack_extended_header(std::uint16_t bits);
std::uint16_t pack(const ExtendedHeader& header);
// nullopt when the message is not extended or too short to have one.
std::optional<ExtendedHeader> extended_header_of(const Message& message);
// The bytes behind the extended header, padding left away.
std::vector<std::uint8_t> extended_data_of(const Message& message);

// Header and payload as bytes, without checksum.
std::vector<std::uint8_t> bytes_of(const Message& message);
// The message of these bytes; nullopt when there are not even two.
std::optional<Message> message_from(Address address, std::span<const std::uint8_t> bytes);
// Whether the payload is as long as the header says. Unchunked extended messages say so in their own header.
bool length_agrees(const Message& message);

// CRC-32 as of IEEE 802.3, which the specification takes over.
std::uint32_t crc32(std::span<const std::uint8_t> bytes);

}  // namespace eh::pd
