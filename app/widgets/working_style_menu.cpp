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
    addSection(tr("Instruments of this bench"));
    addInstrument(ReadingKind::meter, tr("Inline meter at the plug"));
    addInstrument(ReadingKind::net_volts, tr("Multimeter, volts"));
    addInstrument(ReadingKind::net_ohms, tr("Multimeter, ohms"));
    addInstrument(ReadingKind::hot_part, tr("Thermal camera, or alcohol and a finger"));
    addInstrument(ReadingKind::injection, tr("Bench supply to inject, with the camera"));
}

void WorkingStyleMenu::addSchool(School school, const QString& title, QActionGroup* group) {
    QAction* action = addAction(title);
    action->setCheckable(true);
    action->setActionGroup(group);
    action->setChecked(options_.school == school);
    connect(action, &QAction::triggered, this, [this, school] {
        options_.school = school;
        emit changed(options_);
    });
}

void WorkingStyleMenu::addInstrument(ReadingKind kind, const QString& title) {
    QAction* action = addAction(title);
    action->setCheckable(true);
    auto& owned = options_.instruments;
    action->setChecked(std::find(owned.begin(), owned.end(), kind) != owned.end());
    connect(action, &QAction::toggled, this, [this, kind](bool on) {
        auto& list = options_.instruments;
        list.erase(std::remove(list.begin(), list.end(), kind), list.end());
        if (on)
            list.push_back(kind);
        emit changed(options_);
    });
}

}  // namespace eh
