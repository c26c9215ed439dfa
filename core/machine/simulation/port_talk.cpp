// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/simulation/port_talk.h"

#include <algorithm>
#include <cmath>

#include "core/usbc/talk_writer.h"

namespace eh {
namespace {

constexpr double offers_again_s = 0.15;  // PD_T_SEND_SOURCE_CAP
constexpr double first_offers_s = 0.03;  // after the volts stand
constexpr double no_request_s = 0.03;    // tSenderResponse, 24 to 30 ms (specification, from memory)
constexpr double recover_s = 0.76;       // PD_T_SRC_RECOVER
constexpr double transition_s = 0.035;   // PD_T_SRC_TRANSITION
constexpr int most_hard_resets = 2;      // PD_N_HARD_RESET_COUNT
constexpr int most_offers = 33;          // PD_N_CAPS_COUNT
constexpr double marked_amps = 3.0;      // more needs a marked cable

class Speaker {
  public:
    Speaker(const MachineModel& model, double until_s) : model_(model), until_s_(until_s) {
        const int charger = model.charger_block();
        const int lead = model.lead_block();
        const double highest = model.condition(charger).offers_up_to_volts;
        carried_amps_ = model.condition(lead).carries_up_to_amps;
        if (model.condition(charger).never_talks || model.condition(lead).never_talks)
            return;  // nothing to offer
        for (const ChargerOffer& offer : model.charger_spec().offers) {
            if (offer.volts > highest + 1e-9)
                continue;
            pd::FixedSupply supply;
            supply.volts = offer.volts;
            supply.amps = model.promised_of(offer.amps);
            supply.unconstrained = offers_.empty();
            wants_marker_ = wants_marker_ || offer.amps > marked_amps;
            offers_.emplace_back(supply);
        }
    }

    // A state that lasts from from_s to to_s; its contract stands for stands_s.
    void live(NegotiationEnd talk, double contract_volts, double from_s, double to_s, double stands_s) {
        writer_.wait_until(from_s + first_offers_s);
        const bool agrees = talk == NegotiationEnd::contract || talk == NegotiationEnd::short_offer ||
                            talk == NegotiationEnd::asked_less;
        if (talk == NegotiationEnd::silent || offers_.empty())
            return;
        if (agrees) {
            if (agreed_volts_ != contract_volts)
                agree(contract_volts, talk == NegotiationEnd::asked_less,
                      contract_volts < above_default_volts || stands_s >= talk_after_s);
            return;
        }
        // What was agreed at 5 V stands with the charger while the machine is gone: it does not offer again.
        if (agreed_volts_ > 0.0 && agreed_volts_ < above_default_volts)
            return;
        to_s = std::min(to_s, until_s_);
        if (talk == NegotiationEnd::unrequested)
            ignored(to_s);
        else
            unheard(to_s);
    }

    // The charger goes off.
    void off(double at_s) {
        if (agreed_volts_ > 0.0) {
            writer_.wait_until(at_s);
            writer_.hard_reset();
        }
        agreed_volts_ = 0.0;
    }

    [[nodiscard]] bool over() const { return writer_.now_s() >= until_s_; }
    [[nodiscard]] std::vector<pd::Frame> frames() const {
        std::vector<pd::Frame> heard = writer_.frames();
        std::erase_if(heard, [&](const pd::Frame& frame) { return frame.end_s > until_s_; });
        return heard;
    }

  private:
    void ask_cable() {
        if (!wants_marker_)
            return;
        const pd::CableIdentity marker{carried_amps_ > marked_amps ? carried_amps_ : marked_amps, 20.0,
                                       false};
        writer_.ask_cable(carried_amps_ > marked_amps ? &marker : nullptr);
    }

    void agree(double volts, bool wants_more, bool gets_ready) {
        std::size_t best = 0;
        for (std::size_t i = 0; i < offers_.size(); ++i) {
            if (pd::most_volts(offers_[i]) <= volts + 0.1)
                best = i;
        }
        ask_cable();
        writer_.offer(offers_);
        pd::Request request;
        request.position = static_cast<int>(best + 1);
        request.amps = request.most_amps = pd::amps_at_most_volts(offers_[best]);
        request.mismatch = wants_more;
        writer_.request(request, offers_[best]);
        writer_.say(pd::Side::charger, pd::ControlType::accept);
        agreed_volts_ = volts;
        if (!gets_ready)
            return;
        writer_.wait_until(writer_.now_s() + transition_s);
        writer_.say(pd::Side::charger, pd::ControlType::ps_rdy);
    }

    // Acknowledged and nothing more: the charger resets, tries again, and gives up.
    void ignored(double to_s) {
        for (int round = 0; round <= most_hard_resets && writer_.now_s() + no_request_s < to_s; ++round) {
            writer_.offer(offers_);
            writer_.wait_until(writer_.now_s() + no_request_s);
            if (round == most_hard_resets)
                return;
            writer_.hard_reset();
            writer_.wait_until(writer_.now_s() + recover_s);
        }
    }

    void unheard(double to_s) {
        for (int i = 0; i < most_offers && writer_.now_s() < to_s; ++i) {
            const double again_s = writer_.now_s() + offers_again_s;
            writer_.offer(offers_, false);
            writer_.wait_until(again_s);
        }
    }

    const MachineModel& model_;
    double until_s_;
    double carried_amps_ = 0.0;
    bool wants_marker_ = false;
    double agreed_volts_ = 0.0;
    std::vector<pd::Offer> offers_;
    pd::TalkWriter writer_;
};

}  // namespace

std::vector<pd::Frame> port_talk(const MachineModel& model, const Course& course, double until_s) {
    const int port = model.plugged_port();
    if (port < 0 || course.phases.empty())
        return {};
    if (model.plan().blocks[static_cast<std::size_t>(model.charger_block())].kind->role !=
        BlockRole::source_pd)
        return {};
    Speaker speaker(model, until_s);
    double start_s = 0.0;
    for (std::size_t p = 0; start_s < until_s && !speaker.over();) {
        const Phase& phase = course.phases[p];
        const double end_s = start_s + phase.duration_s;
        if (phase.source != SourceState::live)
            speaker.off(start_s);
        else if (phase.duration_s >= talk_after_s || holds_contract(phase))
            speaker.live(phase.talk, phase.contract_volts, start_s, end_s, contract_lasts_s(course, p));
        if (!std::isfinite(end_s))
            break;
        start_s = end_s;
        if (++p == course.phases.size()) {
            if (!course.cycling)
                break;
            p = course.cycle_from;
        }
    }
    return speaker.frames();
}

}  // namespace eh
