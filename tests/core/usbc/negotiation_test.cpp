// SPDX-License-Identifier: GPL-3.0-or-later
// What conversations come to. The conversations follow the order that the specification prescribes (from
// memory); timing from the kernel's include/linux/usb/pd.h.
#include <catch2/catch.hpp>

#include "core/usbc/message_list.h"
#include "core/usbc/pd_text.h"
#include "core/usbc/talk_writer.h"
#include "tests/core/usbc/kernel_layouts.h"
#include "tests/support/talk.h"

using namespace eh;
using namespace eh::pd;
using test::asking;

namespace {

const std::vector<Offer> offers_60 = test::sixty_watts();
// A 45 W source need not offer 20 V (specification, from memory).
const std::vector<Offer> forty_five_watts{FixedSupply{5.0, 3.0}, FixedSupply{9.0, 3.0},
                                          FixedSupply{15.0, 3.0}};

Negotiation outcome(const TalkWriter& talk, double wanted_volts = 20.0) {
    return read_negotiation(test::seen(talk.frames()), wanted_volts);
}

void agree(TalkWriter& talk, const std::vector<Offer>& offers, int position) {
    talk.offer(offers);
    talk.request(asking(position), offers[static_cast<std::size_t>(position - 1)]);
    talk.say(Side::charger, ControlType::accept);
    talk.wait_until(talk.now_s() + 0.2);
    talk.say(Side::charger, ControlType::ps_rdy);
}

}  // namespace

TEST_CASE("a whole negotiation ends in the contract that was asked for", "[usbc]") {
    TalkWriter talk;
    agree(talk, offers_60, 4);
    const Negotiation found = outcome(talk);
    CHECK(found.end == NegotiationEnd::contract);
    CHECK(found.contract_volts == Approx(20.0));
    CHECK(found.contract_amps == Approx(3.0));
    CHECK(found.offers == offers_60);
    CHECK(found.messages == 8);
    CHECK(found.damaged == 0);
    CHECK(verdict_sentence(found).find("20 V") != std::string::npos);
}

TEST_CASE("where a conversation stops is what it came to", "[usbc]") {
    TalkWriter talk;
    CHECK(outcome(talk).end == NegotiationEnd::silent);
    SECTION("nobody acknowledges") {
        for (int i = 0; i < 5; ++i) {
            talk.wait_until(0.15 * i);
            talk.offer(offers_60, false);
        }
        CHECK(outcome(talk).end == NegotiationEnd::unanswered);
    }
    SECTION("acknowledged, but no request") {
        talk.offer(offers_60);
        CHECK(outcome(talk).end == NegotiationEnd::unrequested);
    }
    SECTION("refused") {
        talk.offer(offers_60);
        talk.request(asking(4), offers_60[3]);
        talk.say(Side::charger, ControlType::reject);
        CHECK(outcome(talk).end == NegotiationEnd::refused);
    }
    SECTION("accepted, but the volts never come") {
        talk.offer(offers_60);
        talk.request(asking(4), offers_60[3]);
        talk.say(Side::charger, ControlType::accept);
        CHECK(outcome(talk).end == NegotiationEnd::unready);
    }
    SECTION("content with 5 V") {
        agree(talk, offers_60, 1);
        CHECK(outcome(talk).end == NegotiationEnd::asked_less);
    }
    SECTION("a charger without 20 V") {
        agree(talk, forty_five_watts, 3);
        CHECK(outcome(talk).end == NegotiationEnd::short_offer);
        CHECK(outcome(talk, 15.0).end == NegotiationEnd::contract);
    }
    SECTION("a charger with nothing but 5 V is too small, the machine is not to blame") {
        const std::vector<Offer> five{FixedSupply{5.0, 3.0}};
        agree(talk, five, 1);
        CHECK(outcome(talk).end == NegotiationEnd::short_offer);
    }
}

TEST_CASE("a hard-reset loop shows its period and how far its rounds get", "[usbc]") {
    TalkWriter talk;
    constexpr double round_s = 1.3;
    for (int i = 0; i < 4; ++i) {
        talk.wait_until(round_s * i + 0.2);
        talk.offer(offers_60);
        talk.wait_until(round_s * i + 0.23);
        talk.hard_reset();
    }
    const Negotiation found = outcome(talk);
    CHECK(found.end == NegotiationEnd::unrequested);
    CHECK(found.hard_resets == 4);
    CHECK(found.reset_period_s == Approx(round_s).epsilon(0.01));
    // A sink that waits for offers and a source that recovers make a rhythm of one to two seconds (pd.h).
    CHECK(found.reset_period_s * 1000.0 > kernel_sink_wait_cap_ms() + kernel_source_recover_least_ms());
    CHECK(verdict_sentence(found).find("hard reset") != std::string::npos);
}

