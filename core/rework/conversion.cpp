// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rework/conversion.h"

#include <algorithm>
#include <cmath>

#include "core/base/text.h"
#include "core/electrics/engineering.h"
#include "core/electrics/wire.h"
#include "core/usbc/power_rules.h"

namespace eh {
namespace {

constexpr double capacitor_margin = 0.1;  // volts of a rating that are left free
constexpr double input_reserve = 0.01;    // of the over-voltage limit
constexpr double charge_efficiency = 0.9;
constexpr double slow_share = 0.2;  // of the charge, in the constant-volts end
constexpr double slow_factor = 2.0;
constexpr double bank_efficiency = 0.85;
constexpr double least_charging_amps = 1.5;  // common practice: below it the effort is not worth it
constexpr double wire_celsius = 40.0;
constexpr double drop_to_mention = 0.02;  // of the volts
constexpr double tight_mm = 0.5;

std::string volts(double v) {
    return number_text("%.3g V", v);
}

std::string percent(double share) {
    return number_text("%.1f %%", 100.0 * share);
}

Outcome check(const ConvertedMachine& m, const ConversionParts& p) {
    if (!(m.adapter_volts >= 5.0 && m.adapter_volts <= 24.0))
        return refused("barrel machines live on 5 to 24 V", "adapter volts");
    if (!(m.adapter_watts > 0.0 && m.charging_watts > 0.0 && m.idle_watts > 0.0 && m.battery_wh > 0.0))
        return refused("watts and the battery's watt-hours are above nothing", "machine");
    if (m.idle_watts > m.charging_watts)
        return refused("a machine takes more while it charges than idle; exchange the two", "machine");
    if (!(m.capacitor_rating_volts > 0.0) || (m.input_limit_volts && !(*m.input_limit_volts > 0.0)))
        return refused("a limit is above 0 V", "input");
    if (!(p.source_watts > 0.0))
        return refused("a source has watts", "source");
    if (!(p.trigger_volts >= 5.0 && p.trigger_volts <= 48.0 && p.trigger_amps > 0.0))
        return refused("a trigger board asks for 5 to 48 V", "trigger");
    if (!(p.lead_length_m >= 0.0 && p.lead_length_m <= 3.0 && p.lead_gauge >= 8.0 && p.lead_gauge <= 40.0))
        return refused("the wires to the board are at most 3 m of AWG 8 to 40", "wires");
    for (const double size : {p.board_height_mm, p.board_depth_mm, p.board_width_mm, p.space_height_mm,
                              p.space_depth_mm, p.space_width_mm})
        if (!(size > 0.0 && size < 500.0))
            return refused("room and board are measured in millimetres, above 0", "room");
    return Done{};
}

class Planner {
  public:
    Planner(const ConvertedMachine& machine, const ConversionParts& parts) : m_(machine), p_(parts) {}

    ConversionPlan make() {
        choose_contract();
        if (plan_.contract_volts > 0.0) {
            judge_volts();
            work_out_currents();
            judge_watts();
            judge_times();
        }
        judge_id();
        judge_room();
        finish();
        return std::move(plan_);
    }

  private:
    void note(ConversionWeight weight, std::string says) { plan_.notes.push_back({weight, std::move(says)}); }

    [[nodiscard]] const LabelOffer* offer_of(double wanted) const {
        const auto found = std::find_if(p_.source.begin(), p_.source.end(), [&](const LabelOffer& offer) {
            return !offer.programmable() && std::abs(offer.most_volts - wanted) < 0.5;
        });
        return found == p_.source.end() ? nullptr : &*found;
    }

