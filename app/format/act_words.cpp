// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/format/act_words.h"

#include <QObject>

#include "app/format/text.h"

namespace eh::format {

QString actText(const NextAct& act, const MachinePlan& plan) {
    return act.repair ? QObject::tr("%1: %2").arg(workWord(act.remedy), blockTitle(plan, act.fault.block))
                      : qt(describe(act, plan));
}

QString leaderText(HypothesisKind kind, const std::string& block, const MachinePlan& plan) {
    switch (kind) {
        case HypothesisKind::nothing_wrong:
            return QObject::tr("nothing wrong");
        case HypothesisKind::none_of_these:
            return QObject::tr("none of these");
        case HypothesisKind::fault:
            break;
    }
    return blockTitle(plan, block);
}

}  // namespace eh::format
