// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/school.h"

namespace eh {

bool likes(School school, const NextAct& act) {
    switch (school) {
        case School::outside_in:
            return !act.configuration.case_open;
        case School::ohms_first:
            return act.reading == ReadingKind::net_ohms;
        case School::thermal_first:
            return act.reading == ReadingKind::hot_part || act.reading == ReadingKind::injection;
        case School::none:
            break;
    }
    return false;
}

}  // namespace eh
