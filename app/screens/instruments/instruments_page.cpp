// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/instruments/instruments_page.h"

#include <QDateTime>
#include <QFormLayout>
#include <QHBoxLayout>
#include <cmath>

#include "app/format/text.h"
#include "app/screens/instruments/columns_form.h"
#include "app/screens/instruments/supply_panel.h"
#include "app/style/theme.h"
#include "core/electrics/engineering.h"
#include "core/entry/quick_line.h"

namespace eh {
namespace {

constexpr int page_tick_ms = 250;

QString state_word(Wire::State state, bool ready) {
    switch (state) {
        case Wire::State::closed:
            return InstrumentsPage::tr("not connected");
        case Wire::State::connecting:
            return InstrumentsPage::tr("trying …");
        case Wire::State::open:
            break;
    }
    return ready ? InstrumentsPage::tr("connected") : InstrumentsPage::tr("asking …");
}

InstrumentCard::Tone tone_of(const ScpiLine& line) {
    return line.ready() ? InstrumentCard::Tone::good : InstrumentCard::Tone::quiet;
}

QString identity_of(const ScpiLine& line) {
    return line.identity().section(',', 0, 1).replace(QLatin1Char(','), QLatin1String(", "));
}

}  // namespace

InstrumentsPage::InstrumentsPage(JobSession& session, MeterFeed& feed, Multimeter& multimeter,
                                 BenchSupply& supply, Preferences& preferences, const Knowledge& knowledge,
                                 QWidget* parent)
    : QWidget(parent),
      session_(session),
      feed_(feed),
      multimeter_(multimeter),
      supply_(supply),
      preferences_(preferences),
      knowledge_(knowledge),
      meter_card_(new InstrumentCard(tr("Inline meter"), tr("Lines of numbers, from the plug"), this)),
      multimeter_card_(new InstrumentCard(tr("Multimeter"), tr("SCPI: volts and ohms of a net"), this)),
      supply_card_(new InstrumentCard(tr("Bench supply"), tr("SCPI: feeds a net through a limit"), this)) {
    makeMeterCard();
    makeMultimeterCard();
    makeSupplyCard();
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 10, 14, 8);
    setFocusPolicy(Qt::StrongFocus);
    row->setSpacing(12);
    for (InstrumentCard* card : {meter_card_, multimeter_card_, supply_card_})
        row->addWidget(card, 1);
    connect(&session_, &JobSession::opened, this, &InstrumentsPage::offerNets);
    connect(&session_, &JobSession::changed, this, &InstrumentsPage::offerNets);
    connect(&refresh_, &QTimer::timeout, this, [this] {
        if (isVisible())
            refresh();
    });
    refresh_.start(page_tick_ms);
    offerNets();
    refresh();
}

void InstrumentsPage::makeMeterCard() {
    meter_card_->address().setText(preferences_.meterAddress());
    columns_ = new ColumnsForm(preferences_.meterColumns(), meter_card_);
    nonsense_ = new QLabel(meter_card_);
    nonsense_->setWordWrap(true);
    nonsense_->setAccessibleName(tr("Lines that made no sense"));
    auto* heading = new QLabel(tr("Its columns"), meter_card_);
    heading->setFont(theme::text_font(0.95, true));
    meter_card_->body().addWidget(heading);
    meter_card_->body().addWidget(columns_);
    meter_card_->body().addWidget(nonsense_);
    meter_card_->body().addStretch(1);
    connect(columns_, &ColumnsForm::changed, this, [this](const MeterColumns& columns) {
        preferences_.setMeterColumns(columns);
        feed_.setColumns(columns);
    });
    connect(meter_card_, &InstrumentCard::connectAsked, this, &InstrumentsPage::meterAsked);
    connect(meter_card_, &InstrumentCard::disconnectAsked, &feed_, &MeterFeed::close);
    connect(&feed_, &MeterFeed::stateChanged, this, &InstrumentsPage::refreshMeter);
}

