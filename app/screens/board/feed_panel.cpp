// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/board/feed_panel.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

enum StepColumn {
    SetPointColumn,
    ForecastColumn,
    ShortWattsColumn,
    CopperRiseColumn,
    CameVolts,
    CameAmps,
    StepColumns
};

QDoubleSpinBox* spin_of(QWidget* parent, double least, double most, double value, const QString& suffix,
                        const QString& name) {
    auto* spin = new QDoubleSpinBox(parent);
    spin->setRange(least, most);
    spin->setDecimals(2);
    spin->setValue(value);
    spin->setSuffix(suffix);
    spin->setAccessibleName(name);
    return spin;
}

}  // namespace

FeedPanel::FeedPanel(BoardBench& bench, QWidget* parent)
    : QWidget(parent),
      bench_(bench),
      net_volts_(spin_of(this, 0.0, 60.0, 0.0, tr(" V"), tr("The net's own volts"))),
      narrowest_(spin_of(this, 0.05, 100.0, 1.0, tr(" mm"), tr("Narrowest copper on the way"))),
      inside_(new QCheckBox(tr("inside the board"), this)),
      supply_amps_(spin_of(this, 0.1, 30.0, 5.0, tr(" A"), tr("The most that the supply gives"))),
      seen_by_(new QComboBox(this)),
      steps_(new QTableWidget(0, StepColumns, this)),
      verdict_(new QLabel(this)),
      cautions_(new QLabel(this)),
      to_supply_(new QPushButton(tr("&Set this step at the supply"), this)) {
    net_volts_->setSpecialValueText(tr("not known"));
    seen_by_->addItem(tr("finger or alcohol"), 15.0);
    seen_by_->addItem(tr("thermal camera"), 2.0);
    seen_by_->addItem(tr("camera, supply on and off"), 0.05);
    seen_by_->setAccessibleName(tr("How the heat is looked for"));
    auto* side = new QWidget(this);
    side->setFixedWidth(330);
    auto* form = new QFormLayout;
    form->addRow(tr("The net's own"), net_volts_);
    form->addRow(tr("Thinnest copper"), narrowest_);
    form->addRow(QString(), inside_);
    form->addRow(tr("Supply, at most"), supply_amps_);
    form->addRow(tr("Looked for by"), seen_by_);
    steps_->setHorizontalHeaderLabels(
        {tr("Set"), tr("Expect"), tr("In it"), tr("Copper"), tr("Came V"), tr("Came A")});
    steps_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    for (const int column : {SetPointColumn, ForecastColumn})
        steps_->horizontalHeader()->setSectionResizeMode(column, QHeaderView::ResizeToContents);
    steps_->horizontalHeaderItem(ShortWattsColumn)->setToolTip(tr("Watts in the short"));
    steps_->horizontalHeaderItem(CopperRiseColumn)->setToolTip(tr("Rise of the narrowest copper on the way"));
    steps_->verticalHeader()->hide();
    steps_->setSelectionBehavior(QAbstractItemView::SelectRows);
    steps_->setSelectionMode(QAbstractItemView::SingleSelection);
    steps_->setAccessibleName(tr("Steps of feeding the net"));
    verdict_->setWordWrap(true);
    verdict_->setAccessibleName(tr("What the steps say"));
    cautions_->setProperty("role", "caution");
    cautions_->setWordWrap(true);
    cautions_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    auto* middle = new QVBoxLayout;
    middle->addWidget(steps_, 1);
    middle->addWidget(verdict_);
    middle->addWidget(to_supply_);
    auto* left = new QVBoxLayout(side);
    left->setContentsMargins(0, 0, 0, 0);
    left->addLayout(form);
    left->addWidget(cautions_, 1);
    auto* row = new QHBoxLayout(this);
    row->setSpacing(16);
    row->addWidget(form::scrolled(side));
    row->addLayout(middle, 1);
    for (QDoubleSpinBox* spin : {net_volts_, narrowest_, supply_amps_})
        connect(spin, &QDoubleSpinBox::valueChanged, this, &FeedPanel::plan);
    connect(inside_, &QCheckBox::toggled, this, &FeedPanel::plan);
    connect(seen_by_, &QComboBox::currentIndexChanged, this, &FeedPanel::plan);
    connect(steps_, &QTableWidget::itemChanged, this, &FeedPanel::check);
    connect(to_supply_, &QPushButton::clicked, this, &FeedPanel::askSupply);
    connect(&bench_, &BoardBench::picked, this, &FeedPanel::netPicked);
    connect(&bench_, &BoardBench::readingsChanged, this, &FeedPanel::plan);
    netPicked();
}

