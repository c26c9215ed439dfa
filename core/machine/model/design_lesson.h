// SPDX-License-Identifier: GPL-3.0-or-later
// What machines of one kind taught of its design: the next one starts from there.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/machine/model/design_variety.h"
#include "core/machine/model/topology.h"

namespace eh {

struct DesignLesson {
    // By habit: by how much the readings of a machine moved the log of its odds; 0 where they tell nothing.
    ByHabit<double> habits{};
    std::map<std::string, double> sound_ohms;  // by net: to ground, off, where no fault changed them
    friend bool operator==(const DesignLesson&, const DesignLesson&) = default;
};

// Of several machines of a kind. Odds multiply, as each machine speaks for itself and all have one design;
// ohms are the geometric median.
DesignLesson together(const std::vector<DesignLesson>& lessons);

// The topology with those ohms as known, but where its file knows better.
Topology with_sound_ohms(Topology topology, const std::map<std::string, double>& sound_ohms);

}  // namespace eh
