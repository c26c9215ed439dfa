// What conversations come to. The conversations follow the order that the specification prescribes (from
// memory); timing from the kernel's include/linux/usb/pd.h.
#include <catch2/catch.hpp>

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
        CHECK_FALSE(points_at(end).empty());
    }
    CHECK_FALSE(negotiation_end_from("sulking"));
}