void FeedPanel::netPicked() {
    const Net* known = bench_.machineNet();
    const QSignalBlocker quiet(net_volts_);
    net_volts_->setValue(known == nullptr ? 0.0 : known->volts);
    plan();
}

void FeedPanel::plan() {
    planning_ = true;
    steps_->setRowCount(0);
    cautions_->clear();
    plan_ = {};
    const auto reading = bench_.map() == nullptr ? std::nullopt : bench_.reading(NetQuantity::ohms);
    to_supply_->setEnabled(false);
    if (!reading || reading->open || net_volts_->value() <= 0.0) {
        verdict_->setText(
            tr("Pick the shorted net, measure its ohms under Expected, and enter the volts that it has "
               "in a sound machine: then the steps stand here."));
        planning_ = false;
        return;
    }
    InjectionQuestion question;
    question.net_volts = net_volts_->value();
    question.ohms = std::max(0.01, reading->value - reading->lead_ohms);
    question.narrowest_mm = narrowest_->value();
    question.copper_inside = inside_->isChecked();
    question.supply_amps = supply_amps_->value();
    question.wanted_rise_kelvin = seen_by_->currentData().toDouble();
    for (const int part : bench_.map()->parts_on(bench_.net()))
        if (bench_.map()->part(part).fitted)
            question.suspects.push_back(bench_.map()->part(part).name);
    auto made = plan_injection(question);
    if (!made) {
        verdict_->setText(format::qt(made.error().message));
        planning_ = false;
        return;
    }
    plan_ = std::move(made).value();
    steps_->setRowCount(static_cast<int>(plan_.steps.size()));
    const auto words = [](double value, Unit unit) { return format::qt(format_quantity(value, unit, 2)); };
    for (int s = 0; s < steps_->rowCount(); ++s) {
        const InjectionStep& step = plan_.steps[static_cast<std::size_t>(s)];
        const auto put = [&](int column, const QString& text, bool editable) {
            auto* item = new QTableWidgetItem(text);
            item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            item->setFlags(editable ? item->flags() | Qt::ItemIsEditable
                                    : item->flags() & ~Qt::ItemIsEditable);
            steps_->setItem(s, column, item);
        };
        put(SetPointColumn,
            tr("%1, %2").arg(words(step.volts, Unit::volts), words(step.limit_amps, Unit::amps)), false);
        put(ForecastColumn,
            tr("%1, %2").arg(words(step.expected_volts, Unit::volts), words(step.expected_amps, Unit::amps)),
            false);
        put(ShortWattsColumn, words(step.watts, Unit::watts), false);
        put(CopperRiseColumn, QStringLiteral("+") + words(step.copper_kelvin, Unit::kelvin), false);
        put(CameVolts, {}, true);
        put(CameAmps, {}, true);
    }
    steps_->selectRow(0);
    to_supply_->setEnabled(bench_.machineNet() != nullptr);
    QStringList lines;
    for (const std::string& caution : plan_.cautions)
        lines += format::qt(caution);
    cautions_->setText(lines.join("\n"));
    planning_ = false;
    check();
}

void FeedPanel::check() {
    if (planning_ || plan_.steps.empty())
        return;
    QString text = tr("Ends there because %1.").arg(format::qt(plan_.ends_because));
    if (!plan_.heats.empty())
        text += tr(" Then %1 would be about %2 K warmer if it is the short, within a factor of two.")
                    .arg(format::qt(plan_.heats.front().part))
                    .arg(format::figures(plan_.heats.front().kelvin, 2));
    if (!plan_.reaches_wanted)
        text += tr(" That is less than you look for: use a more sensitive way.");
    std::vector<StepReading> came;
    for (int s = 0; s < steps_->rowCount(); ++s) {
        bool volts = false;
        bool amps = false;
        const auto number = [&](int column, bool& ok) {
            return steps_->item(s, column)->text().replace(',', '.').toDouble(&ok);
        };
        const StepReading one{number(CameVolts, volts), number(CameAmps, amps)};
        if (volts && amps)
            came.push_back(one);
    }
    const auto reading = bench_.reading(NetQuantity::ohms);
    if (reading) {
        if (const auto checked = check_injection(came, reading->value - reading->lead_ohms))
            text = format::qt(checked->says) + ' ' + text;
    }
    verdict_->setText(text);
}

void FeedPanel::askSupply() {
    const Net* net = bench_.machineNet();
    const int row = steps_->currentRow();
    if (net == nullptr || row < 0 || row >= static_cast<int>(plan_.steps.size()))
        return;
    const InjectionStep& step = plan_.steps[static_cast<std::size_t>(row)];
    emit supplyAsked(format::qt(net->id), step.volts, step.limit_amps);
}

}  // namespace eh
