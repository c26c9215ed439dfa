// SPDX-License-Identifier: GPL-3.0-or-later
// What a machine shows and says of itself: signs of life, messages, what becomes of the percentage.
#include "core/machine/model/machine_sign.h"

#include <catch2/catch.hpp>

#include <numeric>

#include "core/base/files.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/simulation/observation.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

PoweredView view_of(const std::vector<FaultInstance>& faults, const BenchConfiguration& bench,
                    const PartDraw& draw = {}) {
    MachineModel model(shared_table("usbc-dual").plan(), faults, draw);
    DcSolver solver;
    PoweredView view = look_at(model, bench, solver);
    REQUIRE(view.valid);
    return view;
}

double share_of(const PoweredView& view, MachineSign sign) {
    return double{view.signs[static_cast<std::size_t>(sign)]};
}

BenchConfiguration with_pack_out() {
    BenchConfiguration bench = plugged("p1");
    bench.battery_in = false;
    return bench;
}

}  // namespace

TEST_CASE("a machine that charges runs, and a dead one shows nothing", "[signs]") {
    CHECK(share_of(view_of({}, plugged("p1")), MachineSign::runs) > 0.8);
    BenchConfiguration nothing = with_pack_out();
    nothing.charger_connected = false;
    CHECK(share_of(view_of({}, nothing), MachineSign::nothing) > 0.8);
    // Kept off on purpose it waits, and most makes light a lamp beside the plug.
    BenchConfiguration off = plugged("p1");
    off.button = Button::kept_off;
    const PoweredView waiting = view_of({}, off);
    CHECK(share_of(waiting, MachineSign::lamp) > share_of(waiting, MachineSign::nothing));
    CHECK(share_of(waiting, MachineSign::runs) < 0.1);
}

TEST_CASE("a machine that loses its supply again and again starts and stops or blinks", "[signs]") {
    // Common practice: an adapter that has too few volts brings the machine down with it, over and over,
    // where no pack holds it. Not on every make: some never start on it.
    BenchConfiguration own = with_pack_out();
    own.charger = Owner::customer;
    const SignShares& restarts =
        shipped_knowledge().signs.of_state[static_cast<std::size_t>(SignState::restarts)];
    std::optional<PoweredView> restarting;
    for (std::uint64_t seed = 1; seed <= 12 && !restarting; ++seed) {
        PartDraw drawn;
        drawn.typical = false;
        drawn.seed = seed;
        MachineModel model(shared_table(barrel).plan(), {{"adapter_low_volts", "charger_barrel"}}, drawn);
        DcSolver solver;
        const PoweredView view = look_at(model, own, solver);
        if (view.valid && view.signs == restarts)
            restarting = view;
    }
    REQUIRE(restarting);
    CHECK(share_of(*restarting, MachineSign::tries) + share_of(*restarting, MachineSign::blinking) >
          share_of(*restarting, MachineSign::runs));
    // With a pack it runs through.
    BenchConfiguration with_pack = plugged("p1");
    with_pack.charger = Owner::customer;
    CHECK(share_of(view_of({{"charger_trips", "charger_usb-c"}}, with_pack), MachineSign::runs) > 0.8);
}

TEST_CASE("shares of signs must add up, and none may be missing", "[signs]") {
    const auto with_off = [](const std::string& off) {
        const std::string whole =
            R"({"nothing": 1, "dim_lamp": 0, "lamp": 0, "blinking": 0, "greets": 0, "tries": 0, "runs": 0})";
        std::string text = R"({"format": "eager-hound.signs/1", "states": {"off": )" + off;
        for (const char* state : {"stuck", "waits_on_pack", "waits_on_adapter", "restarts", "runs"})
            text += std::string(", \"") + state + "\": " + whole;
        return parse_signs(
            text + R"(}, "messages": {"slow_charger": 0.3, "service_battery": 0.1, "on_battery": 0.4}})",
            "signs.json");
    };
    CHECK(
        with_off(
            R"({"nothing": 0.9, "dim_lamp": 0.1, "lamp": 0, "blinking": 0, "greets": 0, "tries": 0, "runs": 0})")
            .ok());
    const auto too_much = with_off(
        R"({"nothing": 0.9, "dim_lamp": 0.2, "lamp": 0, "blinking": 0, "greets": 0, "tries": 0, "runs": 0})");
    REQUIRE_FALSE(too_much.ok());
    CHECK_THAT(too_much.error().text(), Catch::Contains("states: off") && Catch::Contains("add up to 110 %"));
    const auto missing =
        with_off(R"({"nothing": 1, "dim_lamp": 0, "lamp": 0, "blinking": 0, "greets": 0, "tries": 0})");
    REQUIRE_FALSE(missing.ok());
    CHECK_THAT(missing.error().text(), Catch::Contains("runs"));
    for (const SignShares& shares : shipped_knowledge().signs.of_state)
        CHECK(std::accumulate(shares.begin(), shares.end(), 0.0) == Approx(1.0));
}

