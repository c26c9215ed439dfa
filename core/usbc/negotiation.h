// SPDX-License-Identifier: GPL-3.0-or-later
// What a conversation between charger and machine came to: offered, asked, granted, and where it stopped.
#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/usbc/cc_capture.h"
#include "core/usbc/pd_objects.h"

namespace eh {

// How far charger and machine got. The machine model predicts it (core/machine/simulation/port_talk.h), a
// capture shows it, and the reasoning compares the two.
enum class NegotiationEnd {
    silent,       // nothing was said: the charger saw no sink, or does not speak at all
    garbled,      // something was said, but nothing that can be read
    unanswered,   // offers, and nobody acknowledged them
    unrequested,  // offers acknowledged, but nothing asked for
    refused,      // asked, and the charger said no
    unready,      // accepted, but the charger's volts never came
    asked_less,   // the machine asked for less than it wants, though more was offered
    short_offer,  // a contract, but the charger offers less than the machine wants
    torn,         // a contract that is torn down again and again
    contract,     // the volts that the machine wants
};
inline constexpr int negotiation_end_count = 10;

// "silent", "garbled", "unanswered", "unrequested", "refused", "unready", "asked_less", "short_offer",
// "torn", "contract".
std::string to_text(NegotiationEnd end);
std::optional<NegotiationEnd> negotiation_end_from(const std::string& text);

namespace pd {

struct Negotiation {
    NegotiationEnd end = NegotiationEnd::silent;
    std::vector<Offer> offers;  // the last that were heard, standard and extended range in one list
    std::optional<Request> request;
    std::optional<Offer> requested;  // the offer that it names
    // Of the last contract that stood; 0 where there was none, or where it was not heard what it is. A
    // battery contract is of watts between two volts; others have least_volts = volts.
    double contract_volts = 0.0;
    double contract_least_volts = 0.0;
    double contract_amps = 0.0;
    double contract_watts = 0.0;  // of a battery contract
    int hard_resets = 0;
    double reset_period_s = 0.0;  // median from one hard reset to the next, 0 below two
    bool cable_asked = false;     // the charger asked the cable for its marker
    std::optional<CableIdentity> cable;
    int messages = 0;  // that could be read
    int damaged = 0;
    // What must have been said, since later packets build on it, but was not heard: the recording began late,
    // or packets were damaged.
    bool offers_unheard = false;
    bool request_unheard = false;
    // Whether `end` follows from what was heard. False: it is only as far as the hearing went, and accuses
    // nobody.
    bool conclusive = true;
    // Changes of the line where no packet was read: some few are a plug that goes in; `unreadable` when they
    // are too many for that, and the recording must be read otherwise before it says anything.
    std::uint64_t line_changes = 0;
    bool unreadable = false;
};

// Reads a conversation in the order of time. wanted_volts: what the machine runs on. Frames of both lines may
// be mixed.
Negotiation read_negotiation(std::span<const SeenFrame> frames, double wanted_volts = 20.0);
// The same of a capture, with what it says besides its packets.
Negotiation read_negotiation(const Capture& capture, double wanted_volts = 20.0);

}  // namespace pd
}  // namespace eh