TEST_CASE("a contract that is torn down again and again is told from one that stands", "[usbc]") {
    TalkWriter talk;
    for (int i = 0; i < 3; ++i) {
        talk.wait_until(1.5 * i);
        agree(talk, offers_60, 4);
        talk.wait_until(1.5 * i + 0.6);
        talk.hard_reset();
    }
    CHECK(outcome(talk).end == NegotiationEnd::torn);
    SECTION("one reset before a contract that then stands is none of that") {
        TalkWriter once;
        once.offer(offers_60);
        once.hard_reset();
        once.wait_until(1.0);
        agree(once, offers_60, 4);
        CHECK(outcome(once).end == NegotiationEnd::contract);
    }
}

TEST_CASE("the cable's marker is heard, and its silence too", "[usbc]") {
    TalkWriter silent;
    silent.ask_cable(nullptr);
    CHECK(outcome(silent).cable_asked);
    CHECK_FALSE(outcome(silent).cable);
    TalkWriter marked;
    const CableIdentity five_amps{5.0, 50.0, true};
    marked.ask_cable(&five_amps);
    REQUIRE(outcome(marked).cable);
    CHECK(*outcome(marked).cable == five_amps);
}

TEST_CASE("a programmable contract counts with the volts that were asked for", "[usbc]") {
    const std::vector<Offer> offers{FixedSupply{5.0, 3.0}, ProgrammableSupply{3.3, 21.0, 5.0, false}};
    TalkWriter talk;
    talk.offer(offers);
    Request request;
    request.position = 2;
    request.volts = 19.5;
    request.amps = 4.0;
    talk.request(request, offers[1]);
    talk.say(Side::charger, ControlType::accept);
    talk.say(Side::charger, ControlType::ps_rdy);
    const Negotiation found = outcome(talk, 19.5);
    CHECK(found.contract_volts == Approx(19.5));
    CHECK(found.contract_amps == Approx(4.0));
    CHECK(found.end == NegotiationEnd::contract);
}

TEST_CASE("damaged packets are counted and left out of the judgement", "[usbc]") {
    TalkWriter talk;
    agree(talk, offers_60, 4);
    std::vector<SeenFrame> seen = test::seen(talk.frames());
    seen[3].frame.damage.bad_checksum = true;  // an acknowledgement
    const Negotiation found = read_negotiation(seen);
    CHECK(found.end == NegotiationEnd::contract);
    CHECK(found.damaged == 1);
    for (SeenFrame& each : seen)
        each.frame.damage.bad_checksum = true;
    CHECK(read_negotiation(seen).end == NegotiationEnd::garbled);
}

TEST_CASE("every message is put into a sentence that names who says it", "[usbc]") {
    TalkWriter talk;
    const CableIdentity marker{5.0, 50.0, false};
    talk.ask_cable(&marker);
    agree(talk, offers_60, 4);
    talk.hard_reset();
    Interpreter interpreter;
    std::vector<std::string> sentences;
    for (const Frame& frame : talk.frames())
        sentences.push_back(interpreter.sentence(frame));
    const auto said = [&](const std::string& words) {
        return std::any_of(sentences.begin(), sentences.end(),
                           [&](const std::string& s) { return s.find(words) != std::string::npos; });
    };
    CHECK(said("The charger asks the cable who it is."));
    CHECK(said("marked for 5 A and 50 V"));
    CHECK(said("The charger offers 1) 5 V, up to 3 A; 2) 9 V, up to 3 A"));
    CHECK(said("The machine asks for offer 4 (20 V, up to 3 A): 3 A."));
    CHECK(said("The charger accepts."));
    CHECK(said("The machine acknowledges message"));
    CHECK(said("Hard reset"));
    for (int type = 0; type < 32; ++type) {
        for (const bool extended : {false, true}) {
            Frame frame;
            frame.kind = FrameKind::message;
            frame.message.header.type = static_cast<std::uint8_t>(type);
            frame.message.header.extended = extended;
            CHECK_FALSE(interpreter.sentence(frame).empty());
        }
    }
}

TEST_CASE("ends of a negotiation have names that come back", "[usbc]") {
    for (int i = 0; i < negotiation_end_count; ++i) {
        const auto end = static_cast<NegotiationEnd>(i);
        CHECK(negotiation_end_from(to_text(end)) == end);
        Negotiation ended;
        ended.end = end;
        CHECK_FALSE(points_at(ended).empty());
    }
    CHECK_FALSE(negotiation_end_from("sulking"));
}

namespace {

Negotiation outcome_of(const std::string& file) {
    const auto capture = read_capture(std::string(EH_SOURCE_DIR "/tests/data/captures/") + file);
    if (!capture)
        FAIL(capture.error().text());
    return read_negotiation(capture->frames);
}

}  // namespace