void InstrumentsPage::makeMultimeterCard() {
    multimeter_card_->address().setText(preferences_.multimeterAddress());
    function_ = new QComboBox(multimeter_card_);
    function_->addItem(tr("Volts to ground"), static_cast<int>(MultimeterFunction::volts));
    function_->addItem(tr("Ohms to ground"), static_cast<int>(MultimeterFunction::ohms));
    function_->setAccessibleName(tr("What the multimeter measures"));
    probe_net_ = new QComboBox(multimeter_card_);
    probe_net_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    probe_net_->setAccessibleName(tr("Net that the red probe is on"));
    take_ = new QPushButton(tr("&Take as a reading"), multimeter_card_);
    auto* form = new QFormLayout;
    form->addRow(tr("Measure"), function_);
    form->addRow(tr("Red probe on"), probe_net_);
    multimeter_card_->body().addLayout(form);
    multimeter_card_->body().addWidget(take_);
    auto* caution = new QLabel(
        tr("Ohms only with battery and charger out, and with the supply off: volts on the net make "
           "the reading worthless and can harm the meter."),
        multimeter_card_);
    caution->setProperty("role", "caution");
    caution->setWordWrap(true);
    multimeter_card_->body().addWidget(caution);
    multimeter_card_->body().addStretch(1);
    connect(function_, &QComboBox::currentIndexChanged, this, &InstrumentsPage::watchMultimeter);
    connect(probe_net_, &QComboBox::currentIndexChanged, this, &InstrumentsPage::probeMoved);
    connect(take_, &QPushButton::clicked, this, &InstrumentsPage::takeMultimeter);
    connect(multimeter_card_, &InstrumentCard::connectAsked, this, &InstrumentsPage::multimeterAsked);
    connect(multimeter_card_, &InstrumentCard::disconnectAsked, this, [this] {
        multimeter_.line().close();
        refreshMultimeter();
    });
    connect(&multimeter_.line(), &ScpiLine::identified, this, [this] {
        probeMoved();
        if (isVisible())
            watchMultimeter();
    });
    connect(&multimeter_, &Multimeter::changed, this, &InstrumentsPage::refreshMultimeter);
}

void InstrumentsPage::makeSupplyCard() {
    supply_card_->address().setText(preferences_.supplyAddress());
    supply_panel_ = new SupplyPanel(session_, supply_, knowledge_, supply_card_);
    supply_card_->body().addWidget(supply_panel_, 1);
    connect(supply_card_, &InstrumentCard::connectAsked, this, &InstrumentsPage::supplyAsked);
    connect(supply_card_, &InstrumentCard::disconnectAsked, this, [this] {
        supply_.close();
        refreshSupply();
    });
    connect(supply_panel_, &SupplyPanel::said, this, &InstrumentsPage::said);
    connect(supply_panel_, &SupplyPanel::readingAsked, this, &InstrumentsPage::injectionAsked);
    connect(&supply_, &BenchSupply::said, this, &InstrumentsPage::said);
    connect(&supply_, &BenchSupply::changed, this, &InstrumentsPage::refreshSupply);
}

void InstrumentsPage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    watchMultimeter();
    refresh();
}

void InstrumentsPage::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    // Volts go on being watched for the contact's ohms; an ohmmeter need not.
    if (multimeter_.function() == MultimeterFunction::ohms)
        multimeter_.rest();
}

void InstrumentsPage::watchMultimeter() {
    multimeter_.watch(static_cast<MultimeterFunction>(function_->currentData().toInt()));
}

void InstrumentsPage::probeMoved() {
    multimeter_.putProbe(probe_net_->currentData().toString().toUtf8());
}

void InstrumentsPage::offerNets() {
    const Topology* topology =
        session_.hasJob() ? knowledge_.find_topology(session_.job().ticket.topology) : nullptr;
    const std::string wanted = topology == nullptr ? std::string() : topology->id;
    if (wanted == offered_)
        return;
    offered_ = wanted;
    offer_nets(*probe_net_, topology);
    probeMoved();
}

void InstrumentsPage::refresh() {
    refreshMeter();
    refreshMultimeter();
    refreshSupply();
}

