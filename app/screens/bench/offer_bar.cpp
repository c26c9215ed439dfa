// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/bench/offer_bar.h"

#include <QHBoxLayout>

#include "app/widgets/form_parts.h"

namespace eh {

OfferBar::OfferBar(const QString& object_name, const QString& accessible_name, QWidget* parent)
    : QWidget(parent), words_(form::wrapped(this, accessible_name)), button_(new QToolButton(this)) {
    setObjectName(object_name);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    row->addWidget(words_, 1);
    row->addWidget(button_);
    connect(button_, &QToolButton::clicked, this, &OfferBar::taken);
    hide();
}

void OfferBar::show(const QString& words, const QString& button, const QString& tip) {
    form::show_plain(words_, words);
    button_->setText(button);
    button_->setToolTip(tip);
    setVisible(!words.isEmpty());
}

}  // namespace eh
