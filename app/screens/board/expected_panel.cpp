// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/board/expected_panel.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/format/text.h"
#include "app/screens/board/range_bar.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

QLabel* wrapped_label(QWidget* parent, const QString& name) {
    auto* label = new QLabel(parent);
    label->setWordWrap(true);
    label->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    label->setAccessibleName(name);
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    return label;
}

QString value_words(NetQuantity quantity, const NetEvidence& one) {
    if (one.open)
        return ExpectedPanel::tr("open");
    return format::qt(
        format_quantity(one.value, quantity == NetQuantity::ohms ? Unit::ohms : Unit::volts, 2));
}

}  // namespace

ExpectedPanel::ExpectedPanel(BoardBench& bench, QWidget* parent)
    : QWidget(parent),
      bench_(bench),
      quantity_(new QComboBox(this)),
      entry_(new QLineEdit(this)),
      leads_(new QDoubleSpinBox(this)),
      sound_(new QPushButton(tr("&Keep as sound"), this)),
      caution_(new QLabel(this)),
      bar_(new RangeBar(this)),
      verdict_(wrapped_label(this, tr("What the reading is against what is expected"))),
      evidence_(wrapped_label(this, tr("What is known of this net"))),
      removed_(new QComboBox(this)),
      forecast_(wrapped_label(this, tr("What to expect with the part off"))),
      after_(new QLineEdit(this)),
      removal_(wrapped_label(this, tr("Whether that part was the short"))) {
    auto* middle = new QVBoxLayout;
    middle->addWidget(verdict_);
    middle->addWidget(bar_);
    middle->addWidget(evidence_, 1);
    auto* row = new QHBoxLayout(this);
    row->setSpacing(20);
    row->addWidget(form::scrolled(makeReading()));
    row->addLayout(middle, 1);
    row->addWidget(form::scrolled(makeRemoval()));
    verdict_->setFont(theme::text_font(1.1, true));
    connect(&bench_, &BoardBench::picked, this, &ExpectedPanel::refresh);
    connect(&bench_, &BoardBench::readingsChanged, this, &ExpectedPanel::refresh);
    refresh();
}

QWidget* ExpectedPanel::makeReading() {
    auto* side = new QWidget(this);
    side->setFixedWidth(236);
    quantity_->addItem(tr("Ohms to ground"), static_cast<int>(NetQuantity::ohms));
    quantity_->addItem(tr("Drop in diode mode"), static_cast<int>(NetQuantity::drop));
    quantity_->setAccessibleName(tr("What is measured"));
    entry_->setPlaceholderText(tr("3r3, 0.8, 120k, OL"));
    entry_->setAccessibleName(tr("Reading of the picked net"));
    leads_->setRange(0.0, 5.0);
    leads_->setDecimals(2);
    leads_->setSingleStep(0.05);
    leads_->setSuffix(tr(" Ω"));
    leads_->setSpecialValueText(tr("nulled"));
    leads_->setAccessibleName(tr("Ohms of the leads"));
    leads_->setToolTip(tr("What the meter shows with its probes together; taken off each reading"));
    sound_->setToolTip(tr("This net is sound on this board: its reading is a reference for the next one"));
    auto* form = new QFormLayout;
    form->addRow(tr("Measure"), quantity_);
    form->addRow(tr("It &reads"), entry_);
    form->addRow(tr("&Leads"), leads_);
    caution_->setProperty("role", "caution");
    caution_->setWordWrap(true);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addLayout(form);
    column->addWidget(sound_);
    column->addWidget(caution_);
    column->addStretch(1);
    connect(entry_, &QLineEdit::returnPressed, this, &ExpectedPanel::take);
    connect(quantity_, &QComboBox::currentIndexChanged, this, [this] {
        leads_->setEnabled(asked() == NetQuantity::ohms);
        refresh();
    });
    connect(sound_, &QPushButton::clicked, this,
            [this] { bench_.setSound(asked(), !bench_.isSound(asked())); });
    return side;
}

QWidget* ExpectedPanel::makeRemoval() {
    auto* side = new QWidget(this);
    side->setFixedWidth(240);
    auto* heading = new QLabel(tr("Take a part off, measure again"), side);
    heading->setFont(theme::text_font(1.0, true));
    removed_->setAccessibleName(tr("Part that is taken off"));
    after_->setPlaceholderText(tr("ohms with it off"));
    after_->setAccessibleName(tr("Ohms with the part off"));
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(heading);
    column->addWidget(removed_);
    column->addWidget(forecast_);
    column->addWidget(after_);
    column->addWidget(removal_, 1);
    connect(removed_, &QComboBox::currentIndexChanged, this, &ExpectedPanel::refreshRemoval);
    connect(after_, &QLineEdit::returnPressed, this, &ExpectedPanel::takeRemoval);
    return side;
}

