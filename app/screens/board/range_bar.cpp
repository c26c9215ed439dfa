// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/board/range_bar.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/style/theme.h"

namespace eh {
namespace {

constexpr double least_ohms = 0.01;
constexpr double most_ohms = 10e6;  // beyond: open
constexpr double most_drop = 1.2;
constexpr double bar_top = 20.0;
constexpr double bar_height = 14.0;

}  // namespace

RangeBar::RangeBar(QWidget* parent) : QWidget(parent) {
    setMinimumHeight(58);
    setAccessibleName(tr("The reading among those of sound boards"));
}

void RangeBar::show(NetQuantity quantity, const std::optional<NetJudgement>& judgement,
                    const std::optional<NetValue>& reading) {
    quantity_ = quantity;
    judgement_ = judgement;
    reading_ = reading;
    update();
}

double RangeBar::along(double value) const {
    if (quantity_ == NetQuantity::drop)
        return std::clamp(value / most_drop, 0.0, 1.0);
    const double log = std::log(std::clamp(value, least_ohms, most_ohms) / least_ohms);
    return log / std::log(most_ohms / least_ohms);
}

void RangeBar::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    constexpr double side = 16.0;
    const double wide = width() - 2.0 * side;
    const auto x_of = [&](double value) { return side + wide * along(value); };
    painter.setPen(QPen(c.rule, 1.0));
    painter.setBrush(c.surface);
    painter.drawRect(QRectF(side, bar_top, wide, bar_height));
    if (judgement_ && judgement_->verdict != NetVerdict::not_enough_known) {
        const double from = x_of(judgement_->low);
        const double to = std::isfinite(judgement_->high) ? x_of(judgement_->high) : side + wide;
        painter.setPen(QPen(c.good, 1.0));
        painter.setBrush(QBrush(c.good, Qt::BDiagPattern));
        painter.drawRect(QRectF(from, bar_top, std::max(3.0, to - from), bar_height));
    }
    painter.setFont(theme::number_font(0.8));
    painter.setPen(c.soft_ink);
    const auto label = [&](double value, const QString& text) {
        const double x = std::clamp(x_of(value), side, side + wide);
        painter.drawText(QRectF(x - 40.0, bar_top + bar_height + 3.0, 80.0, 18.0), Qt::AlignHCenter, text);
    };
    if (quantity_ == NetQuantity::ohms) {
        label(0.1, QStringLiteral("0.1 Ω"));
        label(10.0, QStringLiteral("10 Ω"));
        label(1e3, QStringLiteral("1 kΩ"));
        label(1e5, QStringLiteral("100 kΩ"));
        painter.drawText(QRectF(side + wide - 60.0, bar_top + bar_height + 3.0, 76.0, 18.0), Qt::AlignRight,
                         tr("open"));
    } else {
        label(0.2, QStringLiteral("0.2 V"));
        label(0.4, QStringLiteral("0.4 V"));
        label(0.6, QStringLiteral("0.6 V"));
        label(0.8, QStringLiteral("0.8 V"));
    }
    if (!reading_)
        return;
    const double x = reading_->open ? side + wide : x_of(reading_->value - reading_->lead_ohms);
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.ink);
    painter.drawPolygon(QPolygonF{{x, bar_top + 2.0}, {x - 8.0, bar_top - 14.0}, {x + 8.0, bar_top - 14.0}});
    painter.setPen(QPen(c.ink, 2.0));
    painter.drawLine(QPointF(x, bar_top), QPointF(x, bar_top + bar_height));
}

}  // namespace eh
