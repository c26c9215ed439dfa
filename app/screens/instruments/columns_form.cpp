// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/instruments/columns_form.h"

#include <QGridLayout>
#include <QLabel>

namespace eh {
namespace {

constexpr int most_columns = 16;

QComboBox* unit_box(const QString& whole, const QString& thousandth, double unit, QWidget* parent) {
    auto* box = new QComboBox(parent);
    box->addItem(whole, 1.0);
    box->addItem(thousandth, 1e-3);
    box->setCurrentIndex(unit < 1.0 ? 1 : 0);
    return box;
}

}  // namespace

ColumnsForm::ColumnsForm(const MeterColumns& columns, QWidget* parent)
    : QWidget(parent),
      time_(new QSpinBox(this)),
      volts_(new QSpinBox(this)),
      amps_(new QSpinBox(this)),
      time_unit_(unit_box(tr("s"), tr("ms"), columns.time_unit_s, this)),
      volts_unit_(unit_box(tr("V"), tr("mV"), columns.volts_unit, this)),
      amps_unit_(unit_box(tr("A"), tr("mA"), columns.amps_unit, this)),
      separator_(new QComboBox(this)) {
    time_->setRange(0, most_columns);
    time_->setSpecialValueText(tr("none"));
    time_->setValue(columns.time ? *columns.time + 1 : 0);
    volts_->setRange(1, most_columns);
    volts_->setValue(columns.volts + 1);
    amps_->setRange(1, most_columns);
    amps_->setValue(columns.amps + 1);
    for (const auto& [name, sign] :
         {std::pair{tr("comma"), ','}, {tr("semicolon"), ';'}, {tr("blank or tab"), ' '}})
        separator_->addItem(name, QChar(QLatin1Char(sign)));
    separator_->setCurrentIndex(std::max(0, separator_->findData(QChar(QLatin1Char(columns.separator)))));
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 0, 0, 0);
    int row = 0;
    const auto add = [&](const QString& name, QSpinBox* column, QComboBox* unit) {
        auto* label = new QLabel(name, this);
        label->setBuddy(column);
        column->setAccessibleName(name);
        unit->setAccessibleName(tr("Unit of %1").arg(name.toLower()));
        grid->addWidget(label, row, 0);
        grid->addWidget(column, row, 1);
        grid->addWidget(unit, row++, 2);
        connect(column, &QSpinBox::valueChanged, this, [this] { emit changed(this->columns()); });
        connect(unit, &QComboBox::currentIndexChanged, this, [this] { emit changed(this->columns()); });
    };
    add(tr("Time in column"), time_, time_unit_);
    add(tr("Volts in column"), volts_, volts_unit_);
    add(tr("Amps in column"), amps_, amps_unit_);
    grid->addWidget(new QLabel(tr("Parted by"), this), row, 0);
    grid->addWidget(separator_, row, 1, 1, 2);
    separator_->setAccessibleName(tr("What parts the columns"));
    connect(separator_, &QComboBox::currentIndexChanged, this, [this] { emit changed(this->columns()); });
}

MeterColumns ColumnsForm::columns() const {
    MeterColumns columns;
    columns.time = time_->value() > 0 ? std::optional(time_->value() - 1) : std::nullopt;
    columns.volts = volts_->value() - 1;
    columns.amps = amps_->value() - 1;
    columns.time_unit_s = time_unit_->currentData().toDouble();
    columns.volts_unit = volts_unit_->currentData().toDouble();
    columns.amps_unit = amps_unit_->currentData().toDouble();
    columns.separator = separator_->currentData().toChar().toLatin1();
    return columns;
}

}  // namespace eh
