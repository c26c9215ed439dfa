// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/entry/quick_line.h"

#include "core/base/random.h"
#include "tests/support/seen.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {
Result<QuickEntry> typed(const std::string& line, const BenchConfiguration& bench = plugged("p1")) {
    return parse_quick_line(line, topology(chained), bench);
}
}  // namespace

TEST_CASE("readings are understood as they are typed with one hand", "[quickline]") {
    const auto ohms = typed("p2 vbus 3r3", for_ohms());
    REQUIRE(ohms.ok());
    CHECK(ohms->reading.kind() == ReadingKind::net_ohms);
    CHECK(ohms->reading.place() == "vbus2");
    CHECK(number_of(ohms->reading).value() == Approx(3.3));
    CHECK(ohms->warning.empty());

    const auto rail = typed("main 12.6 v");
    REQUIRE(rail.ok());
    CHECK(rail->reading.kind() == ReadingKind::net_volts);
    CHECK(rail->reading.place() == "main");
    CHECK(number_of(rail->reading).value() == Approx(12.6));

    const auto open = typed("vbus p1 ol", for_ohms());
    REQUIRE(open.ok());
    CHECK_FALSE(number_of(open->reading));
    CHECK(open->reading.place() == "vbus1");

    const auto hot = typed("hot pc2 +30");
    REQUIRE(hot.ok());
    CHECK(hot->reading.kind() == ReadingKind::hot_part);
    CHECK(hot->reading.place() == "pc2");
    CHECK(number_of(hot->reading).value() == Approx(30.0));

    const auto cool = typed("hot none");
    REQUIRE(cool.ok());
    CHECK(cool->reading.kind() == ReadingKind::hot_part);
    CHECK(cool->reading.place().empty());

    const auto injected = typed("inject vbus2 1v 3a 0.31v 2.9a cv2 +42", for_ohms());
    REQUIRE(injected.ok());
    CHECK(injected->reading.kind() == ReadingKind::injection);
    REQUIRE(injected->reading.configuration.injection);
    CHECK(injected->reading.configuration.injection->net == "vbus2");
    CHECK(injected->reading.configuration.injection->limit_amps == Approx(3.0));
    CHECK(meter_of(injected->reading).volts == Approx(0.31));
    CHECK(meter_of(injected->reading).amps == Approx(2.9));
    CHECK(injected->reading.place() == "cv2");
    CHECK(number_of(injected->reading).value() == Approx(42.0));
    CHECK(injected->warning.empty());
    CHECK(typed("inject vbus2 1v 3a 0.31v 2.9a none", for_ohms())->reading.place().empty());
    CHECK_FALSE(typed("inject vbus2 1v 3a", for_ohms()).ok());
    CHECK_FALSE(typed("inject vbus2 1v 3a 0.3a 2.9v none", for_ohms()).ok());
    CHECK_FALSE(typed("inject vbus2 1v 3a 0.31v 2.9a none")->warning.empty());

    const auto meter = typed("p2 5,02 0.18");
    REQUIRE(meter.ok());
    CHECK(meter->reading.kind() == ReadingKind::meter);
    CHECK(meter->reading.configuration.port == "p2");
    CHECK(meter_of(meter->reading).volts == Approx(5.02));
    CHECK(meter_of(meter->reading).amps == Approx(0.18));

    const auto turned = typed("P1 b 20v 140mA");
    REQUIRE(turned.ok());
    CHECK(turned->reading.configuration.side == PlugSide::b);
    CHECK(meter_of(turned->reading).amps == Approx(0.14));

    CHECK(meter_of(typed("p2 dark")->reading).pattern == MeterPattern::dark);
    CHECK(meter_of(typed("p2 5.1v 0.2a cycling")->reading).pattern == MeterPattern::cycling);
    CHECK_FALSE(std::get<MeterReading>(typed("p2 5.1")->reading.value).amps_known);
    CHECK(std::get<WiggleReading>(typed("wiggle p1 drops")->reading.value).drops_out);
    CHECK_FALSE(std::get<WiggleReading>(typed("wiggle p1 holds")->reading.value).drops_out);
    CHECK(std::get<FirmwareReading>(typed("says adapter unknown")->reading.value).message ==
          FirmwareMessage::adapter_unknown);
    const auto slow = typed("says slow 34% rising slowly");
    REQUIRE(slow.ok());
    CHECK(*slow->reading.as<FirmwareReading>() ==
          FirmwareReading{FirmwareMessage::slow_charger, 34.0, ChargeTrend::rising_slowly});
    CHECK(typed("sign blinking")->reading.as<SignReading>()->sign == MachineSign::blinking);
    CHECK(*typed("look rec1 bent pin cc1")->reading.as<LookReading>() ==
          LookReading{"rec1", Look::broken, Flaw::bent, Contact::cc1});
    CHECK_FALSE(typed("look rec1 bent pin").ok());
    CHECK_FALSE(typed("look rec1 bent pin vbus7").ok());
    CHECK(*typed("look rec1 bent")->reading.as<LookReading>() ==
          LookReading{"rec1", Look::broken, Flaw::bent});
    CHECK(typed("board nothing")->reading.as<BoardLookReading>()->found.empty());
    CHECK(*typed("board rec1 burnt, bat swollen")->reading.as<BoardLookReading>() ==
          BoardLookReading{{{"rec1", Look::burnt}, {"bat", Look::broken, Flaw::swollen}}});
    CHECK(typed("sign p2 dead")->reading.configuration.port == "p2");
    CHECK(typed("p1 20v 0.05a first")->reading.configuration.moment == Moment::at_once);
    CHECK(typed("p1 20v 1.5a cut")->reading.configuration.power_was_cut);
    CHECK(typed("pd 3v3 1.42 v")->reading.place() == "pd3v3");
}

