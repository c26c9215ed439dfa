// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/intake/fact_box.h"

#include <QHBoxLayout>
#include <QSignalBlocker>
#include <algorithm>

#include "app/format/text.h"

namespace eh {
namespace {

constexpr int beside_the_word = 12;  // px: margins

}  // namespace

FactBox::FactBox(const IntakeFact& fact, QWidget* parent)
    : QWidget(parent),
      local_(fact.local),
      box_(new QCheckBox(format::qt(fact.title), this)),
      where_(new QToolButton(this)),
      places_(new QMenu(this)) {
    setObjectName("fact-" + format::qt(fact.id));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    row->addWidget(box_);
    row->addWidget(where_);
    row->addStretch(1);
    // Two columns of facts have room for one short word beside each.
    where_->setFixedWidth(where_->fontMetrics().horizontalAdvance(tr("where?")) + beside_the_word);
    where_->setStyleSheet(
        QStringLiteral("QToolButton { padding: 0px 3px; } QToolButton::menu-indicator { image: none; }"));
    where_->setMenu(places_);
    where_->setPopupMode(QToolButton::InstantPopup);
    where_->hide();
    connect(box_, &QCheckBox::toggled, this, &FactBox::said);
    connect(places_, &QMenu::triggered, this, [this] {
        QStringList chosen;
        for (const QAction* action : places_->actions())
            if (action->isChecked())
                chosen += action->data().toString();
        emit placed(chosen);
    });
}

void FactBox::show(bool holds, const QString& text, const std::vector<std::string>& places,
                   const Topology* machine) {
    const QSignalBlocker quiet(box_);
    box_->setChecked(holds);
    box_->setText(text);
    where_->setVisible(local_ && holds && machine != nullptr);
    if (!local_ || machine == nullptr)
        return;
    // While one of them is being chosen they must not be made anew.
    if (machine_ != machine->id)
        makePlaces(*machine);
    showPlaces(places);
}

void FactBox::makePlaces(const Topology& machine) {
    machine_ = machine.id;
    places_->clear();
    const auto add = [&](const QString& title, const std::string& place) {
        QAction* action = places_->addAction(title);
        action->setCheckable(true);
        action->setData(format::qt(place));
    };
    for (const Port& port : machine.ports)
        add(format::qt(port.title), port.id);
    add(tr("Board, not at a port"), board_place);
}

void FactBox::showPlaces(const std::vector<std::string>& places) {
    QStringList titles;
    for (QAction* action : places_->actions()) {
        const std::string place = action->data().toString().toStdString();
        action->setChecked(std::find(places.begin(), places.end(), place) != places.end());
        if (action->isChecked())
            titles += place == board_place ? tr("board") : action->text();
    }
    const QString word = titles.isEmpty() ? tr("where?")
                         : titles.size() == 1
                             ? titles.front()
                             : tr("%1 of %2").arg(titles.size()).arg(places_->actions().size());
    where_->setText(
        where_->fontMetrics().elidedText(word, Qt::ElideRight, where_->width() - beside_the_word));
    const QString says = titles.isEmpty() ? tr("Nobody has said where") : titles.join(tr(", "));
    where_->setToolTip(tr("%1. Parts there are suspected more, those elsewhere less.").arg(says));
    where_->setAccessibleName(tr("%1: where").arg(box_->text()));
}

}  // namespace eh
