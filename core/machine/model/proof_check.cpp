// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/proof_check.h"

#include <algorithm>

#include "core/base/json_reader.h"

namespace eh {

Result<std::vector<ProofCheck>> parse_proof_checks(const std::string& text, const std::string& file) {
    return read_json<std::vector<ProofCheck>>(text, file, [](const JsonReader& root) {
        constexpr double longest_minutes = 24.0 * 60.0;
        root.check_format("eager-hound.proof-checks", 1);
        std::vector<ProofCheck> checks;
        for (const JsonReader& item : root.items("checks")) {
            ProofCheck check{item.text("id"), item.text("says"), item.text("family", ""), CheckNeeds::nothing,
                             0.0};
            const std::string needs = item.text("needs", "");
            if (needs == "battery")
                check.needs = CheckNeeds::battery;
            else if (needs == "timer")
                check.needs = CheckNeeds::timer;
            else if (!needs.empty())
                item.at("needs").refuse("“" + needs + "” is not known here; use battery or timer");
            if (check.needs == CheckNeeds::timer)
                check.minutes = item.number_between("minutes", 0.1, longest_minutes);
            if (std::any_of(checks.begin(), checks.end(),
                            [&](const ProofCheck& c) { return c.id == check.id; }))
                item.refuse("the check “" + check.id + "” stands twice");
            checks.push_back(std::move(check));
        }
        return checks;
    });
}

}  // namespace eh
