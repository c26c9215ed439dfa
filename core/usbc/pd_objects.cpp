// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/pd_objects.h"

#include <algorithm>
#include <cmath>

namespace eh::pd {
namespace {

enum class SupplyType : std::uint32_t { fixed = 0, battery = 1, variable = 2, augmented = 3 };
enum class AugmentedType : std::uint32_t { programmable = 0, extended_range = 1, adjustable = 2 };

constexpr unsigned type_shift = 30;
constexpr unsigned augmented_shift = 28;

// A number in a coded field: its place, its width and what one step of it is worth.
struct Field {
    unsigned shift;
    unsigned bits;
    double unit;

    [[nodiscard]] std::uint32_t mask() const { return (1U << bits) - 1U; }
    [[nodiscard]] double of(std::uint32_t word) const { return ((word >> shift) & mask()) * unit; }
    [[nodiscard]] std::uint32_t coded(double value) const {
        const double steps = std::round(value / unit);
        const double most = mask();
        return static_cast<std::uint32_t>(std::isnan(steps) ? 0.0 : std::clamp(steps, 0.0, most)) << shift;
    }
};

constexpr Field fixed_volts{10, 10, 0.05};
constexpr Field fixed_amps{0, 10, 0.01};
constexpr Field range_most_volts{20, 10, 0.05};
constexpr Field range_least_volts{10, 10, 0.05};
constexpr Field battery_watts{0, 10, 0.25};
constexpr Field programmable_most_volts{17, 8, 0.1};
constexpr Field programmable_least_volts{8, 8, 0.1};
constexpr Field programmable_amps{0, 7, 0.05};
constexpr Field extended_most_volts{17, 9, 0.1};
constexpr Field extended_least_volts{8, 8, 0.1};
constexpr Field extended_watts{0, 8, 1.0};
constexpr Field adjustable_amps_15{10, 10, 0.01};
constexpr Field adjustable_amps_20{0, 10, 0.01};

constexpr Field request_position{28, 4, 1.0};
constexpr Field request_amps{10, 10, 0.01};
constexpr Field request_most_amps{0, 10, 0.01};
constexpr Field request_watts{10, 10, 0.25};
constexpr Field request_most_watts{0, 10, 0.25};
constexpr Field programmable_request_volts{9, 11, 0.02};
// Adjustable supplies take steps of 100 mV, coded in 25 mV with the last two bits 0.
constexpr Field adjustable_request_volts{9, 12, 0.025};
constexpr Field programmable_request_amps{0, 7, 0.05};

bool flag(std::uint32_t word, unsigned bit) {
    return (word >> bit & 1U) != 0;
}
std::uint32_t flag_at(bool value, unsigned bit) {
    return value ? 1U << bit : 0U;
}

FixedSupply unpack_fixed(std::uint32_t bits) {
    FixedSupply supply;
    supply.volts = fixed_volts.of(bits);
    supply.amps = fixed_amps.of(bits);
    supply.dual_role_power = flag(bits, 29);
    supply.higher_capability = flag(bits, 28);
    supply.unconstrained = flag(bits, 27);
    supply.usb_communications = flag(bits, 26);
    supply.dual_role_data = flag(bits, 25);
    supply.unchunked = flag(bits, 24);
    supply.extended_range = flag(bits, 23);
    return supply;
}

struct OfferPacker {
    static std::uint32_t type(SupplyType type) { return static_cast<std::uint32_t>(type) << type_shift; }
    static std::uint32_t type(AugmentedType augmented) {
        return type(SupplyType::augmented) | static_cast<std::uint32_t>(augmented) << augmented_shift;
    }
    std::uint32_t operator()(const FixedSupply& s) const {
        return fixed_volts.coded(s.volts) | fixed_amps.coded(s.amps) | flag_at(s.dual_role_power, 29) |
               flag_at(s.higher_capability, 28) | flag_at(s.unconstrained, 27) |
               flag_at(s.usb_communications, 26) | flag_at(s.dual_role_data, 25) | flag_at(s.unchunked, 24) |
               flag_at(s.extended_range, 23);
    }
    std::uint32_t operator()(const BatterySupply& s) const {
        return type(SupplyType::battery) | range_most_volts.coded(s.most_volts) |
               range_least_volts.coded(s.least_volts) | battery_watts.coded(s.watts);
    }
    std::uint32_t operator()(const VariableSupply& s) const {
        return type(SupplyType::variable) | range_most_volts.coded(s.most_volts) |
               range_least_volts.coded(s.least_volts) | fixed_amps.coded(s.amps);
    }
    std::uint32_t operator()(const ProgrammableSupply& s) const {
        return type(AugmentedType::programmable) | flag_at(s.power_limited, 27) |
               programmable_most_volts.coded(s.most_volts) | programmable_least_volts.coded(s.least_volts) |
               programmable_amps.coded(s.amps);
    }
    std::uint32_t operator()(const ExtendedRangeSupply& s) const {
        return type(AugmentedType::extended_range) | extended_most_volts.coded(s.most_volts) |
               extended_least_volts.coded(s.least_volts) | extended_watts.coded(s.watts);
    }
    std::uint32_t operator()(const AdjustableSupply& s) const {
        return type(AugmentedType::adjustable) | adjustable_amps_15.coded(s.amps_to_15_volts) |
               adjustable_amps_20.coded(s.amps_to_20_volts);
    }
    std::uint32_t operator()(const UnknownSupply& s) const { return s.bits; }
};

template <typename... F>
struct Overloaded : F... {
    using F::operator()...;
};
template <typename... F>
Overloaded(F...) -> Overloaded<F...>;

constexpr unsigned cable_amps_shift = 5;
constexpr unsigned cable_volts_shift = 9;
constexpr unsigned cable_extended_bit = 17;
constexpr std::uint32_t passive_cable_type = 3;
constexpr std::uint32_t active_cable_type = 4;
constexpr unsigned product_type_shift = 27;
constexpr std::size_t cable_object = 4;  // header, identity, certificate, product, cable

}  // namespace

Offer unpack_offer(std::uint32_t bits) {
    switch (static_cast<SupplyType>(bits >> type_shift)) {
        case SupplyType::fixed:
            return unpack_fixed(bits);
        case SupplyType::battery:
            return BatterySupply{range_least_volts.of(bits), range_most_volts.of(bits),
                                 battery_watts.of(bits)};
        case SupplyType::variable:
            return VariableSupply{range_least_volts.of(bits), range_most_volts.of(bits), fixed_amps.of(bits)};
        case SupplyType::augmented:
            break;
    }
    switch (static_cast<AugmentedType>(bits >> augmented_shift & 3U)) {
        case AugmentedType::programmable:
            return ProgrammableSupply{programmable_least_volts.of(bits), programmable_most_volts.of(bits),
                                      programmable_amps.of(bits), flag(bits, 27)};
        case AugmentedType::extended_range:
            return ExtendedRangeSupply{extended_least_volts.of(bits), extended_most_volts.of(bits),
                                       extended_watts.of(bits)};
        case AugmentedType::adjustable:
            return AdjustableSupply{adjustable_amps_15.of(bits), adjustable_amps_20.of(bits)};
    }
    return UnknownSupply{bits};
}

std::uint32_t pack_offer(const Offer& offer) {
    return std::visit(OfferPacker{}, offer);
}

double most_volts(const Offer& offer) {
    return std::visit(Overloaded{
                          [](const FixedSupply& s) { return s.volts; },
                          [](const AdjustableSupply& s) { return s.amps_to_20_volts > 0.0 ? 20.0 : 15.0; },
                          [](const UnknownSupply&) { return 0.0; },
                          [](const auto& s) { return s.most_volts; },
                      },
                      offer);
}

double amps_at_most_volts(const Offer& offer) {
    const auto from_watts = [](double watts, double volts) { return volts > 0.0 ? watts / volts : 0.0; };
    return std::visit(Overloaded{
                          [&](const BatterySupply& s) { return from_watts(s.watts, s.most_volts); },
                          [&](const ExtendedRangeSupply& s) { return from_watts(s.watts, s.most_volts); },
                          [](const AdjustableSupply& s) {
                              return s.amps_to_20_volts > 0.0 ? s.amps_to_20_volts : s.amps_to_15_volts;
                          },
                          [](const UnknownSupply&) { return 0.0; },
                          [](const auto& s) { return s.amps; },
                      },
                      offer);
}

double watts(const Offer& offer) {
    return most_volts(offer) * amps_at_most_volts(offer);
}

Request unpack_request(std::uint32_t bits, const Offer& offer) {
    Request request;
    request.position = static_cast<int>(request_position.of(bits));
    request.mismatch = flag(bits, 26);
    request.usb_communications = flag(bits, 25);
    request.no_suspend = flag(bits, 24);
    request.unchunked = flag(bits, 23);
    request.extended_range = flag(bits, 22);
    if (std::holds_alternative<BatterySupply>(offer)) {
        request.watts = request_watts.of(bits);
        request.most_watts = request_most_watts.of(bits);
    } else if (std::holds_alternative<ProgrammableSupply>(offer)) {
        request.volts = programmable_request_volts.of(bits);
        request.amps = programmable_request_amps.of(bits);
    } else if (std::holds_alternative<ExtendedRangeSupply>(offer) ||
               std::holds_alternative<AdjustableSupply>(offer)) {
        request.volts = adjustable_request_volts.of(bits);
        request.amps = programmable_request_amps.of(bits);
    } else {
        request.amps = request_amps.of(bits);
        request.most_amps = request_most_amps.of(bits);
    }
    return request;
}

std::uint32_t pack_request(const Request& request, const Offer& offer) {
    const std::uint32_t bits = request_position.coded(request.position) | flag_at(request.mismatch, 26) |
                               flag_at(request.usb_communications, 25) | flag_at(request.no_suspend, 24) |
                               flag_at(request.unchunked, 23) | flag_at(request.extended_range, 22);
    if (std::holds_alternative<BatterySupply>(offer))
        return bits | request_watts.coded(request.watts) | request_most_watts.coded(request.most_watts);
    if (std::holds_alternative<ProgrammableSupply>(offer))
        return bits | programmable_request_volts.coded(request.volts) |
               programmable_request_amps.coded(request.amps);
    if (std::holds_alternative<ExtendedRangeSupply>(offer) || std::holds_alternative<AdjustableSupply>(offer))
        return bits |
               (adjustable_request_volts.coded(request.volts) & ~(3U << adjustable_request_volts.shift)) |
               programmable_request_amps.coded(request.amps);
    return bits | request_amps.coded(request.amps) | request_most_amps.coded(request.most_amps);
}

VendorHeader unpack_vendor_header(std::uint32_t bits) {
    VendorHeader header;
    header.vendor = static_cast<std::uint16_t>(bits >> 16U);
    header.structured = flag(bits, 15);
    header.version = static_cast<std::uint8_t>(bits >> 13U & 3U);
    header.position = static_cast<std::uint8_t>(bits >> 8U & 7U);
    header.answer = static_cast<VendorAnswer>(bits >> 6U & 3U);
    header.command = static_cast<std::uint8_t>(bits & 0x1FU);
    return header;
}

std::uint32_t pack(const VendorHeader& header) {
    return static_cast<std::uint32_t>(header.vendor) << 16U | flag_at(header.structured, 15) |
           (header.version & 3U) << 13U | (header.position & 7U) << 8U |
           (static_cast<std::uint32_t>(header.answer) & 3U) << 6U | (header.command & 0x1FU);
}

std::optional<CableIdentity> cable_identity_from(std::span<const std::uint32_t> objects) {
    if (objects.size() <= cable_object)
        return std::nullopt;
    const VendorHeader header = unpack_vendor_header(objects[0]);
    const std::uint32_t product = objects[1] >> product_type_shift & 7U;
    if (!header.structured || header.answer != VendorAnswer::acknowledged ||
        header.command != static_cast<std::uint8_t>(VendorCommand::discover_identity) ||
        (product != passive_cable_type && product != active_cable_type))
        return std::nullopt;
    const std::uint32_t cable = objects[cable_object];
    CableIdentity identity;
    identity.amps = (cable >> cable_amps_shift & 3U) == 2 ? 5.0 : 3.0;
    identity.volts = 20.0 + 10.0 * (cable >> cable_volts_shift & 3U);
    identity.extended_range = flag(cable, cable_extended_bit);
    return identity;
}

std::vector<std::uint32_t> cable_identity_objects(const CableIdentity& identity) {
    VendorHeader header;
    header.vendor = standard_vendor;
    header.structured = true;
    header.version = 1;
    header.answer = VendorAnswer::acknowledged;
    header.command = static_cast<std::uint8_t>(VendorCommand::discover_identity);
    const double steps = std::clamp(std::round((identity.volts - 20.0) / 10.0), 0.0, 3.0);
    const std::uint32_t cable = (identity.amps > 3.0 ? 2U : 1U) << cable_amps_shift |
                                static_cast<std::uint32_t>(steps) << cable_volts_shift |
                                flag_at(identity.extended_range, cable_extended_bit);
    return {pack(header), passive_cable_type << product_type_shift, 0U, 0U, cable};
}

}  // namespace eh::pd