TEST_CASE("a recording that begins after the offers invents no contract", "[usbc][unheard]") {
    const Negotiation late = outcome_of("pd-begun-late.messages.json");
    CHECK_FALSE(late.conclusive);
    CHECK(late.offers_unheard);
    CHECK_FALSE(late.request_unheard);
    CHECK(late.contract_volts == 0.0);
    CHECK(late.contract_amps == Approx(3.25));  // the request says its amps by itself
    CHECK_THAT(verdict_sentence(late), Catch::Contains("offers were not heard"));
    CHECK_THAT(verdict_sentence(late), !Catch::Contains("0 V"));
    CHECK_THAT(points_at(late).front(), Catch::Contains("recording"));
}

TEST_CASE("one side heard, or a damaged request, accuses nobody when later packets tell", "[usbc][unheard]") {
    for (const char* file :
         {"pd-only-charger-heard.messages.json", "pd-request-damaged-but-accepted.messages.json"}) {
        CAPTURE(file);
        const Negotiation found = outcome_of(file);
        CHECK(found.end == NegotiationEnd::contract);
        CHECK_FALSE(found.conclusive);
        CHECK(found.request_unheard);
        CHECK_FALSE(found.offers_unheard);
        CHECK(found.offers.size() == 4);
        CHECK_THAT(verdict_sentence(found), Catch::Contains("request was not heard"));
    }
}

TEST_CASE("a step is missing only where nothing unreadable stands in its place", "[usbc][unheard]") {
    TalkWriter talk;
    talk.offer(offers_60, false);
    std::vector<SeenFrame> frames = test::seen(talk.frames());
    CHECK(read_negotiation(frames).conclusive);
    CHECK(read_negotiation(frames).end == NegotiationEnd::unanswered);
    SeenFrame damaged = frames.back();
    damaged.frame.damage.bad_checksum = true;
    frames.push_back(damaged);
    CHECK_FALSE(read_negotiation(frames).conclusive);
}

TEST_CASE("any packet of a whole negotiation may go missing: no other contract is found, and none of 0 V",
          "[usbc][unheard]") {
    TalkWriter talk;
    agree(talk, offers_60, 4);
    const std::vector<SeenFrame> whole = test::seen(talk.frames());
    for (std::size_t gone = 0; gone < whole.size(); ++gone) {
        for (const bool damaged : {false, true}) {
            std::vector<SeenFrame> frames = whole;
            if (damaged)
                frames[gone].frame.damage.bad_checksum = true;
            else
                frames.erase(frames.begin() + static_cast<std::ptrdiff_t>(gone));
            const Negotiation found = read_negotiation(frames);
            CAPTURE(gone, damaged, verdict_sentence(found));
            if (found.conclusive && found.end == NegotiationEnd::contract)
                CHECK(found.contract_volts == Approx(20.0));
            CHECK((found.end == NegotiationEnd::contract || !found.conclusive || gone + 2 >= whole.size()));
        }
    }
}

TEST_CASE("a machine that says it needs more is not blamed for asking less", "[usbc][mismatch]") {
    const std::vector<Offer> weak{FixedSupply{5.0, 3.0}, FixedSupply{20.0, 1.5}};
    TalkWriter talk;
    talk.offer(weak);
    Request request = asking(1);
    request.mismatch = true;
    talk.request(request, weak[0]);
    talk.say(Side::charger, ControlType::accept);
    talk.wait_until(talk.now_s() + 0.2);
    talk.say(Side::charger, ControlType::ps_rdy);
    const Negotiation found = outcome(talk);
    CHECK(found.end == NegotiationEnd::short_offer);
    CHECK_THAT(verdict_sentence(found), Catch::Contains("needs more"));
    CHECK_THAT(points_at(found).front(), Catch::Contains("charger"));
}

TEST_CASE("a battery contract is of watts between two volts, without invented amps", "[usbc]") {
    const std::vector<Offer> offers{FixedSupply{5.0, 3.0}, BatterySupply{11.0, 21.0, 45.0}};
    TalkWriter talk;
    talk.offer(offers);
    Request request;
    request.position = 2;
    request.watts = request.most_watts = 45.0;
    talk.request(request, offers[1]);
    talk.say(Side::charger, ControlType::accept);
    talk.wait_until(talk.now_s() + 0.2);
    talk.say(Side::charger, ControlType::ps_rdy);
    const Negotiation found = outcome(talk);
    CHECK(found.end == NegotiationEnd::contract);
    CHECK(found.contract_watts == Approx(45.0));
    CHECK(found.contract_least_volts == Approx(11.0));
    CHECK(found.contract_amps == 0.0);
    CHECK_THAT(verdict_sentence(found), Catch::Contains("11 to 21 V"));
}

TEST_CASE("offers of the extended range in chunks are one list, and a lost chunk is none", "[usbc][chunks]") {
    const Negotiation found = outcome_of("pd-epr-chunks.messages.json");
    CAPTURE(verdict_sentence(found));
    double most = 0.0;
    for (const Offer& offer : found.offers) {
        CHECK_FALSE(std::holds_alternative<UnknownSupply>(offer));
        most = std::max(most, most_volts(offer));
    }
    CHECK(most >= 28.0);
    CHECK(most <= 48.0);
}