NetQuantity ExpectedPanel::asked() const {
    return static_cast<NetQuantity>(quantity_->currentData().toInt());
}

std::optional<NetValue> ExpectedPanel::typed(const QString& text, NetQuantity quantity) {
    const auto read =
        parse_quantity_as(text.toStdString(), quantity == NetQuantity::ohms ? Unit::ohms : Unit::volts);
    if (!read) {
        emit said(format::qt(read.error().text()));
        return std::nullopt;
    }
    NetValue value;
    value.value = read->over_limit ? 0.0 : read->value;
    value.open = read->over_limit;
    if (quantity == NetQuantity::ohms) {
        value.lead_ohms = leads_->value();
        value.lead_sigma = leads_->value() > 0.0 ? 0.02 : 0.05;
    }
    return value;
}

void ExpectedPanel::take() {
    if (bench_.net() == no_index) {
        emit said(tr("Pick the net first: click one of its pads, or type its name."));
        return;
    }
    if (const auto value = typed(entry_->text(), asked())) {
        entry_->clear();
        bench_.take(asked(), *value);
    }
}

void ExpectedPanel::offerParts() {
    if (offered_net_ == bench_.net() && removed_->count() > 0)
        return;
    offered_net_ = bench_.net();
    const QSignalBlocker quiet(removed_);
    removed_->clear();
    after_->clear();
    if (bench_.net() == no_index)
        return;
    for (const int part : bench_.map()->parts_on(bench_.net()))
        if (bench_.map()->part(part).fitted)
            removed_->addItem(format::qt(bench_.map()->part(part).name), part);
    if (const int own = removed_->findData(bench_.part()); own >= 0)
        removed_->setCurrentIndex(own);
}

void ExpectedPanel::refresh() {
    const QString conflict = bench_.conflict(asked());
    caution_->setText(conflict.isEmpty() ? tr("Charger and battery out, supply off: as the strip says.")
                                         : conflict);
    const bool any = bench_.map() != nullptr && bench_.net() != no_index;
    for (QWidget* widget :
         {static_cast<QWidget*>(entry_), static_cast<QWidget*>(removed_), static_cast<QWidget*>(after_)})
        widget->setEnabled(any);
    offerParts();
    if (!any) {
        verdict_->setText(
            tr("Pick a net: a reading alone says nothing, what matters is what this net should read."));
        evidence_->clear();
        bar_->show(asked(), std::nullopt, std::nullopt);
        sound_->setEnabled(false);
        refreshRemoval();
        return;
    }
    const auto evidence = bench_.evidence(asked());
    const auto reading = bench_.reading(asked());
    // Without a reading the range is shown all the same: judged as if it were what is expected.
    const NetJudgement judged =
        judge_net(asked(), reading.value_or(NetValue{1.0, false, 0.0, 0.05}), evidence);
    const bool only_missing = !reading && !evidence.empty();
    verdict_->setText(only_missing ? tr("Not measured yet on this board.") : format::qt(judged.says));
    QStringList lines;
    for (const NetEvidence& one : evidence)
        lines += tr("%1: %2").arg(format::qt(one.from), value_words(asked(), one));
    evidence_->setText(lines.isEmpty() ? tr("Nothing is known of this net yet.") : lines.join('\n'));
    bar_->show(asked(), evidence.empty() ? std::nullopt : std::optional(judged), reading);
    sound_->setEnabled(reading.has_value());
    sound_->setText(bench_.isSound(asked()) ? tr("&Kept as sound: take back") : tr("&Keep as sound"));
    refreshRemoval();
}

void ExpectedPanel::refreshRemoval() {
    forecast_->clear();
    removal_->clear();
    if (bench_.map() == nullptr || bench_.net() == no_index || removed_->currentIndex() < 0)
        return;
    const auto before = bench_.reading(NetQuantity::ohms);
    if (!before) {
        forecast_->setText(tr("Measure the net's ohms first."));
        return;
    }
    const auto evidence = bench_.evidence(NetQuantity::ohms);
    const std::string part = removed_->currentText().toStdString();
    const auto forecast = removal_forecast(*before, evidence, part);
    forecast_->setText(forecast
                           ? format::qt(forecast->says)
                           : tr("What the sound net reads is not known: only whether it changes will tell."));
    if (after_->text().trimmed().isEmpty())
        return;
    if (const auto after = typed(after_->text(), NetQuantity::ohms))
        removal_->setText(format::qt(judge_removal(*before, *after, evidence, part).says));
}

// A reading of the job too, where the model has the part.
void ExpectedPanel::takeRemoval() {
    refreshRemoval();
    const auto after = typed(after_->text(), NetQuantity::ohms);
    if (after && removed_->currentIndex() >= 0)
        emit said(bench_.takeRemoved(removed_->currentData().toInt(), *after));
}

}  // namespace eh
