// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/two_columns.h"

#include <algorithm>

namespace eh {
namespace {

constexpr int between_rows = 7;
constexpr int between_columns = 12;

}  // namespace

TwoColumns::TwoColumns(QWidget* parent) : QWidget(parent), grid_(new QGridLayout(this)) {
    grid_->setContentsMargins(0, 0, 0, 0);
    grid_->setVerticalSpacing(between_rows);
    grid_->setHorizontalSpacing(between_columns);
}

void TwoColumns::add(QWidget* widget) {
    widgets_.append(widget);
    layOut(columns_);
}

int TwoColumns::widest(qsizetype first, qsizetype step) const {
    int widest = 0;
    for (qsizetype i = first; i < widgets_.size(); i += step)
        widest = std::max(widest, widgets_[i]->sizeHint().width());
    return widest;
}

QSize TwoColumns::minimumSizeHint() const {
    return {widest(0, 1), QWidget::minimumSizeHint().height()};
}

void TwoColumns::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    const int columns = width() >= widest(0, 2) + widest(1, 2) + between_columns ? 2 : 1;
    if (columns != columns_)
        layOut(columns);
}

void TwoColumns::layOut(int columns) {
    columns_ = columns;
    for (QWidget* widget : widgets_)
        grid_->removeWidget(widget);
    for (int i = 0; i < widgets_.size(); ++i)
        grid_->addWidget(widgets_[i], i / columns, i % columns);
}

}  // namespace eh