TEST_CASE("what is not understood is refused with the word and a way out", "[quickline]") {
    struct Row {
        const char* line;
        const char* named;
    };
    for (const Row& row : std::vector<Row>{{"", "type a reading"},
                                           {"abc", "abc"},
                                           {"sign blinking runs", "one sign at a moment"},
                                           {"sign whistling", "sign chime"},
                                           {"vbus", "vbus"},
                                           {"main 12.6", "volts or ohms"},
                                           {"main", "value is missing"},
                                           {"main -3r", "not negative"},
                                           {"main 1e9 v", "cannot be right"},
                                           {"p1 3r3", "3r3"},
                                           {"p1", "missing"},
                                           {"p1 5 0.2 7", "one number too many"},
                                           {"main 5v 6v 7v", "one too many"},
                                           {"hot pc2", "kelvin"},
                                           {"hot nothing 30", "nothing"},
                                           {"hot pc2 30 v", "rise"},
                                           {"says hello", "says"},
                                           {"sign moon", "sign nothing"},
                                           {"board", "board nothing"},
                                           {"board rec1", "board nothing"},
                                           {"board moon burnt", "moon"},
                                           {"board bat burnt, bat dirty", "twice"},
                                           {"board nothing bat", "or nothing"},
                                           {"wiggle p1", "drop out"},
                                           {"wiggle p9 drops", "p9"},
                                           {"p9 5 0.1", "p9"},
                                           {"main 3 w", "volts or ohms"}}) {
        const auto entry = typed(row.line);
        CAPTURE(row.line);
        REQUIRE_FALSE(entry.ok());
        INFO(entry.error().message);
        CHECK_THAT(entry.error().message, Catch::Contains(row.named));
    }
}

TEST_CASE("a bench that does not fit the reading is warned of, not refused", "[quickline]") {
    CHECK_THAT(typed("vbus p1 3r3", plugged("p1"))->warning, Catch::Contains("charger"));
    BenchConfiguration battery = for_ohms();
    battery.battery_in = true;
    CHECK_THAT(typed("vbus p1 3r3", battery)->warning, Catch::Contains("battery"));
    CHECK_FALSE(typed("main 5 v", for_ohms())->warning.empty());
    CHECK(typed("p1 5 0.1")->warning.empty());
}

TEST_CASE("every completion is the beginning of a line that is understood", "[quickline]") {
    for (const char* start : {"p", "v", "m", "h", "w", "s", "c", ""}) {
        for (const std::string& completion : quick_line_completions(start, topology(chained), 100)) {
            CHECK(completion.rfind(start, 0) == 0);
            const bool whole = typed(completion).ok();
            const bool with_ohms = typed(completion + "3r3").ok() || typed(completion + " 3r3").ok();
            const bool with_number = typed(completion + "5").ok();
            const bool with_outcome = typed(completion + "0.3v 3a none").ok() ||
                                      typed(completion + "dirty").ok() || typed(completion + "0.52").ok();
            CAPTURE(completion);
            CHECK((whole || with_ohms || with_number || with_outcome));
        }
    }
}

TEST_CASE("the net of every shipped topology can be typed by each of its names", "[quickline]") {
    for (const Topology& machine : shipped_knowledge().topologies) {
        for (const Net& net : machine.nets) {
            std::vector<std::string> names = net.names;
            names.push_back(net.id);
            for (const std::string& name : names) {
                const auto entry = parse_quick_line(name + " 4r7", machine, for_ohms());
                CAPTURE(machine.id, name);
                REQUIRE(entry.ok());
                CHECK(entry->reading.place() == net.id);
            }
        }
    }
}

TEST_CASE("random lines never crash and are understood or refused with words", "[quickline]") {
    Random random(23);
    const std::vector<std::string> words{"p1",   "p2", "vbus",   "main", "hot",  "pc2", "3r3",  "5",
                                         "v",    "ol", "dark",   "a",    "b",    "+3",  "says", "full",
                                         "0.2a", "-7", "wiggle", "1e",   "\xc3", "é",   "pd",   "3v3"};
    for (int i = 0; i < 5000; ++i) {
        std::string line;
        for (int k = random.below(6); k > 0; --k)
            line += words[static_cast<std::size_t>(random.below(static_cast<int>(words.size())))] + " ";
        const auto entry = typed(line);
        CAPTURE(line);
        CHECK((entry.ok() ? !entry->echo.empty() : !entry.error().message.empty()));
    }
}

