// SPDX-License-Identifier: GPL-3.0-or-later
// Headers and data objects against the kernel's own packing (include/linux/usb/pd.h, pd_vdo.h), compiled from
// the Debian package linux-headers-*-common.
#include <zlib.h>

#include <catch2/catch.hpp>

#include "core/base/random.h"
#include "core/usbc/pd_message.h"
#include "core/usbc/pd_objects.h"
#include "tests/core/usbc/kernel_layouts.h"

using namespace eh;
using namespace eh::pd;

namespace {

// A whole number 0..below-1.
unsigned drawn(Random& random, unsigned below) {
    return std::min(below - 1, static_cast<unsigned>(random.uniform() * below));
}

}  // namespace

TEST_CASE("every 16 bits are a header that packs back into them, as the kernel packs it", "[usbc]") {
    for (std::uint32_t bits = 0; bits <= 0xFFFF; ++bits) {
        const Header h = unpack_header(static_cast<std::uint16_t>(bits));
        if (pack(h) != bits || kernel_header(h.type, h.power_source, h.data_host, h.revision, h.id, h.objects,
                                             h.extended) != bits) {
            CAPTURE(bits);
            FAIL("a header does not come back");
        }
    }
}

TEST_CASE("extended headers pack as the kernel's do", "[usbc]") {
    Random random(1);
    for (int i = 0; i < 2000; ++i) {
        const ExtendedHeader header{static_cast<int>(drawn(random, 512)), random.uniform() < 0.5,
                                    static_cast<int>(drawn(random, 16)), random.uniform() < 0.5};
        const std::uint16_t bits = pack(header);
        CHECK(bits == kernel_extended_header(static_cast<unsigned>(header.data_bytes), header.request_chunk,
                                             static_cast<unsigned>(header.chunk), header.chunked));
        CHECK(unpack_extended_header(bits) == header);
    }
}

TEST_CASE("offers pack as the kernel's do and come back with their volts, amps and watts", "[usbc]") {
    Random random(2);
    for (int i = 0; i < 2000; ++i) {
        const unsigned mv = 50 * drawn(random, 1024);
        const unsigned ma = 10 * drawn(random, 1024);
        const unsigned other_mv = 50 * drawn(random, 1024);
        const unsigned mw = 250 * drawn(random, 1024);
        const auto flag = [&] { return random.uniform() < 0.5; };
        FixedSupply fixed{mv / 1000.0, ma / 1000.0, flag(), flag(), flag(), flag(), flag(), flag(), false};
        CHECK(pack_offer(fixed) == kernel_fixed(mv, ma, fixed.dual_role_power, fixed.higher_capability,
                                                fixed.unconstrained, fixed.usb_communications,
                                                fixed.dual_role_data, fixed.unchunked));
        const Offer back = unpack_offer(pack_offer(fixed));
        REQUIRE(std::holds_alternative<FixedSupply>(back));
        CHECK(std::get<FixedSupply>(back).volts == Approx(mv / 1000.0));
        CHECK(std::get<FixedSupply>(back).amps == Approx(ma / 1000.0));
        CHECK(std::get<FixedSupply>(back).dual_role_data == fixed.dual_role_data);
        CHECK(pack_offer(BatterySupply{mv / 1000.0, other_mv / 1000.0, mw / 1000.0}) ==
              kernel_battery(mv, other_mv, mw));
        CHECK(pack_offer(VariableSupply{mv / 1000.0, other_mv / 1000.0, ma / 1000.0}) ==
              kernel_variable(mv, other_mv, ma));
        const unsigned least = 100 * drawn(random, 256);
        const unsigned most = 100 * drawn(random, 256);
        const unsigned limit = 50 * drawn(random, 128);
        CHECK(pack_offer(ProgrammableSupply{least / 1000.0, most / 1000.0, limit / 1000.0, false}) ==
              kernel_programmable(least, most, limit));
    }
}

TEST_CASE("whatever bits an offer has, reading it loses none but reserved ones", "[usbc]") {
    Random random(3);
    // By the two or four highest bits: what of the rest means something.
    const auto meaning = [](std::uint32_t bits) -> std::uint32_t {
        if (bits >> 30U == 0)
            return 0xFF8FFFFFU;
        if (bits >> 30U != 3)
            return 0xFFFFFFFFU;
        constexpr std::uint32_t programmable = 0xF9FEFF7FU;
        constexpr std::uint32_t extended = 0xF3FEFFFFU;
        constexpr std::uint32_t adjustable = 0xF00FFFFFU;
        switch (bits >> 28U & 3U) {
            case 0:
                return programmable;
            case 1:
                return extended;
            case 2:
                return adjustable;
            default:
                return 0xFFFFFFFFU;
        }
    };
    for (int i = 0; i < 20000; ++i) {
        const auto bits = static_cast<std::uint32_t>(random.uniform() * 4294967296.0);
        CAPTURE(bits);
        CHECK(pack_offer(unpack_offer(bits)) == (bits & meaning(bits)));
    }
}

