// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/working_style_menu.h"

#include <QActionGroup>
#include <algorithm>

namespace eh {

WorkingStyleMenu::WorkingStyleMenu(const NextOptions& options, QWidget* parent)
    : QMenu(tr("&Working style"), parent), options_(options) {
    addSection(tr("Begin with"));
    auto* schools = new QActionGroup(this);
    addSchool(School::none, tr("What tells most per minute"), schools);
    addSchool(School::outside_in, tr("Outside first: plug, charger, lead"), schools);
    addSchool(School::ohms_first, tr("Ohms first"), schools);
    addSchool(School::thermal_first, tr("Heat first"), schools);
    addSection(tr("A chip that does nothing"));
    auto* repairs = new QActionGroup(this);
    addChoice(tr("Replace it at once"), !options_.reflow_first, [this](bool) {
        options_.reflow_first = false;
    })->setActionGroup(repairs);
    addChoice(tr("Reflow it first"), options_.reflow_first, [this](bool) {
        options_.reflow_first = true;
    })->setActionGroup(repairs);
    addSection(tr("Instruments of this bench"));
    addInstrument(ReadingKind::meter, tr("Inline meter at the plug"));
    addInstrument(ReadingKind::net_volts, tr("Multimeter, volts"));
    addInstrument(ReadingKind::net_ohms, tr("Multimeter, ohms"));
    addInstrument(ReadingKind::hot_part, tr("Thermal camera, or alcohol and a finger"));
    addInstrument(ReadingKind::injection, tr("Bench supply to inject, with the camera"));
    addInstrument(ReadingKind::look, tr("Magnifier"));
    addInstrument(ReadingKind::talk, tr("Recorder on the CC line"));
    addChoice(tr("Known-good jacks, packs and flexes to try"), options_.known_good_parts,
              [this](bool on) { options_.known_good_parts = on; });
    addChoice(tr("A second meter to repeat a reading with"), options_.second_instruments,
              [this](bool on) { options_.second_instruments = on; });
}

QAction* WorkingStyleMenu::addChoice(const QString& title, bool chosen,
                                     const std::function<void(bool)>& choose) {
    QAction* action = addAction(title);
    action->setCheckable(true);
    action->setChecked(chosen);
    connect(action, &QAction::triggered, this, [this, choose](bool on) {
        choose(on);
        emit changed(options_);
    });
    return action;
}

void WorkingStyleMenu::addSchool(School school, const QString& title, QActionGroup* group) {
    addChoice(title, options_.school == school, [this, school](bool) {
        options_.school = school;
    })->setActionGroup(group);
}

void WorkingStyleMenu::addInstrument(ReadingKind kind, const QString& title) {
    const auto& owned = options_.instruments;
    addChoice(title, std::find(owned.begin(), owned.end(), kind) != owned.end(), [this, kind](bool on) {
        auto& list = options_.instruments;
        list.erase(std::remove(list.begin(), list.end(), kind), list.end());
        if (on)
            list.push_back(kind);
    });
}

}  // namespace eh