TEST_CASE("looks, harnesses, diode mode and percentages are typed too", "[quickline]") {
    const auto look = typed("look pc2 burnt");
    REQUIRE(look.ok());
    CHECK(look->reading.kind() == ReadingKind::look);
    CHECK(look->reading.place() == "pc2");
    CHECK(std::get<LookReading>(look->reading.value).seen == Look::burnt);

    const auto through = parse_quick_line("through har 0r1 changes", topology(barrel), for_ohms());
    REQUIRE(through.ok());
    CHECK(through->reading.kind() == ReadingKind::through);
    CHECK(number_of(through->reading).value() == Approx(0.1));
    CHECK(std::get<ThroughReading>(through->reading.value).changes_when_pushed == true);
    CHECK(through->warning.empty());
    CHECK_FALSE(number_of(parse_quick_line("through har ol", topology(barrel), for_ohms())->reading));

    const auto diode = typed("diode vbus p1 0.52", for_ohms());
    REQUIRE(diode.ok());
    CHECK(diode->reading.kind() == ReadingKind::diode);
    CHECK(diode->reading.place() == "vbus1");
    CHECK(number_of(diode->reading).value() == Approx(0.52));
    CHECK_FALSE(typed("diode vbus p1 0.52")->warning.empty());

    const auto says = typed("says not charging 78%");
    REQUIRE(says.ok());
    CHECK(std::get<FirmwareReading>(says->reading.value).message == FirmwareMessage::not_charging);
    REQUIRE(std::get<FirmwareReading>(says->reading.value).percent);
    CHECK(*std::get<FirmwareReading>(says->reading.value).percent == Approx(78.0));
}

TEST_CASE("a net that is not there is refused with those near it, set as a sentence", "[quickline]") {
    const auto refused_line = parse_quick_line("vbus p9 3", topology(chained), {});
    REQUIRE_FALSE(refused_line.ok());
    const std::string& says = refused_line.error().message;
    CAPTURE(says);
    CHECK(says.find("near it are: vbus1, vbus p1, vbus2") != std::string::npos);
    CHECK(says.find(" ,") == std::string::npos);
    CHECK(says.back() != ' ');
}

TEST_CASE("what does not fit a look, a harness or diode mode is refused with an example", "[quickline]") {
    for (const char* line : {"look pc2", "look nowhere burnt", "through pc2", "through nothing 0r1",
                             "diode vbus p1", "diode vbus p1 3r3", "says charging 140%"}) {
        CAPTURE(line);
        const auto entry = typed(line, for_ohms());
        REQUIRE_FALSE(entry.ok());
        CHECK(entry.error().message.size() > 15);
    }
}

TEST_CASE("plug, tester and button are typed beside the reading", "[quickline]") {
    const auto held = typed("p1 held 5.1 0.2");
    REQUIRE(held.ok());
    CHECK(held->reading.configuration.plug_held);
    CHECK(meter_of(held->reading).volts == Approx(5.1));
    const auto pressed = typed("p2 pressed 20.1 0.8");
    REQUIRE(pressed.ok());
    CHECK(pressed->reading.configuration.button == Button::pressed);
    CHECK(pressed->reading.configuration.port == "p2");
    CHECK(typed("p1 standby 20 0.02")->reading.configuration.button == Button::kept_off);

    const auto loaded = typed("tester 19.8 4.5");
    REQUIRE(loaded.ok());
    CHECK(loaded->reading.configuration.tester == Tester::loaded);
    CHECK(meter_of(loaded->reading).amps == Approx(4.5));
    CHECK(typed("tester 20.2")->reading.configuration.tester == Tester::no_load);
    CHECK(typed("tester dark")->reading.configuration.tester == Tester::loaded);
    CHECK_FALSE(typed("tester 20 4 p1").ok());
    // The next plain line at a port is of the machine again.
    CHECK(typed("p1 20 1.5", loaded->reading.configuration)->reading.configuration.tester == Tester::none);
}

TEST_CASE("ohms from net to net and the pack's volts are typed by their words", "[quickline]") {
    const auto between = typed("between vbus p1 main 0r02", for_ohms());
    REQUIRE(between.ok());
    const auto* ohms = between->reading.as<BetweenReading>();
    REQUIRE(ohms != nullptr);
    CHECK(ohms->net == "vbus1");
    CHECK(ohms->other == "main");
    CHECK(ohms->ohms.value() == Approx(0.02));
    CHECK_FALSE(typed("across main chgin ol", for_ohms())->reading.as<BetweenReading>()->ohms);
    CHECK_FALSE(typed("between main 3r3", for_ohms()).ok());
    CHECK_FALSE(typed("between main chgin 3.3v", for_ohms()).ok());
    const auto pack = typed("pack 7.42", for_ohms());
    REQUIRE(pack.ok());
    CHECK(pack->reading.as<PackReading>()->volts.value() == Approx(7.42));
    CHECK_FALSE(typed("pack ol", for_ohms()).ok());
    CHECK_FALSE(typed("pack", for_ohms()).ok());
}
