// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/pd_text.h"

#include <array>
#include <map>

#include "core/base/text.h"
#include "core/electrics/engineering.h"
#include "core/usbc/flag_words.h"

namespace eh::pd {
namespace {

const std::map<std::uint8_t, const char*> control_names{
    {1, "GoodCRC"},
    {2, "GotoMin"},
    {3, "Accept"},
    {4, "Reject"},
    {5, "Ping"},
    {6, "PS_RDY"},
    {7, "Get_Source_Cap"},
    {8, "Get_Sink_Cap"},
    {9, "DR_Swap"},
    {10, "PR_Swap"},
    {11, "VCONN_Swap"},
    {12, "Wait"},
    {13, "Soft_Reset"},
    {14, "Data_Reset"},
    {15, "Data_Reset_Complete"},
    {16, "Not_Supported"},
    {17, "Get_Source_Cap_Extended"},
    {18, "Get_Status"},
    {19, "FR_Swap"},
    {20, "Get_PPS_Status"},
    {21, "Get_Country_Codes"},
    {22, "Get_Sink_Cap_Extended"},
    {23, "Get_Source_Info"},
    {24, "Get_Revision"},
};
const std::map<std::uint8_t, const char*> data_names{
    {1, "Source_Capabilities"}, {2, "Request"},   {3, "BIST"},         {4, "Sink_Capabilities"},
    {5, "Battery_Status"},      {6, "Alert"},     {8, "Enter_USB"},    {7, "Get_Country_Info"},
    {9, "EPR_Request"},         {10, "EPR_Mode"}, {11, "Source_Info"}, {12, "Revision"},
    {15, "Vendor_Defined"},
};
const std::map<std::uint8_t, const char*> extended_names{
    {1, "Source_Capabilities_Extended"},
    {2, "Status"},
    {3, "Get_Battery_Cap"},
    {4, "Get_Battery_Status"},
    {5, "Battery_Capabilities"},
    {6, "Get_Manufacturer_Info"},
    {7, "Manufacturer_Info"},
    {8, "Security_Request"},
    {9, "Security_Response"},
    {10, "Firmware_Update_Request"},
    {11, "Firmware_Update_Response"},
    {12, "PPS_Status"},
    {13, "Country_Info"},
    {14, "Country_Codes"},
    {15, "Sink_Capabilities_Extended"},
    {16, "Extended_Control"},
    {17, "EPR_Source_Capabilities"},
    {18, "EPR_Sink_Capabilities"},
    {30, "Vendor_Defined_Extended"},
};

std::string number(double value) {
    return number_text("%.4g", value);
}
std::string volts_text(double value) {
    return number(value) + " V";
}
std::string amps_text(double value) {
    return number(value) + " A";
}

struct OfferText {
    std::string operator()(const FixedSupply& s) const {
        return volts_text(s.volts) + ", up to " + amps_text(s.amps);
    }
    std::string operator()(const BatterySupply& s) const {
        return number(s.least_volts) + " to " + volts_text(s.most_volts) + " like a battery, up to " +
               number(s.watts) + " W";
    }
    std::string operator()(const VariableSupply& s) const {
        return number(s.least_volts) + " to " + volts_text(s.most_volts) + " unregulated, up to " +
               amps_text(s.amps);
    }
    std::string operator()(const ProgrammableSupply& s) const {
        return number(s.least_volts) + " to " + volts_text(s.most_volts) + " programmable, up to " +
               amps_text(s.amps);
    }
    std::string operator()(const ExtendedRangeSupply& s) const {
        return number(s.least_volts) + " to " + volts_text(s.most_volts) + " adjustable, up to " +
               number(s.watts) + " W";
    }
    std::string operator()(const AdjustableSupply& s) const {
        std::string text = "up to 15 V adjustable, up to " + amps_text(s.amps_to_15_volts);
        if (s.amps_to_20_volts > 0.0)
            text += "; up to 20 V, up to " + amps_text(s.amps_to_20_volts);
        return text;
    }
    std::string operator()(const UnknownSupply&) const { return "an offer of a kind that is not known"; }
};

std::string list_of(const std::vector<Offer>& offers) {
    std::string text;
    for (std::size_t i = 0; i < offers.size(); ++i)
        text += (i == 0 ? "" : "; ") + integer_text(i + 1) + ") " + describe(offers[i]);
    return text;
}

std::string subject(Speaker speaker) {
    switch (speaker) {
        case Speaker::charger:
            return "The charger";
        case Speaker::machine:
            return "The machine";
        case Speaker::cable:
            return "The cable";
    }
    return {};
}

const std::map<ControlType, const char*> control_sentences{
    {ControlType::good_crc, " acknowledges message "},
    {ControlType::goto_min, " tells the other side to draw less."},
    {ControlType::accept, " accepts."},
    {ControlType::reject, " refuses."},
    {ControlType::ping, " says that it is still there."},
    {ControlType::ps_rdy, " says that the new volts are there."},
    {ControlType::get_source_cap, " asks what the other side can give."},
    {ControlType::get_sink_cap, " asks what the other side needs."},
    {ControlType::dr_swap, " asks to swap who is host."},
    {ControlType::pr_swap, " asks to swap who gives power."},
    {ControlType::vconn_swap, " asks to swap who feeds the cable."},
    {ControlType::wait, " asks to wait and to try again later."},
    {ControlType::soft_reset, " starts the conversation anew, volts stay."},
    {ControlType::not_supported, " does not know that message."},
};

}  // namespace

Speaker speaker_of(const Message& message) {
    if (message.address != Address::sop)
        return message.header.power_source ? Speaker::cable : Speaker::charger;
    return message.header.power_source ? Speaker::charger : Speaker::machine;
}

std::string name_of(const Message& message) {
    const auto named = [&](const std::map<std::uint8_t, const char*>& names, const char* what) {
        const auto found = names.find(message.header.type);
        return found != names.end()
                   ? std::string(found->second)
                   : "reserved " + std::string(what) + " message " + integer_text(message.header.type);
    };
    switch (class_of(message.header)) {
        case MessageClass::control:
            return named(control_names, "control");
        case MessageClass::data:
            return named(data_names, "data");
        case MessageClass::extended:
            return named(extended_names, "extended");
    }
    return {};
}

std::string name_of(Address address) {
    constexpr std::array<const char*, 5> names{"SOP", "SOP'", "SOP''", "SOP'_Debug", "SOP''_Debug"};
    return names[static_cast<std::size_t>(address)];
}

std::string describe(const Offer& offer) {
    return std::visit(OfferText{}, offer);
}

std::string describe(const Damage& damage) {
    std::string text;
    const auto add = [&](bool holds, const char* words) {
        if (holds)
            text += (text.empty() ? "" : ", ") + std::string(words);
    };
    add(damage.bad_checksum, "checksum does not agree");
    add(damage.cut_short, "cut short");
    add(damage.bad_symbol, "a symbol that stands for nothing");
    add(damage.bad_timing, "half a bit is missing");
    add(damage.start_repaired, "one of its four starting symbols was wrong");
    add(damage.no_end, "its end is missing");
    add(damage.wrong_length, "its length is not what its header says");
    return text;
}

std::string Interpreter::sentence(const Frame& frame) {
    std::string text;
    switch (frame.kind) {
        case FrameKind::hard_reset:
            offers_.clear();
            text = "Hard reset: the charger goes back to 5 V and everything starts anew.";
            break;
        case FrameKind::cable_reset:
            text = "The cable's marker is reset.";
            break;
        case FrameKind::unreadable:
            return "Something was sent here that has no readable start.";
        case FrameKind::message:
            text = frame.good() ? message_sentence(frame.message)
                                : "A damaged " + name_of(frame.message) + " on " +
                                      name_of(frame.message.address) + "; nobody will acknowledge it.";
            break;
    }
    const std::string damage = describe(frame.damage);
    return damage.empty() ? text : text + " (" + damage + ")";
}

std::string Interpreter::message_sentence(const Message& message) {
    const std::string who = subject(speaker_of(message));
    if (class_of(message.header) == MessageClass::control) {
        const auto found = control_sentences.find(static_cast<ControlType>(message.header.type));
        if (found == control_sentences.end())
            return who + " says " + name_of(message) + ".";
        std::string text = who + found->second;
        if (is(message, ControlType::good_crc))
            text += integer_text(message.header.id) + ".";
        return text;
    }
    const bool epr_offers = is(message, ExtendedType::epr_source_capabilities);
    if (is(message, DataType::source_capabilities) || epr_offers) {
        Message data = message;
        if (epr_offers) {
            auto whole = chunks_.hear(message);
            if (!whole)
                return who + " sends a part of its offers in the extended range.";
            data.payload = std::move(*whole);
        }
        offers_.clear();
        for (const std::uint32_t bits : objects_of(data))
            offers_.push_back(unpack_offer(bits));
        return who + " offers " + list_of(offers_) + "." + flags_sentence(flag_words(offers_, true));
    }
    if (is(message, DataType::sink_capabilities)) {
        std::vector<Offer> needs;
        for (const std::uint32_t bits : objects_of(message))
            needs.push_back(unpack_offer(bits));
        return who + " can take " + list_of(needs) + "." + flags_sentence(flag_words(needs, false));
    }
    if (is(message, DataType::request) || is(message, DataType::epr_request))
        return request_sentence(message);
    if (is(message, DataType::vendor_defined))
        return vendor_sentence(message);
    return who + " sends " + name_of(message) + ".";
}

std::string Interpreter::request_sentence(const Message& message) const {
    const std::vector<std::uint32_t> objects = objects_of(message);
    const std::string who = subject(speaker_of(message));
    if (objects.empty())
        return who + " asks, but its message is empty.";
    const int position = unpack_request(objects.front(), Offer{FixedSupply{}}).position;
    const auto index = static_cast<std::size_t>(position - 1);
    if (position < 1 || index >= offers_.size())
        return who + " asks for offer " + integer_text(position) + ", which was not heard here.";
    const Offer& offer = offers_[index];
    const Request request = unpack_request(objects.front(), offer);
    std::string text = who + " asks for offer " + integer_text(position) + " (" + describe(offer) + "): ";
    if (request.watts > 0.0)
        text += number(request.watts) + " W";
    else
        text += (request.volts > 0.0 ? volts_text(request.volts) + ", " : std::string()) +
                amps_text(request.amps);
    return text + "." + flags_sentence(flag_words(request));
}

std::string Interpreter::vendor_sentence(const Message& message) {
    const std::vector<std::uint32_t> objects = objects_of(message);
    const std::string who = subject(speaker_of(message));
    if (objects.empty())
        return who + " sends an empty vendor message.";
    if (const auto cable = cable_identity_from(objects))
        return "The cable says that it is marked for " + amps_text(cable->amps) + " and " +
               volts_text(cable->volts) + (cable->extended_range ? ", extended range included." : ".");
    const VendorHeader header = unpack_vendor_header(objects.front());
    const bool identity =
        header.structured && header.command == static_cast<std::uint8_t>(VendorCommand::discover_identity);
    if (identity && header.answer == VendorAnswer::asked)
        return who + " asks the " + (message.address == Address::sop ? "other side" : "cable") +
               " who it is.";
    if (identity && header.answer == VendorAnswer::acknowledged)
        return who + " says who it is.";
    return who + " sends a vendor message" + (header.answer == VendorAnswer::refused ? " of refusal." : ".");
}

namespace {

// "20 V and 3 A", "a battery's 11 to 14 V, 45 W".
std::string contract_text(const Negotiation& negotiation) {
    const bool one_volt = negotiation.contract_least_volts >= negotiation.contract_volts;
    const std::string volts =
        one_volt ? volts_text(negotiation.contract_volts)
                 : number(negotiation.contract_least_volts) + " to " + volts_text(negotiation.contract_volts);
    return negotiation.contract_watts > 0.0
               ? volts + " and up to " + number(negotiation.contract_watts) + " W"
               : volts + " and " + amps_text(negotiation.contract_amps);
}

// Where no packet was sent. A few changes of the line are the plug that went in.
std::string silence_sentence(const Negotiation& negotiation) {
    const std::string why = "the charger saw no sink on this line, or it does not speak.";
    if (negotiation.line_changes == 0)
        return "Nothing was said: " + why;
    return "No packet was sent, though the line changed " + integer_text(negotiation.line_changes) +
           (negotiation.line_changes == 1 ? " time" : " times") + " as when a plug goes in: " + why;
}

std::string unreadable_sentence(const Negotiation& negotiation) {
    return "The line changes " + integer_text(negotiation.line_changes) +
           " times, but nothing of it reads as a packet: it may be another wire, another unit of time, or "
           "too few samples a second.";
}

// What can be said where something was not heard: first that, then how far it went.
std::string unheard_sentence(const Negotiation& negotiation, const std::string& verdict) {
    const std::string again = " Record again from before the plug goes in.";
    if (negotiation.end == NegotiationEnd::contract)
        return std::string("A contract was made, but not what it is: the ") +
               (negotiation.offers_unheard && negotiation.request_unheard ? "offers and the request were"
                : negotiation.offers_unheard                              ? "offers were"
                                                                          : "request was") +
               " not heard." + again;
    if (negotiation.end == NegotiationEnd::silent)
        return "Packets were heard, but no offer among them: the recording begins late, or only one side is "
               "heard." +
               again;
    return "This is as far as it was heard; what came next is damaged or missing, so nobody is to blame "
           "yet. " +
           verdict + again;
}

// Why a charger may hold back, or a machine not get what it asks for.
std::string limits_sentence(const Negotiation& negotiation) {
    constexpr double marked_amps = 3.05;  // above it a cable has to be marked
    constexpr double rounding_amps = 0.005;
    std::string text;
    const bool unmarked = (negotiation.cable_asked && !negotiation.cable) ||
                          (negotiation.cable && negotiation.cable->amps < marked_amps);
    double offered_amps = 0.0;
    for (const Offer& offer : negotiation.offers)
        offered_amps = std::max(offered_amps, amps_at_most_volts(offer));
    if (negotiation.request && negotiation.request->mismatch) {
        text += " The machine says that it needs more than it is offered.";
        if (unmarked && offered_amps <= marked_amps && offered_amps >= 3.0 - rounding_amps)
            text +=
                " The charger offers 3 A, as it must over this cable: try a cable marked for 5 A before "
                "another charger.";
    }
    if (negotiation.end == NegotiationEnd::refused && negotiation.request && negotiation.requested) {
        const double offered = amps_at_most_volts(*negotiation.requested);
        if (offered > 0.0 && negotiation.request->amps > offered + rounding_amps)
            text += " It asked for " + amps_text(negotiation.request->amps) + " where " + amps_text(offered) +
                    " is offered.";
        else if (unmarked && negotiation.request->amps > marked_amps)
            text += " It asked for " + amps_text(negotiation.request->amps) +
                    " over a cable that is not marked for it.";
    }
    return text;
}

}  // namespace

std::string verdict_sentence(const Negotiation& negotiation, double wanted_volts) {
    std::string text;
    const bool loops = negotiation.hard_resets > 1;
    switch (negotiation.end) {
        case NegotiationEnd::silent:
            text = silence_sentence(negotiation);
            break;
        case NegotiationEnd::garbled:
            text = "Something was said, but nothing that can be read.";
            break;
        case NegotiationEnd::unanswered:
            text = "The charger made its offers and nobody acknowledged them.";
            break;
        case NegotiationEnd::unrequested:
            text = "The machine acknowledged the offers, but asked for nothing.";
            break;
        case NegotiationEnd::refused:
            text = "The machine asked, and the charger did not grant it.";
            break;
        case NegotiationEnd::unready:
            text = "The charger accepted, but never said that its volts were there.";
            break;
        case NegotiationEnd::asked_less:
            text = "The machine asked for " + volts_text(negotiation.contract_volts) +
                   " only, though the charger offers more.";
            break;
        case NegotiationEnd::short_offer:
            text = "There is a contract of " + volts_text(negotiation.contract_volts) +
                   ", but the charger offers no " + volts_text(wanted_volts) + ".";
            break;
        case NegotiationEnd::torn:
            text = "A contract is made and torn down again.";
            break;
        case NegotiationEnd::contract:
            text = "There is a contract of " + contract_text(negotiation) + ".";
            break;
    }
    if (negotiation.unreadable)
        return unreadable_sentence(negotiation);
    if (!negotiation.conclusive)
        text = unheard_sentence(negotiation, text);
    if (loops)
        text += " It starts anew by hard reset, " + integer_text(negotiation.hard_resets) + " times, every " +
                format_quantity(negotiation.reset_period_s, Unit::seconds, 2) + ".";
    text += limits_sentence(negotiation);
    if (negotiation.cable_asked && !negotiation.cable)
        text += " The cable did not say what it carries: such a cable gets 3 A at most.";
    if (negotiation.damaged > 0)
        text += " " + integer_text(negotiation.damaged) + " of " +
                integer_text(negotiation.damaged + negotiation.messages) + " packets were damaged.";
    return text;
}

std::vector<std::string> points_at(const Negotiation& negotiation) {
    if (negotiation.unreadable)
        return {"how the capture is read: its wire, its unit of time, its threshold",
                "the recorder: it takes 1.2 million samples a second at least"};
    if (!negotiation.conclusive)
        return {"the recording: begin it before the plug goes in, on the CC pin of this plug side"};
    const bool asks_for_more = negotiation.request && negotiation.request->mismatch;
    switch (negotiation.end) {
        case NegotiationEnd::silent:
            return {"CC contact or line of this plug side: open, dirty or shorted",
                    "the charger or its cable", "the controller's Rd: no termination at all"};
        case NegotiationEnd::garbled:
            return {"dirt or a poor contact on the CC line", "the capture: threshold or sample rate"};
        case NegotiationEnd::unanswered:
            return {"port controller dead or without its supply: only its passive Rd is there",
                    "the controller's 3.3 V supply"};
        case NegotiationEnd::unrequested:
            return {"the controller's configuration memory: supplied, but without its program",
                    "an enable that the controller waits for"};
        case NegotiationEnd::refused:
            return {"the charger: try another", "a controller that asks for what was not offered"};
        case NegotiationEnd::unready:
            return {"the charger: its higher volts do not come up", "a short that holds VBUS down"};
        case NegotiationEnd::asked_less:
            return {"a peer controller on the same chain that does not answer",
                    "a controller with the program of another board", "a shared enable"};
        case NegotiationEnd::short_offer:
            return {"the charger: too small for this machine", "the cable: not marked for the amps"};
        case NegotiationEnd::torn:
            return {
                "what hangs behind the contract: switch, input or rail pulls VBUS down or the controller "
                "resets",
                "the charger's overload protection"};
        case NegotiationEnd::contract:
            if (asks_for_more)
                return {"the charger: too few watts for this machine", "the cable: not marked for the amps"};
            return {"not the negotiation: look behind the controller"};
    }
    return {};
}

}  // namespace eh::pd