    void choose_contract() {
        const LabelOffer* offer = offer_of(p_.trigger_volts);
        if (offer == nullptr) {
            lacks_volts();
            if (p_.fallback == TriggerFallback::next_lower)
                for (const LabelOffer& lower : p_.source)
                    if (!lower.programmable() && lower.most_volts < p_.trigger_volts &&
                        (offer == nullptr || lower.most_volts > offer->most_volts))
                        offer = &lower;
            if (p_.fallback == TriggerFallback::stays_at_5)
                offer = offer_of(5.0);
        }
        if (offer == nullptr)
            return;
        plan_.contract_volts = offer->most_volts;
        const double cable_amps = p_.cable.marked_5_amps ? 5.0 : 3.0;
        plan_.contract_amps =
            std::min({offer->amps, cable_amps, p_.trigger_amps, p_.source_watts / offer->most_volts});
        if (offer->amps > cable_amps)
            note(ConversionWeight::limit, "The cable has no mark for 5 A: the source gives 3 A at most.");
        if (offer->amps > p_.trigger_amps)
            note(ConversionWeight::limit, "The trigger board stands " +
                                              number_text("%.3g A", p_.trigger_amps) +
                                              " only; that is the limit.");
    }

    void lacks_volts() {
        const auto required = required_offers(p_.source_watts);
        const bool must = std::any_of(required.begin(), required.end(), [&](const LabelOffer& offer) {
            return std::abs(offer.most_volts - p_.trigger_volts) < 0.5;
        });
        std::string says = "The source does not offer " + volts(p_.trigger_volts);
        if (!must)
            says += ", and with " + number_text("%.0f W", p_.source_watts) + " it need not";
        switch (p_.fallback) {
            case TriggerFallback::nothing:
                says += ". The trigger gives nothing then: the machine stays dark.";
                break;
            case TriggerFallback::next_lower:
                says += ". The trigger passes the next lower volts on.";
                break;
            case TriggerFallback::stays_at_5:
                says += ". The trigger passes 5 V on.";
                break;
        }
        note(ConversionWeight::problem, std::move(says));
    }

    void judge_volts() {
        const double nominal = plan_.contract_volts;
        plan_.above_adapter = nominal / m_.adapter_volts - 1.0;
        plan_.highest_volts = nominal * (1.0 + source_tolerance);
        plan_.highest_above_adapter = plan_.highest_volts / m_.adapter_volts - 1.0;
        if (nominal < m_.adapter_volts * (1.0 - m_.adapter_tolerance))
            note(ConversionWeight::problem, volts(nominal) + " lies " + percent(-plan_.above_adapter) +
                                                " below the adapter's " + volts(m_.adapter_volts) +
                                                ": the machine does not take it, or does not charge.");
        const double capacitor_limit = m_.capacitor_rating_volts * (1.0 - capacitor_margin);
        double first = capacitor_limit;
        if (m_.input_limit_volts)
            first = std::min(first, *m_.input_limit_volts * (1.0 - input_reserve));
        plan_.input_margin = 1.0 - plan_.highest_volts / first;
        if (m_.input_limit_volts && plan_.highest_volts > *m_.input_limit_volts * (1.0 - input_reserve))
            note(ConversionWeight::problem, "The source may hold " + volts(plan_.highest_volts) +
                                                "; the input cuts off or breaks at " +
                                                volts(*m_.input_limit_volts) + ".");
        if (plan_.highest_volts > capacitor_limit)
            note(ConversionWeight::problem,
                 "The input capacitors are rated " + volts(m_.capacitor_rating_volts) + ": with " +
                     volts(plan_.highest_volts) + " too little is left. Fit higher rated ones first.");
        if (!m_.input_limit_volts)
            note(ConversionWeight::limit,
                 "The over-voltage limit of the input is not known: look it up; the source may hold " +
                     volts(plan_.highest_volts) + ", " + percent(plan_.highest_above_adapter) +
                     " above the adapter.");
    }

