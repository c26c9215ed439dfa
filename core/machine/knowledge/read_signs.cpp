// SPDX-License-Identifier: GPL-3.0-or-later
// signs.json
#include <cmath>
#include <numeric>

#include "core/base/json_reader.h"
#include "core/base/text.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/simulation/observation.h"

namespace eh {
namespace {

constexpr double most_makes = 0.5;  // else it is what most of them say
constexpr double rounding = 1e-6;   // of shares written with a few digits

SignShares read_shares(const JsonReader& state) {
    SignShares shares{};
    for (int s = 0; s < machine_sign_count; ++s)
        shares[static_cast<std::size_t>(s)] =
            static_cast<float>(state.number_between(to_text(static_cast<MachineSign>(s)), 0.0, 1.0));
    const double sum = std::accumulate(shares.begin(), shares.end(), 0.0);
    if (std::abs(sum - 1.0) > rounding)
        state.refuse("the shares of the signs add up to " + integer_text(std::lround(100.0 * sum)) +
                     " %; they must add up to 100 %");
    return shares;
}

}  // namespace

Result<SignTable> parse_signs(const std::string& text, const std::string& file) {
    return read_json<SignTable>(text, file, [](const JsonReader& root) {
        root.check_format("eager-hound.signs", 1);
        const JsonReader states = root.at("states");
        SignTable table{};
        for (int s = 0; s < sign_state_count; ++s)
            table.of_state[static_cast<std::size_t>(s)] =
                read_shares(states.at(to_text(static_cast<SignState>(s)).c_str()));
        const JsonReader messages = root.at("messages");
        const auto of_makes = [&](FirmwareMessage message) {
            return static_cast<float>(messages.number_between(to_text(message), 0.0, most_makes));
        };
        table.call_it_slow = of_makes(FirmwareMessage::slow_charger);
        table.ask_for_service = of_makes(FirmwareMessage::service_battery);
        table.go_by_charger_input = of_makes(FirmwareMessage::on_battery);
        if (table.call_it_slow + table.ask_for_service + table.go_by_charger_input >= 1.0F)
            messages.refuse(
                "these shares come to 100 % or more, which leaves nothing for the makes that say what "
                "most say");
        return table;
    });
}

}  // namespace eh
