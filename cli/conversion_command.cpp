// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/conversion_command.h"

#include <map>

namespace eh::cli {
namespace {

using nlohmann::json;

const std::map<std::string, IdScheme> id_schemes{{"none", IdScheme::none},
                                                 {"resistor", IdScheme::resistor_to_ground},
                                                 {"divider", IdScheme::divider},
                                                 {"one-wire", IdScheme::one_wire_data}};
const std::map<std::string, TriggerFallback> fallbacks{{"nothing", TriggerFallback::nothing},
                                                       {"next-lower", TriggerFallback::next_lower},
                                                       {"5v", TriggerFallback::stays_at_5}};

const char* word_of(ConversionWeight weight) {
    switch (weight) {
        case ConversionWeight::problem:
            return "problem";
        case ConversionWeight::limit:
            return "limit";
        case ConversionWeight::fine:
            break;
    }
    return "fine";
}

void add_machine(CLI::App& command, ConversionQuestion& question) {
    ConvertedMachine& machine = question.machine;
    command.add_option("--adapter-volts", machine.adapter_volts, "of the barrel adapter");
    command.add_option("--adapter-watts", machine.adapter_watts, "of the barrel adapter");
    command.add_option("--input-limit", question.input_limit_volts,
                       "volts at which the input switches off; 0: not known");
    command.add_option("--capacitors", machine.capacitor_rating_volts,
                       "volts that the input capacitors stand");
    command.add_option("--idle-watts", machine.idle_watts, "that the machine takes, its battery full");
    command.add_option("--charging-watts", machine.charging_watts, "that it takes running and charging");
    command.add_option("--battery-wh", machine.battery_wh, "of the battery");
    command.add_option("--id", machine.id, "how the machine knows its adapter")
        ->transform(CLI::CheckedTransformer(id_schemes));
    command.add_option("--id-ohms", machine.id_ohms, "to ground, or the upper one of a divider");
    command.add_option("--id-watts", machine.id_watts_step,
                       "that the fitted ID stands for; 0: the adapter's");
}

void add_parts(CLI::App& command, ConversionQuestion& question) {
    ConversionParts& parts = question.parts;
    command.add_option("--source", question.source_label, "label of the charger: 5V 3A, 20V 3.25A");
    command.add_option("--source-watts", parts.source_watts, "of the charger");
    command.add_option("--bank-wh", parts.bank_wh, "of a power bank; 0: a charger");
    command.add_option("--trigger-volts", parts.trigger_volts, "that the trigger board asks for");
    command.add_option("--trigger-amps", parts.trigger_amps, "that it stands");
    command.add_option("--fallback", parts.fallback, "what it does without these volts")
        ->transform(CLI::CheckedTransformer(fallbacks));
    command.add_option("--cable-metres", parts.cable.length_m, "length of the cable");
    command.add_option("--cable-gauge", question.cable_gauge, "of its power wires, AWG");
    command.add_flag("--marked", parts.cable.marked_5_amps, "the cable is marked for 5 A");
    command.add_option("--lead-gauge", parts.lead_gauge, "of the wires from trigger to board, AWG");
    command.add_option("--lead-metres", parts.lead_length_m, "their length, one way");
    command.add_option("--board-mm", "height, depth and width of the trigger board")
        ->expected(3)
        ->each([&parts, count = 0](const std::string& value) mutable {
            double* const sides[] = {&parts.board_height_mm, &parts.board_depth_mm, &parts.board_width_mm};
            CLI::detail::lexical_cast(value, *sides[count++ % 3]);
        });
    command.add_option("--space-mm", "height, depth and width of the room for it")
        ->expected(3)
        ->each([&parts, count = 0](const std::string& value) mutable {
            double* const sides[] = {&parts.space_height_mm, &parts.space_depth_mm, &parts.space_width_mm};
            CLI::detail::lexical_cast(value, *sides[count++ % 3]);
        });
    command.add_flag("--stopgap", parts.stopgap, "temporary: gets a date");
}

}  // namespace

CLI::App* add_conversion(CLI::App& app, ConversionQuestion& question) {
    auto* command = app.add_subcommand("conversion", "from a barrel inlet to USB-C: what it would give");
    add_machine(*command, question);
    add_parts(*command, question);
    return command;
}

Result<json> plan_conversion(const ConversionQuestion& question) {
    const auto label = parse_label(question.source_label);
    if (!label)
        return label.error();
    ConvertedMachine machine = question.machine;
    if (question.input_limit_volts > 0.0)
        machine.input_limit_volts = question.input_limit_volts;
    ConversionParts parts = question.parts;
    parts.source = *label;
    parts.cable.power_gauge = parts.cable.ground_gauge = question.cable_gauge;
    const auto plan = eh::plan_conversion(machine, parts);
    if (!plan)
        return plan.error();
    json notes = json::array();
    for (const ConversionNote& note : plan->notes)
        notes.push_back({{"weight", word_of(note.weight)}, {"says", note.says}});
    return json{
        {"verdict", describe(plan->verdict)},
        {"contract", {{"volts", plan->contract_volts}, {"amps", plan->contract_amps}}},
        {"highest_volts", plan->highest_volts},
        {"above_adapter", plan->above_adapter},
        {"highest_above_adapter", plan->highest_above_adapter},
        {"input_margin", plan->input_margin},
        {"idle", {{"volts", plan->idle_volts}, {"amps", plan->idle_amps}}},
        {"charging",
         {{"volts", plan->charging_volts}, {"amps", plan->charging_amps}, {"watts", plan->charging_watts}}},
        {"lead_drop_volts", plan->lead_drop_volts},
        {"lead_watts", plan->lead_watts},
        {"charge_hours_off", plan->charge_hours_off},
        {"charge_hours_running", plan->charge_hours_running},
        {"bank_hours", plan->bank_hours},
        {"faked_watts", plan->faked_watts},
        {"id", plan->id_how},
        {"label", plan->label},
        {"checklist", plan->checklist},
        {"notes", std::move(notes)}};
}

}  // namespace eh::cli
