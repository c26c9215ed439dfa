// SPDX-License-Identifier: GPL-3.0-or-later
// What the data objects of USB Power Delivery mean: offers, requests, a cable's identity. SI units.
//
// Layouts: USB Power Delivery specification, revision 3; those that the kernel's include/linux/usb/pd.h and
// pd_vdo.h hold too are tested against it, extended-range and adjustable ones are from memory of the
// specification.
#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <variant>
#include <vector>

namespace eh::pd {

struct FixedSupply {
    double volts = 0.0;
    double amps = 0.0;
    bool dual_role_power = false;
    bool higher_capability = false;  // of a source: USB suspend supported; of a sink: needs more than 5 V
    bool unconstrained = false;
    bool usb_communications = false;
    bool dual_role_data = false;
    bool unchunked = false;
    bool extended_range = false;
    friend bool operator==(const FixedSupply&, const FixedSupply&) = default;
};
struct BatterySupply {
    double least_volts = 0.0, most_volts = 0.0, watts = 0.0;
    friend bool operator==(const BatterySupply&, const BatterySupply&) = default;
};
struct VariableSupply {
    double least_volts = 0.0, most_volts = 0.0, amps = 0.0;
    friend bool operator==(const VariableSupply&, const VariableSupply&) = default;
};
// Programmable within the standard range, in steps of 20 mV; limits its current.
struct ProgrammableSupply {
    double least_volts = 0.0, most_volts = 0.0, amps = 0.0;
    bool power_limited = false;
    friend bool operator==(const ProgrammableSupply&, const ProgrammableSupply&) = default;
};
// Adjustable in the extended range, above 20 V.
struct ExtendedRangeSupply {
    double least_volts = 0.0, most_volts = 0.0, watts = 0.0;
    friend bool operator==(const ExtendedRangeSupply&, const ExtendedRangeSupply&) = default;
};
// Adjustable within the standard range: amps up to 15 V, and above it up to 20 V (0: not offered).
struct AdjustableSupply {
    double amps_to_15_volts = 0.0, amps_to_20_volts = 0.0;
    friend bool operator==(const AdjustableSupply&, const AdjustableSupply&) = default;
};
struct UnknownSupply {
    std::uint32_t bits = 0;
    friend bool operator==(const UnknownSupply&, const UnknownSupply&) = default;
};

using Offer = std::variant<FixedSupply, BatterySupply, VariableSupply, ProgrammableSupply,
                           ExtendedRangeSupply, AdjustableSupply, UnknownSupply>;

// Every 32 bits are some offer. pack_offer() rounds to the layout's units and clamps to its ranges; packing
// what was unpacked gives the same bits where no reserved bit was set.
Offer unpack_offer(std::uint32_t bits);
std::uint32_t pack_offer(const Offer& offer);

// The highest volts that an offer reaches, and the amps and watts to be had there.
double most_volts(const Offer& offer);
double amps_at_most_volts(const Offer& offer);
double watts(const Offer& offer);

// A sink's request. Which fields count depends on the kind of offer that it names.
struct Request {
    int position = 0;  // of the offer in the list, from 1
    bool mismatch = false;
    bool usb_communications = false;
    bool no_suspend = false;
    bool unchunked = false;
    bool extended_range = false;
    double amps = 0.0;       // operating; fixed, variable, programmable, adjustable
    double most_amps = 0.0;  // fixed, variable
    double watts = 0.0;      // battery
    double most_watts = 0.0;
    double volts = 0.0;  // programmable and adjustable: the volts asked for
    friend bool operator==(const Request&, const Request&) = default;
};
Request unpack_request(std::uint32_t bits, const Offer& offer);
std::uint32_t pack_request(const Request& request, const Offer& offer);

enum class VendorCommand : std::uint8_t {
    discover_identity = 1,
    discover_svids = 2,
    discover_modes = 3,
    enter_mode = 4,
    exit_mode = 5,
    attention = 6,
};
enum class VendorAnswer : std::uint8_t { asked = 0, acknowledged = 1, refused = 2, busy = 3 };

// The first object of a vendor-defined message.
struct VendorHeader {
    std::uint16_t vendor = 0;
    bool structured = false;
    std::uint8_t version = 0;
    std::uint8_t position = 0;
    VendorAnswer answer = VendorAnswer::asked;
    std::uint8_t command = 0;  // a VendorCommand where structured
    friend bool operator==(const VendorHeader&, const VendorHeader&) = default;
};
VendorHeader unpack_vendor_header(std::uint32_t bits);
std::uint32_t pack(const VendorHeader& header);

inline constexpr std::uint16_t standard_vendor = 0xFF00;  // asks and answers of the specification itself

// What a cable's marker says of it.
struct CableIdentity {
    double amps = 3.0;
    double volts = 20.0;
    bool extended_range = false;
    friend bool operator==(const CableIdentity&, const CableIdentity&) = default;
};
// From the objects of an acknowledged Discover Identity; nullopt when it is none of a cable.
std::optional<CableIdentity> cable_identity_from(std::span<const std::uint32_t> objects);
// The objects of a passive cable's answer.
std::vector<std::uint32_t> cable_identity_objects(const CableIdentity& identity);

}  // namespace eh::pd
