// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/bench_costs.h"

#include <algorithm>
#include <iterator>

#include "core/base/files.h"
#include "core/base/json_reader.h"
#include "core/machine/model/fault_reach.h"
#include "core/machine/model/source_pieces.h"

namespace eh {
namespace {

constexpr double longest_minutes = 1000.0;

void read_by_kind(const JsonReader& field, std::array<double, reading_kind_count>& minutes) {
    for (int k = 0; k < reading_kind_count; ++k)
        minutes[static_cast<std::size_t>(k)] =
            field.number_between(to_text(static_cast<ReadingKind>(k)), 0.0, longest_minutes);
}

// The longest that such work takes among what it puts right of the part.
double handling_minutes(const Handling& done, const MachinePlan& plan) {
    const int block = plan.find_block(done.block);
    double minutes = 0.0;
    for (const FaultSpec& fault : plan.knowledge().catalogue.faults) {
        if (block < 0 || fault.kind != plan.blocks[static_cast<std::size_t>(block)].kind->id)
            continue;
        for (const Remedy& remedy : fault.remedies)
            minutes = remedy.act == done.work ? std::max(minutes, remedy.minutes) : minutes;
    }
    return minutes;
}

// Whether charger and lead that stand in a port come together.
bool is_one_piece(const BenchConfiguration& bench, const MachinePlan& plan) {
    const Port* port = plan.topology().find_port(bench.port);
    return port != nullptr && has_fixed_lead(plan.knowledge().kit, port->family);
}

}  // namespace

Result<BenchCosts> parse_costs(const std::string& text, const std::string& file) {
    return read_json<BenchCosts>(text, file, [](const JsonReader& root) {
        root.check_format("eager-hound.costs", 1);
        const JsonReader setup = root.at("setup_minutes");
        const auto minutes = [&](const char* key) { return setup.number_between(key, 0.0, longest_minutes); };
        BenchCosts costs;
        costs.open_case_minutes = minutes("open_case");
        costs.board_out_minutes = minutes("board_out");
        costs.battery_toggle_minutes = minutes("battery_toggle");
        costs.move_plug_minutes = minutes("move_plug");
        costs.turn_plug_minutes = minutes("turn_plug");
        costs.swap_charger_minutes = minutes("swap_charger");
        costs.swap_lead_minutes = minutes("swap_lead");
        costs.swap_instruments_minutes = minutes("swap_instruments");
        costs.press_power_minutes = minutes("press_power");
        costs.hold_plug_minutes = minutes("hold_plug");
        costs.to_tester_minutes = minutes("to_tester");
        costs.bare_plug_minutes = minutes("bare_plug");
        costs.cut_power_minutes = minutes("cut_power");
        costs.ask_minutes = root.number_between("ask_minutes", 0.0, longest_minutes);
        costs.order_minutes = root.number_between("order_minutes", 0.0, longest_minutes);
        costs.note_minutes = root.number_between("note_minutes", 0.0, longest_minutes);
        read_by_kind(root.at("reading_minutes"), costs.reading_minutes);
        read_by_kind(root.at("risk_minutes"), costs.risk_minutes);
        costs.remove_risk_minutes = root.at("risk_minutes").number_between("remove", 0.0, longest_minutes);
        costs.failed_repair_minutes = root.number_between("failed_repair_minutes", 0.0, longest_minutes);
        costs.repair_due_probability = root.number_between("repair_due_probability", 0.5, 1.0);
        costs.plugged_repair_due_probability =
            root.number_between("plugged_repair_due_probability", 0.5, 1.0);
        costs.give_up_probability = root.number_between("give_up_probability", 0.5, 1.0);
        return costs;
    });
}

Result<BenchCosts> load_costs(const std::filesystem::path& data_directory) {
    const auto text = read_text_file(data_directory / "costs.json");
    return text ? parse_costs(*text, "costs.json") : Result<BenchCosts>(text.error());
}

std::vector<Handling> work_between(const BenchConfiguration& from, const BenchConfiguration& to) {
    std::vector<Handling> work;
    std::set_difference(to.handled.begin(), to.handled.end(), from.handled.begin(), from.handled.end(),
                        std::back_inserter(work));
    return work;
}

bool cuts_power_between(const BenchConfiguration& from, const BenchConfiguration& to) {
    return to.power_was_cut && !from.power_was_cut && !all_power_is_cut(to) && !all_power_is_cut(from);
}

double setup_minutes(const BenchConfiguration& from, const BenchConfiguration& to, const MachinePlan& plan,
                     const BenchCosts& costs) {
    double minutes = 0.0;
    if (to.case_open && !from.case_open)
        minutes += costs.open_case_minutes;
    if (to.board_out && !from.board_out)
        minutes += costs.board_out_minutes;
    if (from.battery_in != to.battery_in)
        minutes += costs.battery_toggle_minutes;
    if (to.button != Button::left_alone && from.button != to.button)
        minutes += costs.press_power_minutes;
    if (to.plug_held && !from.plug_held)
        minutes += costs.hold_plug_minutes;
    if (to.tester != Tester::none && from.tester != to.tester)
        minutes += costs.to_tester_minutes;
    if (cuts_power_between(from, to))
        minutes += costs.cut_power_minutes;
    if (to.bare_plug && !from.bare_plug)
        minutes += costs.bare_plug_minutes;
    if (to.charger_connected && (from.port != to.port || !from.charger_connected))
        minutes += costs.move_plug_minutes;
    else if (to.charger_connected && from.side != to.side)
        minutes += costs.turn_plug_minutes;
    const bool other_charger = to.charger_connected && from.charger != to.charger;
    if (other_charger)
        minutes += costs.swap_charger_minutes;
    if (to.charger_connected && from.lead != to.lead && !(other_charger && is_one_piece(to, plan)))
        minutes += costs.swap_lead_minutes;
    if (from.second_instruments != to.second_instruments)
        minutes += costs.swap_instruments_minutes;
    const auto add_work = [&](const std::vector<std::string>& wanted, const std::vector<std::string>& there,
                              std::optional<double> BlockKind::*work) {
        for (const std::string& id : wanted) {
            const int block = plan.find_block(id);
            if (block >= 0 && !std::binary_search(there.begin(), there.end(), id))
                minutes += (plan.blocks[static_cast<std::size_t>(block)].kind->*work).value_or(0.0);
        }
    };
    add_work(to.removed, from.removed, &BlockKind::remove_minutes);
    add_work(to.lent, from.lent, &BlockKind::lend_minutes);
    for (const Handling& wanted : work_between(from, to))
        minutes += handling_minutes(wanted, plan);
    return minutes;
}

double repair_minutes(const FaultInstance& fault, const BenchConfiguration& from, const MachinePlan& plan,
                      const BenchCosts& costs) {
    const FaultSpec* spec = plan.knowledge().catalogue.find(fault.fault);
    const int index = plan.find_block(fault.block);
    if (spec == nullptr || index < 0)
        return costs.failed_repair_minutes;
    if (!still_there(fault.block, *spec, from))
        return 0.0;
    const PlanBlock& block = plan.blocks[static_cast<std::size_t>(index)];
    double minutes = block.kind->replace_minutes;
    bool inside = !block.is_outside();
    if (!spec->remedies.empty()) {
        const Remedy& remedy = spec->remedies.front();
        if (remedy.minutes > 0.0)
            minutes = remedy.minutes;
        if (needs_no_opening(remedy.act))
            inside = false;
    }
    if (inside && !from.case_open)
        minutes += costs.open_case_minutes;
    if (inside && block.kind->needs_board_out && !from.board_out)
        minutes += costs.board_out_minutes;
    return minutes;
}

}  // namespace eh
