// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/settings_page.h"

#include <cmath>
#include <utility>

#include "core/base/json_fields.h"
#include "core/base/text.h"
#include "core/readings/kind_parts.h"

namespace eh {
namespace {

constexpr double most_watts = 500.0;
constexpr double best_health_percent = 120.0;
constexpr int most_cycles = 5000;
constexpr double broad_cycles_ln_span = 5.0;  // of the logarithm: from nearly new to worn out

bool within(double value, double high) {
    return value >= 0.0 && value <= high;
}

std::string number_of(double value) {
    return number_text("%.4g", value);
}

// The word as a number, less the unit at its end.
Result<Quantity> number_in(std::string word, const std::string& unit) {
    if (word.size() > unit.size() && lower_case(word).ends_with(unit))
        word.resize(word.size() - unit.size());
    return parse_quantity(word);
}

}  // namespace

Outcome check_page(const SettingsPage& page, const std::string& where) {
    if (page.adapter_watts && !within(*page.adapter_watts, most_watts))
        return refused("adapters of notebooks have 0 to 500 W, not " + number_of(*page.adapter_watts) +
                           " W; read the settings page again",
                       where);
    if (page.health_percent && !within(*page.health_percent, best_health_percent))
        return refused("a battery holds 0 to 120 % of its first capacity, not " +
                           number_of(*page.health_percent) + " %; read the settings page again",
                       where);
    if (page.cycles && (*page.cycles < 0 || *page.cycles > most_cycles))
        return refused("a battery was charged 0 to 5,000 times; read the settings page again", where);
    return Done{};
}

Result<SettingsPage> take_page(std::vector<std::string>& words) {
    SettingsPage page;
    std::vector<std::string> rest;
    for (std::size_t w = 0; w < words.size(); ++w) {
        const std::string word = lower_case(words[w]);
        if (word == "health" || word == "cycles") {
            const auto number = number_in(w + 1 < words.size() ? words[w + 1] : std::string(), "%");
            if (!number || !std::isfinite(number->value))
                return refused("how much is it? Write health 82% or cycles 310");
            if (word == "health")
                page.health_percent = number->value;
            else
                page.cycles = within(number->value, most_cycles) ? static_cast<int>(number->value) : -1;
            ++w;
        } else if (const auto watts = number_in(word, "w"); watts && word.ends_with("w")) {
            page.adapter_watts = watts->value;
        } else {
            rest.push_back(words[w]);
        }
    }
    if (const Outcome good = check_page(page, {}); !good)
        return good.error();
    words = std::move(rest);
    return page;
}

void write_page(const SettingsPage& page, nlohmann::json& file) {
    put_if(file, "adapter_watts", page.adapter_watts);
    put_if(file, "health_percent", page.health_percent);
    if (page.cycles)
        file["cycles"] = *page.cycles;
}

SettingsPage read_page(const JsonReader& field) {
    SettingsPage page;
    if (field.has("adapter_watts"))
        page.adapter_watts = field.number_between("adapter_watts", 0.0, most_watts);
    if (field.has("health_percent"))
        page.health_percent = field.number_between("health_percent", 0.0, best_health_percent);
    if (field.has("cycles") && field.number_between("cycles", 0.0, most_cycles) >= 0.0)
        page.cycles = static_cast<int>(field.integer("cycles", 0));
    return page;
}

std::string page_text(const SettingsPage& page) {
    std::string text;
    if (page.adapter_watts)
        text += *page.adapter_watts > 0.0 ? ", adapter given as " + number_of(*page.adapter_watts) + " W"
                                          : ", adapter's watts not known";
    if (page.health_percent)
        text += ", battery health " + number_of(*page.health_percent) + " %";
    if (page.cycles)
        text += ", " + integer_text(*page.cycles) + " cycles";
    return text;
}

double page_background(const SettingsPage& page) {
    double density = 1.0;
    if (page.adapter_watts)
        density /= adapter_watt_kinds;
    if (page.health_percent)
        density /= kinds::broad_percent_span;
    if (page.cycles && !page.health_percent)
        density /= broad_cycles_ln_span;
    return density;
}

}  // namespace eh
