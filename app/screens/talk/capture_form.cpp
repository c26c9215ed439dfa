// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/talk/capture_form.h"

#include <QVBoxLayout>
#include <array>
#include <cmath>

#include "app/format/text.h"
#include "app/widgets/form_parts.h"

namespace eh {
namespace {

constexpr double most_megahertz = 1000.0;
constexpr double most_threshold_volts = 5.0;
constexpr double same_share = 1e-6;
constexpr int form_width = 520;

}  // namespace

CaptureForm::CaptureForm(QWidget* parent)
    : QWidget(parent),
      fields_(new QFormLayout),
      question_(form::wrapped(this, tr("What the capture asks"))),
      wires_{form::choice(tr("Wire that is CC1"), this), form::choice(tr("Wire that is CC2"), this)},
      unit_(form::choice(tr("Unit of the times in the file"), this)),
      rate_(form::spin(0.0, most_megahertz, 0.0, tr(" MHz"), tr("Samples a second"), this, 3)),
      threshold_(form::spin(0.1, most_threshold_volts, pd::CaptureOptions{}.threshold_volts, tr(" V"),
                            tr("Volts above which the line is high"), this)),
      read_(new QPushButton(tr("Read it &so"), this)) {
    rate_->setSpecialValueText(tr("as the file says"));
    unit_->addItem(tr("as the file says"), 0.0);
    unit_->addItem(tr("seconds"), 1.0);
    unit_->addItem(tr("milliseconds"), 1e-3);
    unit_->addItem(tr("microseconds"), 1e-6);
    unit_->addItem(tr("100 nanoseconds"), 1e-7);
    unit_->addItem(tr("10 nanoseconds"), 1e-8);
    unit_->addItem(tr("nanoseconds"), 1e-9);
    fields_->addRow(tr("CC1 is the wire"), wires_[0]);
    fields_->addRow(tr("CC2 is the wire"), wires_[1]);
    fields_->addRow(tr("Times are in"), unit_);
    fields_->addRow(tr("Samples a second"), rate_);
    fields_->addRow(tr("High above"), threshold_);
    read_->setDefault(true);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 12, 0, 0);
    column->addWidget(form::title(tr("How is this capture to be read?"), this));
    column->addWidget(question_);
    column->addLayout(fields_);
    column->addWidget(read_, 0, Qt::AlignLeft);
    column->addStretch(1);
    setMaximumWidth(form_width);
    connect(read_, &QPushButton::clicked, this, [this] { emit readAsked(how()); });
}

void CaptureForm::show(const pd::CaptureReport& report, const pd::CaptureOptions& how) {
    form::show_plain(question_, report.question ? format::qt(report.question->sentence)
                                                : tr("It was read. Change what is not so."));
    offerWires(report, how);
    offerTimes(report, how);
    threshold_->setValue(how.threshold_volts);
}

void CaptureForm::offerWires(const pd::CaptureReport& report, const pd::CaptureOptions& how) {
    for (std::size_t line = 0; line < wires_.size(); ++line) {
        QComboBox& box = *wires_[line];
        box.clear();
        box.addItem(how.cc1.empty() && how.cc2.empty() ? tr("found by its packets") : tr("none"), QString());
        for (const pd::CapturedWire& wire : report.wires)
            box.addItem(
                tr("%1 (%n changes)", nullptr, static_cast<int>(std::min<std::uint64_t>(wire.edges, 1 << 30)))
                    .arg(format::qt(wire.name)),
                format::qt(wire.name));
        const QString chosen = format::qt(line == 0 ? how.cc1 : how.cc2);
        box.setCurrentIndex(chosen.isEmpty() ? 0 : std::max(0, box.findData(chosen)));
        fields_->setRowVisible(&box, report.wires.size() > 1);
    }
}

void CaptureForm::offerTimes(const pd::CaptureReport& report, const pd::CaptureOptions& how) {
    const bool samples =
        (report.question && report.question->sample_rate) || how.samples_a_second.has_value();
    const double suggested_s = report.question ? report.question->suggested_s.value_or(0.0) : 0.0;
    const double unit_s = suggested_s > 0.0 && !samples ? suggested_s : how.time_unit_s.value_or(0.0);
    unit_->setCurrentIndex(0);
    for (int i = 0; i < unit_->count(); ++i) {
        if (std::abs(unit_->itemData(i).toDouble() - unit_s) <= same_share * unit_s)
            unit_->setCurrentIndex(i);
    }
    rate_->setValue(suggested_s > 0.0 && samples ? 1e-6 / suggested_s
                                                 : how.samples_a_second.value_or(0.0) / 1e6);
    fields_->setRowVisible(unit_, !samples);
    fields_->setRowVisible(rate_, samples);
}

pd::CaptureOptions CaptureForm::how() const {
    pd::CaptureOptions how;
    how.cc1 = wires_[0]->currentData().toString().toStdString();
    how.cc2 = wires_[1]->currentData().toString().toStdString();
    if (const double unit_s = unit_->currentData().toDouble(); unit_s > 0.0)
        how.time_unit_s = unit_s;
    if (rate_->value() > 0.0)
        how.samples_a_second = 1e6 * rate_->value();
    how.threshold_volts = threshold_->value();
    how.hysteresis_volts = std::min(how.hysteresis_volts, 0.2 * how.threshold_volts);
    return how;
}

}  // namespace eh
