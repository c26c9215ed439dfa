// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/instruments/supply_panel.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/style/theme.h"

namespace eh {
namespace {

constexpr double shop_most_amps = 5.0;
constexpr double first_volts = 1.0;
constexpr double first_limit_amps = 1.0;

}  // namespace

void offer_nets(QComboBox& list, const Topology* topology) {
    const QSignalBlocker quiet(list);
    list.clear();
    if (topology == nullptr)
        return;
    for (const Net& net : topology->nets)
        list.addItem(format::qt(net.title), format::qt(net.id));
}

SupplyPanel::SupplyPanel(JobSession& session, BenchSupply& supply, const Knowledge& knowledge,
                         QWidget* parent)
    : QWidget(parent),
      session_(session),
      supply_(supply),
      knowledge_(knowledge),
      net_(new QComboBox(this)),
      volts_(new QDoubleSpinBox(this)),
      limit_(new QDoubleSpinBox(this)),
      caution_(new QLabel(this)),
      state_(new QLabel(this)),
      on_(new QPushButton(tr("Output o&n"), this)),
      off_(new QPushButton(tr("Output o&ff"), this)),
      reading_(new QPushButton(tr("Take as a &reading …"), this)) {
    net_->setAccessibleName(tr("Net that the supply feeds"));
    net_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    volts_->setSuffix(tr(" V"));
    volts_->setDecimals(2);
    volts_->setSingleStep(0.1);
    volts_->setAccessibleName(tr("Volts of the supply"));
    limit_->setSuffix(tr(" A"));
    limit_->setDecimals(2);
    limit_->setRange(0.05, shop_most_amps);
    limit_->setValue(first_limit_amps);
    limit_->setSingleStep(0.1);
    limit_->setAccessibleName(tr("Current limit of the supply"));
    caution_->setProperty("role", "caution");
    caution_->setWordWrap(true);
    caution_->setText(
        tr("Battery and charger out. Eyes protected: a capacitor can burst. Begin at 1 V; raise only while "
           "nothing but the suspect gets warm."));
    state_->setWordWrap(true);
    state_->setAccessibleName(tr("What the output does"));
    on_->setToolTip(tr("Sets volts and limit, reads them back, then switches on"));
    auto* form = new QFormLayout;
    form->addRow(tr("Into"), net_);
    form->addRow(tr("Volts"), volts_);
    form->addRow(tr("Limit"), limit_);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(on_);
    buttons->addWidget(off_);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addLayout(form);
    column->addWidget(caution_);
    column->addLayout(buttons);
    column->addWidget(reading_);
    column->addWidget(state_);
    column->addStretch(1);
    connect(net_, &QComboBox::currentIndexChanged, this, &SupplyPanel::netChanged);
    connect(on_, &QPushButton::clicked, this, &SupplyPanel::switchOn);
    connect(off_, &QPushButton::clicked, this, [this] { supply_.switchOff(tr("Switched off here.")); });
    connect(reading_, &QPushButton::clicked, this, [this] {
        const Net* net = pickedNet();
        if (net != nullptr && supply_.volts() && supply_.amps())
            emit readingAsked(QStringLiteral("inject %1 %2v %3a %4v %5a ")
                                  .arg(format::qt(net->id))
                                  .arg(format::figures(supply_.set_volts(), 6))
                                  .arg(format::figures(supply_.set_amps(), 6))
                                  .arg(format::number(*supply_.volts(), 3))
                                  .arg(format::number(*supply_.amps(), 3)));
    });
    connect(&supply_, &BenchSupply::changed, this, &SupplyPanel::refresh);
    connect(&supply_.line(), &ScpiLine::identified, this, &SupplyPanel::netChanged);
    connect(&session_, &JobSession::opened, this, &SupplyPanel::offerNets);
    connect(&session_, &JobSession::changed, this, [this] {
        // The bench may say now what forbids it.
        const SupplyBounds now = bounds();
        if (supply_.output() != BenchSupply::Output::off && (now.battery_connected || now.charger_connected))
            supply_.switchOff(now.battery_connected
                                  ? tr("Switched off: the strip says that the battery is connected.")
                                  : tr("Switched off: the strip says that the charger is in."));
        offerNets();
    });
    offerNets();
}

void SupplyPanel::set(const QString& net, double volts, double limit_amps) {
    net_->setCurrentIndex(net_->findData(net));
    volts_->setValue(volts);
    limit_->setValue(limit_amps);
}

const Topology* SupplyPanel::topology() const {
    return session_.hasJob() ? knowledge_.find_topology(session_.job().ticket.topology) : nullptr;
}

const Net* SupplyPanel::pickedNet() const {
    const Topology* machine = topology();
    return machine == nullptr ? nullptr : machine->find_net(net_->currentData().toString().toStdString());
}

SupplyBounds SupplyPanel::bounds() const {
    const Net* net = pickedNet();
    SupplyBounds bounds;
    if (net == nullptr || !session_.hasJob())
        return bounds;
    bounds.net_name = format::qt(net->title);
    bounds.most_volts = net->volts;
    bounds.most_amps = shop_most_amps;
    bounds.battery_connected = session_.job().bench.battery_in;
    bounds.charger_connected = session_.job().bench.charger_connected;
    return bounds;
}

void SupplyPanel::offerNets() {
    const Topology* machine = topology();
    const std::string wanted = machine == nullptr ? std::string() : machine->id;
    if (wanted != offered_) {
        offered_ = wanted;
        if (supply_.output() != BenchSupply::Output::off)
            supply_.switchOff(tr("Switched off: another machine."));
        offer_nets(*net_, machine);
        if (machine != nullptr)
            net_->setCurrentIndex(std::max(0, net_->findData(format::qt(machine->system_rail))));
        netChanged();
    }
    refresh();
}

void SupplyPanel::netChanged() {
    const Net* net = pickedNet();
    if (net != nullptr && net->volts > 0.0) {
        volts_->setRange(0.0, net->volts);
        volts_->setValue(std::min(first_volts, net->volts));
        volts_->setToolTip(tr("No more than the %1 V that it carries in a sound machine")
                               .arg(format::figures(net->volts, 6)));
    }
    if (net != nullptr)
        supply_.putClip(QByteArray::fromStdString(net->id));
    refresh();
}

void SupplyPanel::switchOn() {
    if (auto done = supply_.switchOn(volts_->value(), limit_->value(), bounds()); !done) {
        state_->setText(format::qt(done.error().text()));
        emit said(format::qt(done.error().text()));
    }
}

void SupplyPanel::refresh() {
    const bool ready = supply_.line().ready();
    const auto output = supply_.output();
    const bool off = output == BenchSupply::Output::off;
    on_->setEnabled(ready && off && pickedNet() != nullptr);
    off_->setEnabled(!off);
    reading_->setEnabled(output == BenchSupply::Output::on && supply_.amps().has_value());
    net_->setEnabled(off);
    volts_->setEnabled(off);
    limit_->setEnabled(off);
    switch (output) {
        case BenchSupply::Output::off:
            if (!supply_.why_off().isEmpty())
                state_->setText(supply_.why_off());
            break;
        case BenchSupply::Output::switching:
            state_->setText(tr("Setting volts and limit …"));
            break;
        case BenchSupply::Output::on:
            state_->setText(supply_.limits() ? tr("On, at its limit: the volts stay below what is set.")
                                             : tr("On."));
            break;
        case BenchSupply::Output::unknown:
            state_->setText(supply_.why_off().isEmpty()
                                ? tr("The connection dropped while the output was on: switch it off at the "
                                     "supply itself.")
                                : supply_.why_off());
            break;
    }
}

}  // namespace eh
