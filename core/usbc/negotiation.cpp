// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/negotiation.h"

#include <algorithm>
#include <array>

#include "core/base/quantile.h"
#include "core/usbc/chunks.h"

namespace eh {
namespace {

constexpr std::array<const char*, negotiation_end_count> end_names{
    "silent",  "garbled",    "unanswered",  "unrequested", "refused",
    "unready", "asked_less", "short_offer", "torn",        "contract"};

// A machine that wants 20 V takes a contract for anything close to it.
constexpr double same_volts_share = 0.05;
// Below it no notebook can be blamed for asking for less (common practice: 45 W is the least of a charger).
constexpr double weak_charger_watts = 44.0;

}  // namespace

std::string to_text(NegotiationEnd end) {
    return end_names[static_cast<std::size_t>(end)];
}

std::optional<NegotiationEnd> negotiation_end_from(const std::string& text) {
    for (std::size_t i = 0; i < end_names.size(); ++i) {
        if (text == end_names[i])
            return static_cast<NegotiationEnd>(i);
    }
    return std::nullopt;
}

namespace pd {
namespace {

// Follows the conversation from one hard reset to the next.
class Follower {
  public:
    explicit Follower(double wanted_volts) : wanted_volts_(wanted_volts) {}

    void hear(const Frame& frame) {
        if (!frame.good()) {
            ++found_.damaged;
            damaged_since_step_ = true;
            return;
        }
        ++found_.messages;
        if (frame.kind == FrameKind::hard_reset) {
            hard_reset(frame.start_s);
            return;
        }
        if (frame.kind != FrameKind::message)
            return;
        if (frame.message.address == Address::sop)
            hear_partner(frame.message);
        else
            hear_cable(frame.message);
    }

    Negotiation verdict() {
        found_.end = ending();
        if (reset_s_.size() >= 2) {
            std::vector<double> gaps;
            gaps.reserve(reset_s_.size());
            for (std::size_t i = 1; i < reset_s_.size(); ++i)
                gaps.push_back(reset_s_[i] - reset_s_[i - 1]);
            found_.reset_period_s = median(std::move(gaps));
        }
        found_.hard_resets = static_cast<int>(reset_s_.size());
        found_.conclusive = conclusive();
        return std::move(found_);
    }

  private:
    enum class Step { nothing, offered, acknowledged, requested, refused, accepted, ready };

    void reach(Step step) {
        damaged_since_step_ = false;
        step_ = step;
        furthest_ = std::max(furthest_, step);
    }

    void hard_reset(double t_s) {
        // Two at once are one: the other side answers, or the line was noisy.
        constexpr double apart_s = 0.05;
        if (!reset_s_.empty() && t_s - reset_s_.back() < apart_s)
            return;
        reset_s_.push_back(t_s);
        torn_ += step_ == Step::ready ? 1 : 0;
        step_ = Step::nothing;
        // A source resets because it heard no answer: what was damaged before was none.
        damaged_since_step_ = false;
        before_request_ready_ = false;
        found_.request.reset();
        found_.requested.reset();
        forget_contract();
    }

    void forget_contract() {
        found_.contract_volts = found_.contract_least_volts = 0.0;
        found_.contract_amps = found_.contract_watts = 0.0;
    }

    void hear_partner(const Message& message) {
        const bool from_source = message.header.power_source;
        if (is(message, DataType::source_capabilities) && from_source) {
            take_offers(objects_of(message));
        } else if (is(message, ExtendedType::epr_source_capabilities) && from_source) {
            if (auto whole = chunks_.hear(message)) {
                Message data = message;
                data.payload = std::move(*whole);
                take_offers(objects_of(data));
            }
        } else if (is(message, ControlType::good_crc)) {
            if (!from_source && step_ == Step::offered)
                reach(Step::acknowledged);
        } else if ((is(message, DataType::request) || is(message, DataType::epr_request)) && !from_source) {
            take_request(message);
        } else if ((is(message, ControlType::reject) || is(message, ControlType::wait)) && from_source) {
            if (step_ == Step::requested || request_missed())
                reach(before_request_ready_ ? Step::ready : Step::refused);
        } else if (is(message, ControlType::accept) && from_source) {
            if (step_ == Step::requested || request_missed())
                reach(Step::accepted);
        } else if (is(message, ControlType::ps_rdy) && from_source) {
            if (step_ == Step::accepted || step_ == Step::requested || request_missed()) {
                reach(Step::ready);
                settle();
            }
        }
    }

    // A charger answers only what it was asked: an answer to a request that was not heard says that there was
    // one. Nothing is concluded from an answer while a contract stands: swaps are answered alike.
    bool request_missed() {
        if (step_ >= Step::requested)
            return false;
        found_.request_unheard = true;
        found_.offers_unheard = found_.offers_unheard || found_.offers.empty();
        found_.request.reset();
        found_.requested.reset();
        return true;
    }

    void take_offers(const std::vector<std::uint32_t>& objects) {
        std::vector<Offer> offers;
        offers.reserve(objects.size());
        for (const std::uint32_t bits : objects)
            offers.push_back(unpack_offer(bits));
        if (offers.empty())
            return;
        found_.offers = std::move(offers);
        found_.offers_unheard = false;
        before_request_ready_ = step_ == Step::ready;
        reach(Step::offered);
    }