TEST_CASE("requests pack as the kernel's do, by the kind of offer that they name", "[usbc]") {
    Random random(4);
    for (int i = 0; i < 2000; ++i) {
        const unsigned position = 1 + drawn(random, 7);
        const unsigned a = 10 * drawn(random, 1024);
        const unsigned b = 10 * drawn(random, 1024);
        Request request;
        request.position = static_cast<int>(position);
        request.amps = a / 1000.0;
        request.most_amps = b / 1000.0;
        request.mismatch = random.uniform() < 0.5;
        request.usb_communications = random.uniform() < 0.5;
        request.no_suspend = random.uniform() < 0.5;
        const std::uint32_t bits = pack_request(request, FixedSupply{});
        CHECK(bits == kernel_request_fixed(position, a, b, request.mismatch, request.usb_communications,
                                           request.no_suspend));
        const Request back = unpack_request(bits, FixedSupply{});
        CHECK(back.position == request.position);
        CHECK(back.amps == Approx(request.amps));
        CHECK(back.mismatch == request.mismatch);

        Request battery;
        battery.position = request.position;
        battery.watts = 0.25 * drawn(random, 1024);
        battery.most_watts = 0.25 * drawn(random, 1024);
        CHECK(pack_request(battery, BatterySupply{}) ==
              kernel_request_battery(position, static_cast<unsigned>(battery.watts * 1000.0),
                                     static_cast<unsigned>(battery.most_watts * 1000.0)));
        const unsigned mv = 20 * drawn(random, 2048);
        const unsigned ma = 50 * drawn(random, 128);
        Request programmed;
        programmed.position = request.position;
        programmed.volts = mv / 1000.0;
        programmed.amps = ma / 1000.0;
        CHECK(pack_request(programmed, ProgrammableSupply{}) ==
              kernel_request_programmable(position, mv, ma));
    }
}

TEST_CASE("an extended-range offer of 48 V and 240 W has the specification's bits", "[usbc]") {
    // From memory of the specification, revision 3.1: type 11, augmented type 01, most volts from bit 17 and
    // least volts from bit 8 in 100 mV, watts from bit 0.
    const std::uint32_t bits = 3U << 30U | 1U << 28U | 480U << 17U | 150U << 8U | 240U;
    const Offer offer = unpack_offer(bits);
    REQUIRE(std::holds_alternative<ExtendedRangeSupply>(offer));
    CHECK(most_volts(offer) == Approx(48.0));
    CHECK(watts(offer) == Approx(240.0));
    CHECK(amps_at_most_volts(offer) == Approx(5.0));
    CHECK(pack_offer(offer) == bits);
    Request request;
    request.position = 8;
    request.volts = 36.0;
    request.amps = 5.0;
    const Request back = unpack_request(pack_request(request, offer), offer);
    CHECK(back.volts == Approx(36.0));
    CHECK(back.position == 8);
}

TEST_CASE("message types have the kernel's numbers", "[usbc]") {
    CHECK(kernel_control_type("PD_CTRL_GOOD_CRC") == static_cast<unsigned>(ControlType::good_crc));
    CHECK(kernel_control_type("PD_CTRL_ACCEPT") == static_cast<unsigned>(ControlType::accept));
    CHECK(kernel_control_type("PD_CTRL_REJECT") == static_cast<unsigned>(ControlType::reject));
    CHECK(kernel_control_type("PD_CTRL_PS_RDY") == static_cast<unsigned>(ControlType::ps_rdy));
    CHECK(kernel_control_type("PD_CTRL_WAIT") == static_cast<unsigned>(ControlType::wait));
    CHECK(kernel_control_type("PD_CTRL_SOFT_RESET") == static_cast<unsigned>(ControlType::soft_reset));
    CHECK(kernel_control_type("PD_CTRL_NOT_SUPP") == static_cast<unsigned>(ControlType::not_supported));
    CHECK(kernel_control_type("PD_CTRL_GET_COUNTRY_CODES") ==
          static_cast<unsigned>(ControlType::get_country_codes));
    CHECK(kernel_data_type("PD_DATA_SOURCE_CAP") == static_cast<unsigned>(DataType::source_capabilities));
    CHECK(kernel_data_type("PD_DATA_REQUEST") == static_cast<unsigned>(DataType::request));
    CHECK(kernel_data_type("PD_DATA_SINK_CAP") == static_cast<unsigned>(DataType::sink_capabilities));
    CHECK(kernel_data_type("PD_DATA_ENTER_USB") == static_cast<unsigned>(DataType::enter_usb));
    CHECK(kernel_data_type("PD_DATA_VENDOR_DEF") == static_cast<unsigned>(DataType::vendor_defined));
    CHECK(kernel_extended_type("PD_EXT_STATUS") == static_cast<unsigned>(ExtendedType::status));
    CHECK(kernel_extended_type("PD_EXT_PPS_STATUS") == static_cast<unsigned>(ExtendedType::pps_status));
    CHECK(kernel_extended_type("PD_EXT_COUNTRY_CODES") == static_cast<unsigned>(ExtendedType::country_codes));
}

TEST_CASE("vendor headers and a cable's marker have the kernel's layout", "[usbc]") {
    VendorHeader header{standard_vendor, true, 1, 3, VendorAnswer::acknowledged, 1};
    CHECK(pack(header) == kernel_vendor_header(standard_vendor, 1, 1, 3, 1, 1));
    CHECK(unpack_vendor_header(pack(header)) == header);
    constexpr unsigned five_amps = 2;
    constexpr unsigned fifty_volts = 3;
    auto objects = cable_identity_objects({5.0, 50.0, false});
    const std::uint32_t marked = kernel_passive_cable(fifty_volts, five_amps);
    CHECK((objects[4] & 0x660U) == (marked & 0x660U));
    objects[4] = marked;
    const auto identity = cable_identity_from(objects);
    REQUIRE(identity);
    CHECK(identity->amps == 5.0);
    CHECK(identity->volts == 50.0);
}

TEST_CASE("the checksum is zlib's", "[usbc]") {
    Random random(5);
    for (std::size_t length = 0; length < 300; ++length) {
        std::vector<std::uint8_t> bytes(length);
        for (auto& byte : bytes)
            byte = static_cast<std::uint8_t>(drawn(random, 256));
        CHECK(eh::pd::crc32(bytes) == ::crc32(0, bytes.data(), static_cast<uInt>(length)));
    }
}
