// SPDX-License-Identifier: GPL-3.0-or-later
// What the heat panel is made of; what it does stands in heat_panel.cpp.
#include <QFormLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/format/text.h"
#include "app/screens/board/heat_panel.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "core/readings/certainty.h"

namespace eh {

QWidget* HeatPanel::makeSide() {
    auto* side = new QWidget(this);
    side->setFixedWidth(258);
    address_->setText(preferences_.cameraAddress());
    address_->setPlaceholderText(tr("host:port of the camera"));
    address_->setAccessibleName(tr("Address of the thermal camera"));
    camera_state_->setWordWrap(true);
    camera_state_->setProperty("role", "soft");
    way_->addItem(tr("rise since reference"), static_cast<int>(Way::rise));
    way_->addItem(tr("supply's on and off"), static_cast<int>(Way::supply));
    way_->addItem(tr("charger's retries"), static_cast<int>(Way::retries));
    way_->setAccessibleName(tr("What is looked for"));
    way_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    over_->setToolTip(tr("The picture under the board's pads"));
    period_->setRange(0.0, 120.0);
    period_->setSuffix(tr(" s"));
    period_->setSpecialValueText(tr("as the frames say"));
    period_->setAccessibleName(tr("Period of the supply"));
    over_->setCheckable(true);
    over_->setChecked(true);
    mark_->setCheckable(true);
    auto* line = new QHBoxLayout;
    line->addWidget(address_, 1);
    line->addWidget(connect_);
    auto* marking = new QHBoxLayout;
    marking->addWidget(mark_);
    marking->addWidget(over_);
    auto* form = new QFormLayout;
    form->addRow(tr("Look for"), way_);
    form->addRow(tr("Period"), period_);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addLayout(line);
    column->addWidget(camera_state_);
    column->addWidget(files_);
    column->addLayout(form);
    column->addWidget(reference_);
    column->addLayout(marking);
    column->addStretch(1);
    connect(connect_, &QPushButton::clicked, this, [this] {
        if (camera_.wire().state() == Wire::State::closed)
            connectCamera(address_->text());
        else
            camera_.close();
    });
    connect(address_, &QLineEdit::returnPressed, this, [this] { connectCamera(address_->text()); });
    connect(files_, &QPushButton::clicked, this, [this] {
        if (frames_.reading())
            frames_.stopReading();
        else
            askForFiles();
    });
    connect(reference_, &QPushButton::clicked, this, &HeatPanel::takeReference);
    connect(mark_, &QPushButton::toggled, this, &HeatPanel::markPoints);
    connect(over_, &QPushButton::toggled, this, &HeatPanel::marksChanged);
    connect(way_, &QComboBox::currentIndexChanged, this, [this] {
        answer_.reset();
        looked_at_ = 0;
    });
    connect(period_, &QDoubleSpinBox::valueChanged, this, [this] { looked_at_ = 0; });
    return side;
}

QWidget* HeatPanel::makeFindings() {
    auto* side = new QWidget(this);
    verdict_->setWordWrap(true);
    verdict_->setFont(theme::text_font(1.05, true));
    verdict_->setAccessibleName(tr("What the heat says"));
    list_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    list_->setAccessibleName(tr("Suspects by heat"));
    auto* caution =
        new QLabel(tr("Alcohol burns: no spark, no hot iron, air. A finger only below 12 V, and it can get "
                      "burnt."),
                   side);
    caution->setProperty("role", "caution");
    caution->setWordWrap(true);
    for (QPushButton* button : {alcohol_, finger_})
        button->setCheckable(true);
    alcohol_->setToolTip(tr("Then click on the board where it dries first"));
    finger_->setToolTip(tr("Then click on the board where it is warm"));
    auto* ways = new QHBoxLayout;
    ways->addWidget(alcohol_);
    ways->addWidget(finger_);
    ways->addStretch(1);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(verdict_);
    column->addWidget(list_, 1);
    column->addWidget(caution);
    column->addLayout(ways);
    column->addWidget(take_);
    connect(alcohol_, &QPushButton::clicked, this, [this] { findBy(alcohol_sigma_mm, alcohol_certainty); });
    connect(finger_, &QPushButton::clicked, this, [this] { findBy(finger_sigma_mm, finger_certainty); });
    connect(take_, &QPushButton::clicked, this, &HeatPanel::takeReading);
    return side;
}

}  // namespace eh
