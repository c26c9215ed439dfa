// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/design_lesson.h"

#include <cmath>
#include <utility>

#include "core/base/quantile.h"

namespace eh {

DesignLesson together(const std::vector<DesignLesson>& lessons) {
    DesignLesson sum;
    std::map<std::string, std::vector<double>> logs;
    for (const DesignLesson& lesson : lessons) {
        for (std::size_t h = 0; h < habit_count; ++h)
            sum.habits[h] += lesson.habits[h];
        for (const auto& [net, ohms] : lesson.sound_ohms)
            logs[net].push_back(std::log(ohms));
    }
    for (auto& [net, of_net] : logs)
        sum.sound_ohms[net] = std::exp(median(std::move(of_net)));
    return sum;
}

Topology with_sound_ohms(Topology topology, const std::map<std::string, double>& sound_ohms) {
    for (Net& net : topology.nets) {
        const auto known = sound_ohms.find(net.id);
        if (known != sound_ohms.end() && !net.known_ohms)
            net.known_ohms = known->second;
    }
    return topology;
}

}  // namespace eh