TEST_CASE("messages that leave nothing to most makes are refused", "[signs][firmware]") {
    const auto shipped = read_text_file(default_data_directory() / "signs.json");
    REQUIRE(shipped.ok());
    const std::size_t at = shipped->find("\"messages\": ");
    REQUIRE(at != std::string::npos);
    const auto parsed =
        parse_signs(shipped->substr(0, at) +
                        R"("messages": {"slow_charger": 0.4, "service_battery": 0.2, "on_battery": 0.45}})",
                    "signs.json");
    REQUIRE_FALSE(parsed.ok());
    CHECK_THAT(parsed.error().text(), Catch::Contains("messages") && Catch::Contains("100 % or more"));
}

// Common practice: the mark of an adapter comes from the charger chip's own input on many makes, from the
// conversation at the port on others.
TEST_CASE("a contract that ends before the charger is no adapter to some makes", "[signs][firmware]") {
    const auto on_battery = static_cast<std::size_t>(FirmwareMessage::on_battery);
    const double share = double{shipped_knowledge().signs.go_by_charger_input};
    REQUIRE(share > 0.0);
    const PoweredView stopped = view_of({{"switch_open", "sw1"}}, plugged("p1"));
    REQUIRE(stopped.meter.volts > 9.0);
    CHECK(message_shares(stopped)[on_battery] == Approx(share));
    CHECK(message_shares(view_of({}, plugged("p1")))[on_battery] == 0.0);
    BenchConfiguration unplugged = plugged("p1");
    unplugged.charger_connected = false;
    CHECK(message_shares(view_of({}, unplugged))[on_battery] == 1.0);
    // The other port reaches the charger.
    CHECK(message_shares(view_of({{"switch_open", "sw1"}}, plugged("p2")))[on_battery] == 0.0);
}

TEST_CASE("whatever a machine shows, its messages add up, and each word is read back", "[signs][firmware]") {
    for (int m = 0; m < firmware_message_count; ++m) {
        const auto message = static_cast<FirmwareMessage>(m);
        CHECK(firmware_message_from(to_text(message)) == message);
        for (const float slow : {0.0F, 0.35F}) {
            for (const float service : {0.0F, 0.15F}) {
                PoweredView view;
                view.firmware = message;
                view.called_on_battery = service / 2.0F;
                view.called_slow = slow;
                view.asks_for_service = service;
                const MessageShares shares = message_shares(view);
                CHECK(std::accumulate(shares.begin(), shares.end(), 0.0) == Approx(1.0));
                CHECK(shares[static_cast<std::size_t>(message)] >= 0.4);
            }
        }
    }
    for (int t = 0; t < charge_trend_count; ++t)
        CHECK(charge_trend_from(to_text(static_cast<ChargeTrend>(t))) == static_cast<ChargeTrend>(t));
    for (int s = 0; s < machine_sign_count; ++s)
        CHECK(machine_sign_from(to_text(static_cast<MachineSign>(s))) == static_cast<MachineSign>(s));
    CHECK_FALSE(machine_sign_from("moon"));
}

TEST_CASE("a charger that gives 5 V alone is called slow by some makes, a good one by none",
          "[signs][firmware]") {
    const auto slow = static_cast<std::size_t>(FirmwareMessage::slow_charger);
    BenchConfiguration own = plugged("p1");
    own.charger = Owner::customer;
    CHECK(message_shares(view_of({{"charger_5v_only", "charger_usb-c"}}, own))[slow] > 0.1);
    CHECK(message_shares(view_of({}, plugged("p1")))[slow] == 0.0);
    const auto service = static_cast<std::size_t>(FirmwareMessage::service_battery);
    CHECK(message_shares(view_of({{"battery_dead", "bat"}}, plugged("p1")))[service] > 0.0);
}

TEST_CASE("the percentage rises while it charges, stands at a limit, and falls without an adapter",
          "[signs][firmware]") {
    CHECK(view_of({}, plugged("p1")).trend == ChargeTrend::rising);
    CHECK(view_of({{"charge_limit_set", "bat"}}, plugged("p1")).trend == ChargeTrend::flat);
    BenchConfiguration alone = plugged("p1");
    alone.charger_connected = false;
    alone.button = Button::pressed;  // off on its pack until then
    const PoweredView on_battery = view_of({}, alone);
    REQUIRE(on_battery.firmware == FirmwareMessage::on_battery);
    CHECK(on_battery.trend == ChargeTrend::falling);
    CHECK_FALSE(view_of({}, with_pack_out()).trend.has_value());
}