    void work_out_currents() {
        const double cable_loop = wire_ohms(p_.cable.power_gauge, p_.cable.length_m, wire_celsius) +
                                  wire_ohms(p_.cable.ground_gauge, p_.cable.length_m, wire_celsius);
        const double lead = 2.0 * wire_ohms(p_.lead_gauge, p_.lead_length_m, wire_celsius);
        const double loop = cable_loop + lead;
        const double source = plan_.contract_volts;
        // Constant watts behind a resistance: the larger root of V^2 - Vs V + P R = 0.
        const auto at_board = [&](double watts) {
            const double under = source * source - 4.0 * watts * loop;
            return under < 0.0 ? source / 2.0 : 0.5 * (source + std::sqrt(under));
        };
        const double most_watts = plan_.contract_amps * (source - plan_.contract_amps * loop);
        plan_.charging_watts = std::min(m_.charging_watts, most_watts);
        plan_.idle_volts = at_board(std::min(m_.idle_watts, most_watts));
        plan_.charging_volts = at_board(plan_.charging_watts);
        plan_.idle_amps = std::min(m_.idle_watts, most_watts) / plan_.idle_volts;
        plan_.charging_amps = plan_.charging_watts / plan_.charging_volts;
        plan_.lead_drop_volts = plan_.charging_amps * lead;
        plan_.lead_watts = plan_.charging_amps * plan_.lead_drop_volts;
        if (plan_.lead_drop_volts > drop_to_mention * source)
            note(ConversionWeight::limit, "The wires to the board lose " + volts(plan_.lead_drop_volts) +
                                              " (" + number_text("%.1f W", plan_.lead_watts) +
                                              "): take thicker or shorter ones.");
    }

    void judge_watts() {
        const double available = plan_.contract_volts * plan_.contract_amps;
        if (available < m_.idle_watts) {
            note(ConversionWeight::problem,
                 number_text("%.0f W", available) + " do not even run the machine (" +
                     number_text("%.0f W", m_.idle_watts) + "): its battery empties.");
        } else if (plan_.charging_watts < m_.charging_watts * 0.99) {
            note(ConversionWeight::limit, "Charging takes " + number_text("%.0f W", m_.charging_watts) +
                                              ", there are " + number_text("%.0f W", plan_.charging_watts) +
                                              ": it charges slower.");
        }
        if (plan_.contract_amps < least_charging_amps)
            note(ConversionWeight::limit, "Below 1.5 A little is left for the battery.");
    }

    void judge_times() {
        const auto hours = [&](double watts) {
            return watts <= 0.0 ? 0.0
                                : m_.battery_wh / (watts * charge_efficiency) *
                                      (1.0 - slow_share + slow_share * slow_factor);
        };
        plan_.charge_hours_off = hours(plan_.charging_watts);
        plan_.charge_hours_running = hours(plan_.charging_watts - m_.idle_watts);
        if (p_.bank_wh > 0.0)
            plan_.bank_hours = p_.bank_wh * bank_efficiency / m_.idle_watts;
    }

    void judge_id() {
        const double source_watts =
            plan_.contract_volts > 0.0 ? plan_.contract_volts * plan_.contract_amps : p_.source_watts;
        plan_.faked_watts =
            m_.id == IdScheme::none ? 0.0 : (m_.id_watts_step > 0.0 ? m_.id_watts_step : m_.adapter_watts);
        switch (m_.id) {
            case IdScheme::none:
                plan_.id_how = "No ID: nothing to fake.";
                break;
            case IdScheme::resistor_to_ground:
                plan_.id_how = format_quantity(m_.id_ohms, Unit::ohms) + " from the ID line to ground.";
                break;
            case IdScheme::divider: {
                // The share of the supply that the line must show; the upper resistor is chosen.
                const double lower = m_.id_ohms * m_.id_share / (1.0 - m_.id_share);
                plan_.id_how = format_quantity(m_.id_ohms, Unit::ohms) + " from plus, " +
                               format_quantity(lower, Unit::ohms) + " to ground: the line shows " +
                               percent(m_.id_share) + " of the supply.";
                break;
            }
            case IdScheme::one_wire_data:
                plan_.id_how =
                    "The line carries data: no resistor fakes it. Take the ID chip out of the plug of an old "
                    "adapter of no more watts than the source, and wire it to the line.";
                note(ConversionWeight::limit,
                     "Without the ID chip the machine runs, but does not charge, and says at start that it "
                     "does "
                     "not know the adapter.");
                break;
        }
        if (plan_.faked_watts > source_watts * 1.001)
            note(ConversionWeight::problem,
                 "The ID would promise " + number_text("%.0f W", plan_.faked_watts) +
                     " while the source gives " + number_text("%.0f W", source_watts) +
                     ": the machine overloads it. Fake no more than it has.");
    }

