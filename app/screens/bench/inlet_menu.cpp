// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/bench/inlet_menu.h"

#include <array>

#include "app/format/text.h"

namespace eh {
namespace {

// What a magnifier shows of an inlet, in the order in which one asks oneself.
constexpr std::array inlet_flaws{Flaw::bent, Flaw::missing, Flaw::worn, Flaw::loose, Flaw::melted};
constexpr std::array inlet_looks{Look::burnt, Look::corroded, Look::dirty, Look::broken};

}  // namespace

InletMenu::InletMenu(QWidget* parent) : QMenu(tr("&L   an inlet, closely"), parent) {
    setEnabled(false);
}

void InletMenu::showMachine(const Knowledge& knowledge, const Topology* machine) {
    const std::string id = machine == nullptr ? std::string() : machine->id;
    if (id == machine_)
        return;
    machine_ = id;
    clear();
    if (machine != nullptr) {
        for (const Block& block : machine->blocks) {
            const BlockKind* kind = knowledge.find_kind(block.kind);
            if (kind != nullptr && !kind->contacts.empty())
                addInlet(block, *kind);
        }
    }
    setEnabled(!isEmpty());
}

void InletMenu::addInlet(const Block& inlet, const BlockKind& kind) {
    QMenu* menu = addMenu(format::qt(inlet.title));
    addLook(*menu, format::qt(describe(Look::sound)), {inlet.id});
    menu->addSeparator();
    for (const Flaw flaw : inlet_flaws)
        addFlaw(*menu, inlet, kind, {inlet.id, look_of(flaw), flaw});
    for (const Look look : inlet_looks)
        addFlaw(*menu, inlet, kind, {inlet.id, look});
}

void InletMenu::addFlaw(QMenu& menu, const Block& inlet, const BlockKind& kind, const LookReading& look) {
    QMenu* where = menu.addMenu(format::qt(describe(look.seen, look.flaw)));
    addLook(*where, format::qt(inlet.title), look);
    for (const auto& [contact, pin] : kind.contacts) {
        const auto net = inlet.pins.find(pin);
        const bool wired = pin.empty() || (net != inlet.pins.end() && net->second != "nc");
        LookReading there = look;
        there.contact = contact;
        if (wired)
            addLook(*where, format::qt(describe(contact)), there);
    }
}

void InletMenu::addLook(QMenu& menu, const QString& text, const LookReading& look) {
    connect(menu.addAction(text), &QAction::triggered, this, [this, look] { emit seen(look); });
}

}  // namespace eh
