// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/supply_check.h"

#include <algorithm>
#include <cmath>

#include "core/base/lines.h"
#include "core/base/text.h"
#include "core/electrics/engineering.h"
#include "core/electrics/wire.h"

namespace eh {
namespace {

constexpr double unmarked_amps = 3.0;
constexpr double marked_amps = 5.0;
constexpr double standard_volts = 21.0;  // 20 V with its tolerance: above is the extended range
constexpr double most_drop_power = 0.5;
constexpr double most_drop_ground = 0.25;
constexpr double contact_ohms = 0.5 * 0.040 / 4.0 * 2.0;  // half of the most, four share, two ends
constexpr double warm_cable_watts = 2.0;                  // common practice: felt by hand

void skip_blanks(std::string_view& text) {
    while (!text.empty() && (text.front() == ' ' || text.front() == '\t' || text.front() == '\r'))
        text.remove_prefix(1);
}

bool take(std::string_view& text, std::string_view word) {
    if (text.substr(0, word.size()) != word)
        return false;
    text.remove_prefix(word.size());
    return true;
}

// What labels put between volts and amps.
void skip_joints(std::string_view& text) {
    for (bool more = true; more;) {
        skip_blanks(text);
        more = take(text, "⎓") || take(text, "=") || take(text, "@") || take(text, "DC") || take(text, "x") ||
               take(text, "—") || take(text, ":");
    }
}

bool take_unit(std::string_view& text, char capital) {
    skip_blanks(text);
    if (text.empty() || (text.front() != capital && text.front() != capital - 'A' + 'a'))
        return false;
    text.remove_prefix(1);
    return true;
}

std::optional<LabelOffer> take_offer(std::string_view& text) {
    LabelOffer offer;
    for (bool more = true; more;) {
        skip_blanks(text);
        more = take(text, "PPS") || take(text, "PDO") || take(text, "AVS") || take(text, "Output") ||
               take(text, "OUTPUT") || take(text, ":");
    }
    const auto first = take_number(text);
    if (!first || !(*first > 0.0))
        return std::nullopt;
    offer.least_volts = offer.most_volts = *first;
    bool volts = take_unit(text, 'V');
    skip_blanks(text);
    if (take(text, "-") || take(text, "–") || take(text, "~") || take(text, "to")) {
        skip_blanks(text);
        const auto second = take_number(text);
        if (!second || *second < *first)
            return std::nullopt;
        offer.most_volts = *second;
        volts = take_unit(text, 'V');
    }
    skip_joints(text);
    const auto amps = take_number(text);
    if (!volts || !amps || !(*amps > 0.0) || !take_unit(text, 'A'))
        return std::nullopt;
    offer.amps = *amps;
    skip_blanks(text);
    return offer;
}

// Three figures without zeros that say nothing, as labels have it: "3.25", "60".
std::string figures(double value) {
    return number_text("%.3g", value);
}

double cable_amps(const CableFacts& cable) {
    return cable.marked_5_amps ? marked_amps : unmarked_amps;
}

// The offer that a sink takes, with the amps that the cable leaves of it.
LabelOffer choose(const std::vector<LabelOffer>& label, const CableFacts& cable,
                  const MachineDemand& machine) {
    LabelOffer best;
    double best_watts = -1.0;
    for (LabelOffer offer : label) {
        const bool reachable = offer.most_volts <= standard_volts || cable.extended;
        if (offer.programmable() || !reachable || offer.most_volts > 1.05 * machine.most_volts)
            continue;
        offer.amps = std::min(offer.amps, cable_amps(cable));
        const double watts = std::min(offer.most_volts * offer.amps, machine.watts);
        if (watts > best_watts * 1.001 ||
            (watts > best_watts * 0.999 && offer.most_volts > best.most_volts)) {
            best = offer;
            best_watts = std::max(watts, best_watts);
        }
    }
    return best;
}

bool in_range(double value, double least, double most) {
    return value >= least && value <= most;
}

}  // namespace

Result<std::vector<LabelOffer>> parse_label(std::string_view text) {
    std::vector<LabelOffer> offers;
    std::string_view left = text;
    while (true) {
        skip_blanks(left);
        while (!left.empty() &&
               (left.front() == ',' || left.front() == ';' || left.front() == '/' || left.front() == '\n')) {
            left.remove_prefix(1);
            skip_blanks(left);
        }
        if (left.empty())
            break;
        const std::string_view before = left;
        const auto offer = take_offer(left);
        if (!offer)
            return refused("“" + std::string(before.substr(0, before.find_first_of(",;/\n"))) +
                               "” is not volts and amps; write as on the label: 5V 3A, 9V 3A, 20V 3.25A",
                           "label");
        offers.push_back(*offer);
    }
    if (offers.empty())
        return refused("the label is empty; write its outputs: 5V 3A, 9V 3A, 20V 3.25A", "label");
    return offers;
}

std::string describe(const LabelOffer& offer) {
    const std::string volts = offer.programmable()
                                  ? figures(offer.least_volts) + "–" + figures(offer.most_volts) + " V"
                                  : figures(offer.most_volts) + " V";
    return volts + " " + figures(offer.amps) + " A";
}

Result<SupplyCheck> check_supply(const std::vector<LabelOffer>& label, const CableFacts& cable,
                                 const MachineDemand& machine) {
    if (label.empty())
        return refused("the charger offers nothing; enter its label", "label");
    if (!in_range(cable.length_m, 0.05, 10.0))
        return refused("cables are between 5 cm and 10 m long", "cable length");
    if (!in_range(cable.power_gauge, 10.0, 40.0) || !in_range(cable.ground_gauge, 10.0, 40.0))
        return refused("wire gauges of cables are between AWG 10 and AWG 40", "wire gauge");
    if (!in_range(machine.most_volts, 4.5, 60.0) || !in_range(machine.watts, 1.0, 300.0))
        return refused("enter the volts (5 to 48) and watts (1 to 300) that the machine's label asks for",
                       "machine");
    SupplyCheck check;
    check.contract = choose(label, cable, machine);
    const auto note = [&](CheckWeight weight, std::string says) {
        check.notes.push_back({weight, std::move(says)});
    };
    if (check.contract.most_volts <= 0.0)
        return refused("none of the charger's fixed offers lies within what machine and cable can use",
                       "charger");
    const double volts = check.contract.most_volts;
    check.watts = volts * check.contract.amps;
    const double power_ohms = wire_ohms(cable.power_gauge, cable.length_m, cable.celsius) + contact_ohms;
    const double ground_ohms = wire_ohms(cable.ground_gauge, cable.length_m, cable.celsius) + contact_ohms;
    check.loop_ohms = power_ohms + ground_ohms;
    // A machine draws constant watts: I (V - I R) = P, the smaller root; it cannot have more than V² / 4R.
    const double wanted = std::min(machine.watts, check.watts);
    const double under_root = volts * volts - 4.0 * check.loop_ohms * wanted;
    check.load_amps =
        under_root >= 0.0 ? (volts - std::sqrt(under_root)) / (2.0 * check.loop_ohms) : check.contract.amps;
    check.load_amps = std::min(check.load_amps, check.contract.amps);
    check.power_drop_volts = check.load_amps * power_ohms;
    check.ground_drop_volts = check.load_amps * ground_ohms;
    check.plug_volts = volts - check.power_drop_volts - check.ground_drop_volts;
    check.load_watts = check.plug_volts * check.load_amps;
    check.cable_watts = check.load_amps * check.load_amps * check.loop_ohms;

    const auto most = std::max_element(label.begin(), label.end(), [](const auto& a, const auto& b) {
        return a.most_volts * a.amps < b.most_volts * b.amps;
    });
    const bool cable_limits = std::any_of(label.begin(), label.end(), [&](const LabelOffer& offer) {
        return offer.most_volts == volts && offer.amps > check.contract.amps + 1e-9;
    });
    if (cable_limits)
        note(check.watts < machine.watts ? CheckWeight::problem : CheckWeight::note,
             "The cable is not marked for 5 A, so that the charger offers " + figures(unmarked_amps) +
                 " A: " + figures(check.watts) + " W instead of " + figures(volts * most->amps) + " W.");
    if (most->most_volts > standard_volts && !cable.extended && machine.most_volts > standard_volts)
        note(CheckWeight::problem, "More than 20 V need a cable that is marked for the extended range.");
    if (check.watts < machine.least_watts)
        note(CheckWeight::problem,
             figures(check.watts) + " W are less than the " + figures(machine.least_watts) +
                 " W that the machine needs to charge: expect “slow charger”, or nothing.");
    else if (check.watts < machine.watts)
        note(CheckWeight::note, figures(check.watts) + " W of the " + figures(machine.watts) +
                                    " W that the machine can use: it charges slowly, not at all under load.");
    if (volts < machine.least_volts)
        note(CheckWeight::problem, "The machine charges from " + figures(machine.least_volts) +
                                       " V on, and this charger gives it " + figures(volts) + " V.");
    if (check.power_drop_volts > most_drop_power || check.ground_drop_volts > most_drop_ground)
        note(CheckWeight::problem,
             "The cable loses " + figures(check.power_drop_volts) + " V on VBUS and " +
                 figures(check.ground_drop_volts) +
                 " V on ground at this load; 0.5 V and 0.25 V are allowed. Take a shorter "
                 "or thicker one.");
    if (check.cable_watts > warm_cable_watts)
        note(CheckWeight::note,
             "The cable turns " + figures(check.cable_watts) + " W into heat: it gets warm.");
    if (check.notes.empty())
        note(CheckWeight::fine, "Charger, cable and machine fit together.");
    std::stable_sort(check.notes.begin(), check.notes.end(),
                     [](const CheckNote& a, const CheckNote& b) { return a.weight > b.weight; });
    return check;
}

}  // namespace eh
