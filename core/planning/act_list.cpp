// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/act_list.h"

#include <algorithm>
#include <array>
#include <map>
#include <set>
#include <string>
#include <utility>

#include "core/planning/taken_readings.h"

namespace eh {

std::vector<NextAct> one_of_a_kind(std::vector<NextAct> acts) {
    std::vector<NextAct> kept;
    for (NextAct& act : acts) {
        const bool listed = std::any_of(kept.begin(), kept.end(), [&](const NextAct& better) {
            return better.reading == act.reading && better.place == act.place &&
                   better.configuration.removed == act.configuration.removed &&
                   better.configuration.lent == act.configuration.lent &&
                   better.configuration.bare_plug == act.configuration.bare_plug &&
                   better.work_first == act.work_first && better.cut_power_first == act.cut_power_first &&
                   better.configuration.second_instruments == act.configuration.second_instruments &&
                   (better.bits >= act.bits || (act.reading == ReadingKind::hot_part &&
                                                same_heat(better.configuration, act.configuration)));
        });
        if (!listed)
            kept.push_back(std::move(act));
    }
    return kept;
}

std::vector<NextAct> most_varied(std::vector<NextAct> acts, std::size_t most) {
    if (acts.size() <= most)
        return acts;
    std::set<std::pair<ReadingKind, std::string>> places;
    std::map<ReadingKind, std::size_t> of_kind;
    std::array<std::vector<std::size_t>, 3> by_need;  // indices, of the least needed acts last
    for (std::size_t i = 0; i < acts.size(); ++i) {
        const NextAct& act = acts[i];
        if (!act.repair && !act.place.empty() && !places.emplace(act.reading, act.place).second)
            by_need[2].push_back(i);
        else if (!act.repair && ++of_kind[act.reading] > (most + 1) / 2)
            by_need[1].push_back(i);
        else
            by_need[0].push_back(i);
    }
    std::vector<std::size_t> chosen;
    for (const auto& group : by_need)
        chosen.insert(chosen.end(), group.begin(), group.end());
    chosen.resize(most);
    std::sort(chosen.begin(), chosen.end());
    std::vector<NextAct> kept;
    kept.reserve(most);
    for (const std::size_t i : chosen)
        kept.push_back(std::move(acts[i]));
    return kept;
}

void put_first(std::vector<NextAct>& acts, const NextAct& act) {
    std::erase_if(acts, [&](const NextAct& other) {
        return other.reading == act.reading && other.place == act.place &&
               other.configuration == act.configuration;
    });
    acts.insert(acts.begin(), act);
}

NextAct act_at(ReadingKind kind, const std::string& place, const BenchConfiguration& configuration) {
    NextAct act;
    act.reading = kind;
    act.place = place;
    act.configuration = configuration;
    return act;
}

Reading reading_of(const NextAct& act) {
    Reading reading;
    reading.configuration = act.configuration;
    reading.value = blank_value(act.reading, act.place);
    return reading;
}

bool is_equipped(const NextOptions& options, ReadingKind kind) {
    const auto instrument = [](ReadingKind of) {
        switch (of) {
            case ReadingKind::between:
                return ReadingKind::net_ohms;
            case ReadingKind::pack:
                return ReadingKind::net_volts;
            case ReadingKind::board_look:
                return ReadingKind::look;
            default:
                return of;
        }
    };
    const auto& there = options.instruments;
    return kind == ReadingKind::sign ||
           std::find(there.begin(), there.end(), instrument(kind)) != there.end();
}

}  // namespace eh
