// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rework/stopgap.h"

#include <algorithm>

#include "core/base/json_reader.h"
#include "core/base/json_text.h"

namespace eh {

std::vector<Stopgap> open_stopgaps(std::vector<Stopgap> all) {
    all.erase(std::remove_if(all.begin(), all.end(), [](const Stopgap& s) { return s.done; }), all.end());
    std::stable_sort(all.begin(), all.end(),
                     [](const Stopgap& a, const Stopgap& b) { return a.due_ms < b.due_ms; });
    return all;
}

Result<std::vector<Stopgap>> parse_stopgaps(const std::string& text, const std::string& file) {
    return read_json<std::vector<Stopgap>>(text, file, [](const JsonReader& root) {
        root.check_format("eager-hound.stopgaps", 1);
        std::vector<Stopgap> list;
        for (const JsonReader& item : root.items("stopgaps"))
            list.push_back({item.text("id"), item.text("job", ""), item.text("what"),
                            static_cast<std::int64_t>(item.number("made_ms")),
                            static_cast<std::int64_t>(item.number("due_ms")), item.boolean("done", false)});
        return list;
    });
}

std::string write_stopgaps(const std::vector<Stopgap>& stopgaps) {
    nlohmann::json list = nlohmann::json::array();
    for (const Stopgap& s : stopgaps)
        list.push_back({{"id", s.id},
                        {"job", s.job},
                        {"what", s.what},
                        {"made_ms", s.made_ms},
                        {"due_ms", s.due_ms},
                        {"done", s.done}});
    return json_text(nlohmann::json{{"format", "eager-hound.stopgaps/1"}, {"stopgaps", std::move(list)}}, 1) +
           "\n";
}

}  // namespace eh