void InstrumentsPage::refreshMeter() {
    const auto state = feed_.state();
    const bool lit = state == MeterFeed::State::lit;
    QString word = tr("not connected");
    if (lit)
        word = tr("lit, %1 lines a second").arg(format::number(feed_.rate_hz(), 0));
    else if (state == MeterFeed::State::dark)
        word = tr("dark");
    else if (state == MeterFeed::State::connecting)
        word = tr("trying …");
    meter_card_->setState(word, lit ? InstrumentCard::Tone::good : InstrumentCard::Tone::quiet);
    meter_card_->setConnected(state != MeterFeed::State::idle);
    meter_card_->setProblem(feed_.problem());
    meter_card_->setValue(
        lit ? QStringLiteral("%1 V").arg(format::number(feed_.last().volts, 2)) : QStringLiteral("–"),
        lit ? QStringLiteral("%1 A").arg(format::number(feed_.last().amps, 3)) : QString());
    nonsense_->setText(
        feed_.nonsense_lines() == 0
            ? QString()
            : tr("%1 lines made no sense, the last: “%2”. If that is a line of your meter, set its "
                 "columns.")
                  .arg(feed_.nonsense_lines())
                  .arg(QString::fromUtf8(feed_.last_nonsense())));
}

void InstrumentsPage::refreshMultimeter() {
    const ScpiLine& line = multimeter_.line();
    multimeter_card_->setState(state_word(line.state(), line.ready()), tone_of(line));
    multimeter_card_->setIdentity(identity_of(line));
    multimeter_card_->setConnected(line.state() != Wire::State::closed);
    multimeter_card_->setProblem(line.problem());
    const auto value = multimeter_.value();
    const bool ohms = multimeter_.function() == MultimeterFunction::ohms;
    QString text = QStringLiteral("–");
    if (value && !std::isfinite(*value))
        text = tr("OL");
    else if (value)
        text = format::qt(format_quantity(*value, ohms ? Unit::ohms : Unit::volts, 4));
    multimeter_card_->setValue(text);
    take_->setEnabled(value && session_.hasJob() && probe_net_->currentIndex() >= 0);
}

void InstrumentsPage::refreshSupply() {
    const ScpiLine& line = supply_.line();
    if (supply_.output() == BenchSupply::Output::off)
        supply_card_->setState(state_word(line.state(), line.ready()), tone_of(line));
    else
        supply_card_->setState(
            supply_.output() == BenchSupply::Output::unknown ? tr("OUTPUT UNKNOWN") : tr("OUTPUT ON"),
            InstrumentCard::Tone::danger);
    supply_card_->setIdentity(identity_of(line));
    supply_card_->setConnected(line.state() != Wire::State::closed);
    supply_card_->setProblem(line.problem());
    const bool known = supply_.volts() && supply_.amps();
    supply_card_->setValue(
        known ? QStringLiteral("%1 V").arg(format::number(*supply_.volts(), 3)) : QStringLiteral("–"),
        known ? QStringLiteral("%1 A").arg(format::number(*supply_.amps(), 3)) : QString());
}

void InstrumentsPage::takeMultimeter() {
    const Topology* topology =
        session_.hasJob() ? knowledge_.find_topology(session_.job().ticket.topology) : nullptr;
    const auto value = multimeter_.value();
    if (topology == nullptr || !value) {
        emit said(tr("Open a job, choose the machine's kind, and wait for a value."));
        return;
    }
    const bool ohms = multimeter_.function() == MultimeterFunction::ohms;
    const ReadingKind kind = ohms ? ReadingKind::net_ohms : ReadingKind::net_volts;
    const std::string net = probe_net_->currentData().toString().toStdString();
    Reading reading;
    reading.configuration = session_.job().bench;
    if (supply_.output() != BenchSupply::Output::off) {
        emit said(tr("The supply feeds a net: switch it off before a reading of the multimeter is taken."));
        return;
    }
    if (const std::string conflict = bench_conflict(kind, reading.configuration); !conflict.empty()) {
        emit said(format::qt(conflict));
        return;
    }
    if (!ohms && !std::isfinite(*value)) {
        emit said(tr("The multimeter is over its range."));
        return;
    }
    if (ohms)
        reading.value = NetOhmsReading{net, std::isfinite(*value) ? std::optional(*value) : std::nullopt};
    else
        reading.value = NetVoltsReading{net, *value, std::nullopt};
    reading.taken_ms = QDateTime::currentMSecsSinceEpoch();
    reading.source = "captured";
    const QString text = format::qt(describe(reading, *topology));
    session_.addReading(std::move(reading));
    emit said(tr("Taken: %1").arg(text));
}

}  // namespace eh
