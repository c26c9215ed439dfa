// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/kind_parts.h"

#include <algorithm>
#include <cmath>

#include "core/readings/accuracy.h"

namespace eh::kinds {

double broad_ohms(bool over_limit) {
    return over_limit ? broad_ol_share : (1.0 - broad_ol_share) / broad_ln_ohms_span;
}

double plausible_number(const JsonReader& field, const std::string& key, Unit unit) {
    const double value = field.number(key);
    if (auto check = check_plausible(value, unit, {}); !check)
        field.at(key).refuse(check.error().message);
    return value;
}

void check_unit(const JsonReader& field, const char* wanted) {
    const std::string unit = field.text("unit", wanted);
    if (unit != wanted)
        field.at("unit").refuse("a value in “" + unit + "” does not fit this reading; it is in " + wanted);
}

std::optional<double> read_value_or_ol(const JsonReader& field, Unit unit, const char* name) {
    check_unit(field, name);
    if (field.at("value").raw().is_string() && field.text("value") == "OL")
        return std::nullopt;
    return plausible_number(field, "value", unit);
}

void write_value_or_ol(nlohmann::json& file, const std::optional<double>& value, const char* unit) {
    file["unit"] = unit;
    if (value)
        file["value"] = *value;
    else
        file["value"] = "OL";
}

std::string place_of(const JsonReader& field) {
    std::string place = field.text("place", "");
    if (place.empty())
        field.refuse("this kind of reading names its place (a net or a part)");
    return place;
}

Outcome has_net(const Topology& topology, const std::string& net, const std::string& where) {
    if (topology.find_net(net) == nullptr)
        return refused("this machine has no net “" + net + "”", where);
    return Done{};
}

Outcome without_supply(const BenchConfiguration& bench, const std::string& where) {
    if (bench.injection)
        return refused(
            "a reading by injection names the net, volts and limit of the bench supply, others none", where);
    return Done{};
}

Outcome fits_net(const std::string& net, const BenchConfiguration& bench, const Topology& topology,
                 const std::string& where) {
    const Outcome known = has_net(topology, net, where);
    return known ? without_supply(bench, where) : known;
}

Outcome plausible_or_ol(const std::optional<double>& value, Unit unit, const std::string& where) {
    return value ? check_plausible(*value, unit, where) : Outcome(Done{});
}

std::string must_be_off(const BenchConfiguration& bench) {
    if (bench.charger_connected)
        return "Unplug the charger first: the bench says it is in.";
    if (bench.battery_in)
        return "Disconnect the battery first: the bench says it is in.";
    return {};
}

std::string must_be_powered(const BenchConfiguration& bench) {
    return bench.charger_connected || bench.battery_in
               ? ""
               : "This reading needs power: the bench says no charger and no battery.";
}

std::string branch_of(const std::string& id, const Topology& topology) {
    const Net* net = topology.find_net(id);
    // A line off the charge path is like no other.
    if (net == nullptr || net->stage.empty())
        return id;
    return net->stage == "inlet" ? net->stage + " " + net->port : net->stage;
}

std::string volts_quirk(double volts, const std::string& net, const BenchConfiguration& bench,
                        const Topology& topology) {
    if (std::abs(volts) < strays_below_volts)
        return "stray volts of " + branch_of(net, topology);
    // With the pack in, the rail is where the pack's charge has it; without, where the charger holds it.
    const Net* at = topology.find_net(net);
    const bool of_pack = bench.battery_in && at != nullptr && (at->stage == "rail" || at->stage == "battery");
    return (of_pack ? "pack's volts of " : "volts of ") + branch_of(net, topology);
}

std::string ohms_quirk(const std::optional<double>& ohms, const std::string& net, const Topology& topology) {
    return (ohms && *ohms < few_ohms ? "few ohms of " : "ohms of ") + branch_of(net, topology);
}

bool agree(double a, double b, double share, double digit) {
    constexpr double agree_widths = 3.0;
    const double width = std::hypot(share * std::max(std::abs(a), std::abs(b)), digit);
    return std::abs(a - b) < agree_widths * width;
}

bool agree_or_ol(const std::optional<double>& a, const std::optional<double>& b, double share, double digit) {
    return a.has_value() == b.has_value() && (!a || agree(*a, *b, share, digit));
}

std::string range_text(std::span<const double> edges, int outcome, Unit unit) {
    const auto b = static_cast<std::size_t>(outcome);
    if (b == 0)
        return "below " + format_quantity(edges[0], unit, 2);
    if (b >= edges.size())
        return "over " + format_quantity(edges.back(), unit, 2);
    return format_quantity(edges[b - 1], unit, 2) + " to " + format_quantity(edges[b], unit, 2);
}

}  // namespace eh::kinds
