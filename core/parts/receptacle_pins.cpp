// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/receptacle_pins.h"

#include <algorithm>
#include <set>

#include "core/base/json_reader.h"
#include "core/base/text.h"

namespace eh {
namespace {

const std::map<std::string, PinFunction>& functions() {
    static const std::map<std::string, PinFunction> names{{"ground", PinFunction::power_return},
                                                          {"bus_power", PinFunction::bus_power},
                                                          {"cc", PinFunction::cc},
                                                          {"usb2", PinFunction::usb2},
                                                          {"high_speed", PinFunction::high_speed},
                                                          {"side_band", PinFunction::side_band},
                                                          {"anchor", PinFunction::anchor}};
    return names;
}

std::string joined(const std::vector<std::string>& names) {
    std::string text;
    for (const std::string& name : names)
        text += (text.empty() ? "" : ", ") + name;
    return text;
}

void judge_power(PadLoss& loss, const std::vector<std::string>& power, const std::vector<std::string>& ground,
                 double needed_amps) {
    if (loss.amps >= needed_amps) {
        if (!power.empty() || !ground.empty())
            loss.says.emplace_back("The rest of the power pads carries " + number_text("%.3g A", loss.amps) +
                                   ", enough for this charger; the lost ones may stay so.");
        return;
    }
    loss.says.insert(loss.says.begin(),
                     loss.amps == 0.0
                         ? std::string("No power or no ground contact is left: nothing charges.")
                         : "What is left of the power pads carries " + number_text("%.3g A", loss.amps) +
                               "; the charger gives " + number_text("%.3g A", needed_amps) +
                               ": the contacts would overheat. Rebuild " +
                               joined(power.empty() ? ground : power) + ".");
}

}  // namespace

std::string describe(PinFunction function) {
    switch (function) {
        case PinFunction::power_return:
            return "ground";
        case PinFunction::bus_power:
            return "power";
        case PinFunction::cc:
            return "CC: side and contract";
        case PinFunction::usb2:
            return "USB 2 data";
        case PinFunction::high_speed:
            return "high-speed data";
        case PinFunction::side_band:
            return "side band: screens, sound";
        case PinFunction::anchor:
            return "anchor";
    }
    return {};
}

const ReceptaclePin* ReceptaclePinMap::find(const std::string& name) const {
    const auto found =
        std::find_if(pins.begin(), pins.end(), [&](const ReceptaclePin& pin) { return pin.name == name; });
    return found == pins.end() ? nullptr : &*found;
}

Result<ReceptaclePinMap> parse_receptacle_pins(const std::string& text, const std::string& file) {
    return read_json<ReceptaclePinMap>(text, file, [](const JsonReader& root) {
        root.check_format("eager-hound.receptacle-pins", 1);
        ReceptaclePinMap map;
        map.amps_a_contact = root.number_between("amps_a_contact", 0.1, 10.0);
        for (const JsonReader& item : root.items("pins")) {
            ReceptaclePin pin;
            pin.name = item.text("name");
            pin.signal = item.text("signal");
            const auto found = functions().find(item.text("function"));
            if (found == functions().end())
                item.at("function").refuse("“" + item.text("function") + "” is no function of a pin");
            pin.function = found->second;
            pin.plug_side =
                static_cast<int>(item.has("plug_side") ? item.number_between("plug_side", 1, 2) : 0);
            if (map.find(pin.name) != nullptr)
                item.refuse("the pin “" + pin.name + "” stands twice");
            map.pins.push_back(std::move(pin));
        }
        if (map.pins.empty())
            root.at("pins").refuse("a receptacle has pins; list them");
        return map;
    });
}

Result<PadLoss> judge_pads(const ReceptaclePinMap& map, const std::vector<std::string>& missing,
                           const std::vector<std::string>& fitted, double needed_amps) {
    for (const std::string& name : missing)
        if (map.find(name) == nullptr)
            return refused("no pad of a receptacle has this name; they run from A1 to B12", "“" + name + "”");
    const std::set<std::string> gone(missing.begin(), missing.end());
    const std::set<std::string> has(fitted.begin(), fitted.end());
    PadLoss loss;
    int power_left = 0;
    int ground_left = 0;
    std::map<PinFunction, std::vector<std::string>> lost;
    for (const ReceptaclePin& pin : map.pins) {
        if (!has.empty() && has.count(pin.name) == 0)
            continue;
        const bool is_gone = gone.count(pin.name) != 0;
        if (pin.function == PinFunction::bus_power)
            power_left += !is_gone;
        if (pin.function == PinFunction::power_return)
            ground_left += !is_gone;
        if (!is_gone)
            continue;
        lost[pin.function].push_back(pin.name);
        for (int side = 1; side <= 2; ++side) {
            if (pin.plug_side != 0 && pin.plug_side != side)
                continue;
            if (pin.function == PinFunction::cc)
                loss.charges_side[side - 1] = false;
            if (pin.function == PinFunction::usb2)
                loss.usb2_side[side - 1] = false;
            if (pin.function == PinFunction::high_speed)
                loss.high_speed_side[side - 1] = false;
        }
        if (pin.function == PinFunction::side_band)
            loss.side_band = false;
    }
    loss.amps = map.amps_a_contact * std::min(power_left, ground_left);
    const auto& cc = lost[PinFunction::cc];
    if (!loss.charges_side[0] && !loss.charges_side[1])
        loss.says.emplace_back("Both CC pads are lost: no charger gives power. Rebuild " + joined(cc) + ".");
    else if (!cc.empty())
        loss.says.emplace_back("Without " + cc.front() +
                               " it charges with the plug one way round only. Rebuild it.");
    judge_power(loss, lost[PinFunction::bus_power], lost[PinFunction::power_return], needed_amps);
    if (loss.amps == 0.0)
        loss.charges_side[0] = loss.charges_side[1] = false;
    if (!lost[PinFunction::usb2].empty())
        loss.says.emplace_back(loss.usb2_side[0] || loss.usb2_side[1]
                                   ? "Mouse and drives work with the plug one way round only."
                                   : "No mouse and no slow drive works here.");
    if (!lost[PinFunction::high_speed].empty())
        loss.says.emplace_back(loss.high_speed_side[0] || loss.high_speed_side[1]
                                   ? "Fast data and screens work with the plug one way round only."
                                   : "No fast data and no screen here; charging does not need them.");
    if (!loss.side_band)
        loss.says.emplace_back("Screens over this port may stay dark.");
    if (loss.says.empty())
        loss.says.emplace_back("Nothing is lost.");
    const bool power_short = loss.amps < needed_amps;
    for (const auto& [function, names] : lost) {
        const bool power = function == PinFunction::bus_power || function == PinFunction::power_return;
        auto& list = function == PinFunction::cc || function == PinFunction::anchor || (power && power_short)
                         ? loss.rebuild
                         : loss.may_stay;
        list.insert(list.end(), names.begin(), names.end());
    }
    return loss;
}

}  // namespace eh