    void take_request(const Message& message) {
        const std::vector<std::uint32_t> objects = objects_of(message);
        if (objects.empty())
            return;
        Request request = unpack_request(objects.front(), Offer{FixedSupply{}});
        const auto position = static_cast<std::size_t>(std::max(0, request.position - 1));
        found_.requested.reset();
        if (request.position > 0 && position < found_.offers.size()) {
            found_.requested = found_.offers[position];
            request = unpack_request(objects.front(), *found_.requested);
        } else if (objects.size() > 1) {
            found_.requested = unpack_offer(objects[1]);  // an extended-range request repeats the offer
            request = unpack_request(objects.front(), *found_.requested);
        }
        found_.offers_unheard = !found_.requested.has_value();
        found_.request_unheard = false;
        found_.request = request;
        before_request_ready_ = before_request_ready_ || step_ == Step::ready;
        reach(Step::requested);
    }

    // What was agreed, as far as offer and request were heard.
    void settle() {
        forget_contract();
        last_known_ = found_.request.has_value() && found_.requested.has_value() &&
                      !std::holds_alternative<UnknownSupply>(*found_.requested);
        if (!found_.request)
            return;
        const Request& request = *found_.request;
        found_.contract_amps = request.most_amps > 0.0 ? request.most_amps : request.amps;
        if (!last_known_)
            return;
        found_.contract_volts = request.volts > 0.0 ? request.volts : most_volts(*found_.requested);
        found_.contract_least_volts = found_.contract_volts;
        if (const auto* battery = std::get_if<BatterySupply>(&*found_.requested)) {
            found_.contract_least_volts = battery->least_volts;
            found_.contract_watts = std::max(request.watts, request.most_watts);
            found_.contract_amps = 0.0;
        } else if (const auto* variable = std::get_if<VariableSupply>(&*found_.requested)) {
            found_.contract_least_volts = variable->least_volts;
        }
        last_volts_ = found_.contract_volts;
    }

    void hear_cable(const Message& message) {
        if (!is(message, DataType::vendor_defined))
            return;
        const std::vector<std::uint32_t> objects = objects_of(message);
        if (const auto identity = cable_identity_from(objects))
            found_.cable = identity;
        else
            found_.cable_asked = true;
    }

    // A step that is missing counts only where nothing unreadable stands in its place, and a contract only
    // where it was heard what it is.
    [[nodiscard]] bool conclusive() const {
        switch (found_.end) {
            case NegotiationEnd::silent:
                return found_.messages == 0;
            case NegotiationEnd::garbled:
            case NegotiationEnd::torn:
                return true;
            case NegotiationEnd::unanswered:
            case NegotiationEnd::unrequested:
            case NegotiationEnd::refused:
            case NegotiationEnd::unready:
                return !damaged_since_step_ && !found_.request_unheard;
            case NegotiationEnd::asked_less:
            case NegotiationEnd::short_offer:
            case NegotiationEnd::contract:
                return last_known_;
        }
        return true;
    }

    [[nodiscard]] NegotiationEnd ending() const {
        if (found_.messages == 0)
            return found_.damaged > 0 ? NegotiationEnd::garbled : NegotiationEnd::silent;
        // A loop is judged by the furthest that its rounds get; else by where things stand now.
        const Step reached =
            step_ == Step::nothing || (!reset_s_.empty() && step_ != Step::ready) ? furthest_ : step_;
        switch (reached) {
            case Step::nothing:
                return found_.damaged > found_.messages ? NegotiationEnd::garbled : NegotiationEnd::silent;
            case Step::offered:
                return NegotiationEnd::unanswered;
            case Step::acknowledged:
                return NegotiationEnd::unrequested;
            case Step::requested:
            case Step::refused:
                return NegotiationEnd::refused;
            case Step::accepted:
                return NegotiationEnd::unready;
            case Step::ready:
                break;
        }
        if (torn_ > 1 || (torn_ > 0 && step_ != Step::ready))
            return NegotiationEnd::torn;
        if (!last_known_)
            return NegotiationEnd::contract;
        if (last_volts_ >= (1.0 - same_volts_share) * wanted_volts_)
            return NegotiationEnd::contract;
        double best = 0.0;
        for (const Offer& offer : found_.offers)
            best = std::max(best, std::min(most_volts(offer), wanted_volts_));
        // A machine that says it needs more than a weak charger offers has asked for what suits it best.
        double most_watts = 0.0;
        for (const Offer& offer : found_.offers)
            most_watts = std::max(most_watts, watts(offer));
        if (found_.request && found_.request->mismatch && most_watts < weak_charger_watts)
            return NegotiationEnd::short_offer;
        const bool took_the_best = last_volts_ >= (1.0 - same_volts_share) * best;
        return took_the_best ? NegotiationEnd::short_offer : NegotiationEnd::asked_less;
    }

    double wanted_volts_;
    Negotiation found_;
    Step step_ = Step::nothing;
    Step furthest_ = Step::nothing;
    ChunkJoiner chunks_;
    bool damaged_since_step_ = false;
    bool last_known_ = false;            // what the last contract is was heard
    bool before_request_ready_ = false;  // a contract stood when this round of offers began
    double last_volts_ = 0.0;
    int torn_ = 0;
    std::vector<double> reset_s_;
};

}  // namespace

Negotiation read_negotiation(std::span<const SeenFrame> frames, double wanted_volts) {
    Follower follower(wanted_volts);
    for (const SeenFrame& seen : frames)
        follower.hear(seen.frame);
    return follower.verdict();
}

Negotiation read_negotiation(const Capture& capture, double wanted_volts) {
    Negotiation negotiation = read_negotiation(capture.frames, wanted_volts);
    if (negotiation.messages == 0)
        negotiation.line_changes = capture.report.edges;
    negotiation.unreadable = capture.report.question.has_value();
    negotiation.conclusive = negotiation.conclusive && !negotiation.unreadable;
    return negotiation;
}

}  // namespace pd
}  // namespace eh
