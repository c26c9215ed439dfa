#include "core/usbc/negotiation.h"

#include <algorithm>
#include <array>

namespace eh {
namespace {

constexpr std::array<const char*, negotiation_end_count> end_names{
    "silent",  "garbled",    "unanswered",  "unrequested", "refused",
    "unready", "asked_less", "short_offer", "torn",        "contract"};

// A machine that wants 20 V takes a contract for anything close to it.
constexpr double same_volts_share = 0.05;

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
            const auto middle = gaps.begin() + static_cast<std::ptrdiff_t>(gaps.size() / 2);
            std::nth_element(gaps.begin(), middle, gaps.end());
            found_.reset_period_s = *middle;
        }
        found_.hard_resets = static_cast<int>(reset_s_.size());
        return std::move(found_);
    }

  private:
    enum class Step { nothing, offered, acknowledged, requested, refused, accepted, ready };

    void reach(Step step) {
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
        found_.contract_volts = found_.contract_amps = 0.0;
    }

    void hear_partner(const Message& message) {
        const bool from_source = message.header.power_source;
        if (is(message, DataType::source_capabilities) && from_source) {
            take_offers(objects_of(message));
        } else if (is(message, ExtendedType::epr_source_capabilities) && from_source) {
            Message data = message;
            data.payload = extended_data_of(message);
            take_offers(objects_of(data));
        } else if (is(message, ControlType::good_crc)) {
            if (!from_source && step_ == Step::offered)
                reach(Step::acknowledged);
        } else if ((is(message, DataType::request) || is(message, DataType::epr_request)) && !from_source) {
            take_request(message);
        } else if ((is(message, ControlType::reject) || is(message, ControlType::wait)) && from_source) {
            if (step_ == Step::requested)
                step_ = before_request_ready_ ? Step::ready : Step::refused;
            furthest_ = std::max(furthest_, step_);
        } else if (is(message, ControlType::accept) && from_source) {
            if (step_ == Step::requested)
                reach(Step::accepted);
        } else if (is(message, ControlType::ps_rdy) && from_source && step_ == Step::accepted) {
            reach(Step::ready);
            settle();
        }
    }

    void take_offers(const std::vector<std::uint32_t>& objects) {
        std::vector<Offer> offers;
        offers.reserve(objects.size());
        for (const std::uint32_t bits : objects)
            offers.push_back(unpack_offer(bits));
        if (offers.empty())
            return;
        found_.offers = std::move(offers);
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
        found_.request = request;
        before_request_ready_ = before_request_ready_ || step_ == Step::ready;
        reach(Step::requested);
    }

    void settle() {
        if (!found_.request)
            return;
        const Request& request = *found_.request;
        found_.contract_volts = request.volts;
        if (request.volts <= 0.0 && found_.requested)
            found_.contract_volts = most_volts(*found_.requested);
        found_.contract_amps = request.most_amps > 0.0 ? request.most_amps : request.amps;
        if (request.watts > 0.0 && found_.contract_volts > 0.0)
            found_.contract_amps = request.watts / found_.contract_volts;
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
        if (last_volts_ >= (1.0 - same_volts_share) * wanted_volts_)
            return NegotiationEnd::contract;
        double best = 0.0;
        for (const Offer& offer : found_.offers)
            best = std::max(best, std::min(most_volts(offer), wanted_volts_));
        const bool took_the_best = last_volts_ >= (1.0 - same_volts_share) * best;
        return took_the_best ? NegotiationEnd::short_offer : NegotiationEnd::asked_less;
    }

    double wanted_volts_;
    Negotiation found_;
    Step step_ = Step::nothing;
    Step furthest_ = Step::nothing;
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

}  // namespace pd
}  // namespace eh
