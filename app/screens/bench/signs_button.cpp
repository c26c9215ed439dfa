// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/bench/signs_button.h"

#include <QMenu>
#include <QShortcut>

#include "app/format/text.h"

namespace eh {

SignsButton::SignsButton(QWidget* parent) : QToolButton(parent), inlets_(new InletMenu(this)) {
    setObjectName("signs");
    setText(tr("It shows …   G"));
    setToolTip(tr("What the machine shows or says, with one key each (G)"));
    setPopupMode(QToolButton::InstantPopup);
    setStyleSheet(QStringLiteral("QToolButton::menu-indicator { image: none; }"));  // its dots say it
    auto* menu = new QMenu(this);
    setMenu(menu);
    const Topology none;  // these kinds name no part of the machine
    menu->addSection(tr("Without a screen"));
    for (int s = 0; s < machine_sign_count; ++s) {
        const SignReading value{static_cast<MachineSign>(s)};
        add(QChar('1' + s), format::qt(Traits<SignReading>::value_text(value, none)), value);
    }
    menu->addSection(tr("On its screen"));
    constexpr std::string_view keys = "qwertyuiop";
    for (int m = 0; m < firmware_message_count; ++m) {
        const FirmwareReading value{static_cast<FirmwareMessage>(m)};
        add(QChar::fromLatin1(keys[static_cast<std::size_t>(m)]),
            format::qt(Traits<FirmwareReading>::value_text(value, none)), value);
    }
    QAction* page = menu->addAction(tr("&N   numbers of its settings page: watts, health, cycles …"));
    connect(page, &QAction::triggered, this, &SignsButton::typesPage);
    menu->addSection(tr("Under magnification"));
    menu->addMenu(inlets_);
    connect(inlets_, &InletMenu::seen, this, &SignsButton::seen);
    add(QChar('b'), tr("board looked over, nothing odd"), BoardLookReading{});
    auto* key = new QShortcut(Qt::Key_G, parent);
    key->setContext(Qt::WidgetWithChildrenShortcut);
    connect(key, &QShortcut::activated, this, &QToolButton::showMenu);
}

void SignsButton::showMachine(const Knowledge& knowledge, const Topology* machine) {
    inlets_->showMachine(knowledge, machine);
}

void SignsButton::add(QChar key, const QString& text, const ReadingValue& value) {
    // The letter stands by itself, so that every line has its own.
    QAction* action = menu()->addAction(tr("&%1   %2").arg(key.toUpper()).arg(text));
    connect(action, &QAction::triggered, this, [this, value] { emit seen(value); });
}

}  // namespace eh
