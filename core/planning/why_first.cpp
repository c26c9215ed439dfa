// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/why_first.h"

#include <algorithm>
#include <cmath>

#include "core/base/text.h"

namespace eh {
namespace {

constexpr double clearly_more = 1.25;         // times the bits of the first
constexpr double worth_saying_minutes = 0.5;  // by which the other takes longer

std::string name_of(const ToldApart::Side& side, const MachinePlan& plan) {
    switch (side.kind) {
        case HypothesisKind::nothing_wrong:
            return "nothing wrong";
        case HypothesisKind::none_of_these:
            return "something unknown";
        case HypothesisKind::fault:
            return part_title(plan, side.block);
    }
    return {};
}

std::string what_it_is_for(const NextAct& act, const MachinePlan& plan) {
    if (act.to_show)
        return "It was put right: show it at every port and plug side.";
    if (act.before_power)
        return "It got wet: it is looked over, battery out, before power goes on.";
    if (act.before_opening)
        return "Something may hang: that is tried before the case is opened.";
    if (act.again)
        return "It fitted nothing, so it is read again before it is believed.";
    if (act.on_trial)
        return "It tests the suspect at its own pins before the repair.";
    if (act.told_apart) {
        const std::string first = name_of(act.told_apart->first, plan);
        const std::string second = name_of(act.told_apart->second, plan);
        if (first != second)
            return "It tells " + first + " from " + second + ".";
    }
    return "It tells most for its minutes.";
}

std::string sentence_of(DueBecause because) {
    switch (because) {
        case DueBecause::certain:
            return "It is as good as certain: another reading would not change that.";
        case DueBecause::seen_broken:
            return "It was seen broken: it has to be put right in any case.";
        case DueBecause::let_go:
            return "It let go when the shop's own plug was moved: that is a fault of the inlet.";
        case DueBecause::nothing_saves:
            return "It is likely enough: no reading would save more minutes than it takes.";
        case DueBecause::nothing_left:
            break;
    }
    return "Nothing that can still be read would change the choice.";
}

// The act that would tell clearly more, if it were done first; nullptr where there is none.
const NextAct* obvious_other(const std::vector<NextAct>& acts) {
    const NextAct& first = acts.front();
    const auto most = std::max_element(acts.begin(), acts.end(), [](const NextAct& a, const NextAct& b) {
        return (a.repair ? 0.0 : a.bits) < (b.repair ? 0.0 : b.bits);
    });
    return most->bits > clearly_more * first.bits ? &*most : nullptr;
}

std::string against(const NextAct& other, const NextAct& first, const MachinePlan& plan) {
    const double longer = other.minutes - first.minutes;
    const double riskier = other.risk_minutes - first.risk_minutes;
    const std::string named = "“" + describe(other, plan) + "” would tell more, ";
    if (longer >= worth_saying_minutes)
        return " " + named + "and takes " + integer_text(std::lround(longer)) + " min more.";
    if (riskier >= worth_saying_minutes)
        return " " + named + "and can do harm.";
    return {};
}

}  // namespace

std::string why_first(const NextStep& step, const MachinePlan& plan) {
    if (step.acts.empty())
        return {};
    const NextAct& first = step.acts.front();
    if (first.repair)
        return sentence_of(first.because);
    std::string why = what_it_is_for(first, plan);
    if (const NextAct* other =
            first.again || first.on_trial || first.to_show || first.before_power || first.before_opening
                ? nullptr
                : obvious_other(step.acts))
        why += against(*other, first, plan);
    return why;
}

}  // namespace eh