    void judge_room() {
        struct Side {
            const char* name;
            double has;
            double needs;
        };
        for (const Side& side : {Side{"height", p_.space_height_mm, p_.board_height_mm},
                                 Side{"depth", p_.space_depth_mm, p_.board_depth_mm},
                                 Side{"width", p_.space_width_mm, p_.board_width_mm}}) {
            const double spare = side.has - side.needs;
            if (spare < 0.0)
                note(ConversionWeight::problem, std::string("The board is ") +
                                                    number_text("%.1f mm", -spare) +
                                                    " too large for the space (" + side.name + ").");
            else if (spare < tight_mm)
                note(ConversionWeight::limit, std::string("Only ") + number_text("%.1f mm", spare) + " of " +
                                                  side.name + " are left for insulation.");
        }
    }

    void finish() {
        std::stable_sort(plan_.notes.begin(), plan_.notes.end(),
                         [](const auto& a, const auto& b) { return a.weight > b.weight; });
        const auto worst = plan_.notes.empty() ? ConversionWeight::fine : plan_.notes.front().weight;
        plan_.verdict = worst == ConversionWeight::problem || plan_.contract_volts == 0.0
                            ? Conversion::does_not
                        : worst == ConversionWeight::limit ? Conversion::works_with_limits
                                                           : Conversion::works;
        plan_.label = "USB-C " + number_text("%.0f V", p_.trigger_volts) + " only, at least " +
                      number_text("%.0f W", std::max(m_.idle_watts, plan_.faked_watts)) + ". Not for data.";
        plan_.checklist = {"Trigger board insulated all round; no bare solder near case or shield.",
                           "Both wires held beside the joint, not by it: a loop and a clamp or glue.",
                           "Receptacle fixed to the case, so that the plug pulls on it and not on wires.",
                           "Old jack taken out, or its plus lifted: two sources never meet.",
                           "Volts at the board measured before the machine is connected: polarity, " +
                               volts(plan_.contract_volts) + ".",
                           "Label on the case beside the opening."};
        if (p_.stopgap)
            plan_.checklist.emplace_back("Temporary: write the date of the follow-up on the sheet.");
    }

    const ConvertedMachine& m_;
    const ConversionParts& p_;
    ConversionPlan plan_;
};

}  // namespace

std::string describe(IdScheme scheme) {
    switch (scheme) {
        case IdScheme::none:
            return "none";
        case IdScheme::resistor_to_ground:
            return "resistor to ground";
        case IdScheme::divider:
            return "divider from the supply";
        case IdScheme::one_wire_data:
            return "data on one wire";
    }
    return {};
}

std::string describe(TriggerFallback fallback) {
    switch (fallback) {
        case TriggerFallback::nothing:
            return "gives nothing";
        case TriggerFallback::next_lower:
            return "passes the next lower volts";
        case TriggerFallback::stays_at_5:
            return "passes 5 V";
    }
    return {};
}

std::string describe(Conversion verdict) {
    switch (verdict) {
        case Conversion::works:
            return "works";
        case Conversion::works_with_limits:
            return "works with limits";
        case Conversion::does_not:
            return "does not work";
    }
    return {};
}

Result<ConversionPlan> plan_conversion(const ConvertedMachine& machine, const ConversionParts& parts) {
    if (auto checked = check(machine, parts); !checked)
        return checked.error();
    return Planner(machine, parts).make();
}

}  // namespace eh
