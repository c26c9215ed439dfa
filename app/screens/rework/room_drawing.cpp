// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/rework/room_drawing.h"

#include <QPainter>
#include <algorithm>

#include "app/format/text.h"
#include "app/style/theme.h"

namespace eh {
namespace {

constexpr double label_height = 20.0;
constexpr double gap = 26.0;
constexpr double edge = 8.0;

}  // namespace

RoomDrawing::RoomDrawing(QWidget* parent) : QWidget(parent) {
    setMinimumHeight(150);
    setAccessibleName(tr("Trigger board in its space, to scale"));
}

void RoomDrawing::show(const ConversionParts& parts) {
    parts_ = parts;
    update();
}

void RoomDrawing::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), c.surface);
    const double deep = std::max(parts_.space_depth_mm, parts_.board_depth_mm);
    const double high = std::max(parts_.space_height_mm, parts_.board_height_mm);
    const double wide = std::max(parts_.space_width_mm, parts_.board_width_mm);
    // One scale for both views, side by side.
    const double scale = std::min((width() - 2.0 * edge - gap) / (2.0 * deep),
                                  (height() - 2.0 * edge - 2.0 * label_height) / std::max(high, wide));
    const auto view = [&](double left, const QString& name, double space, double board) {
        const double base = height() - edge - label_height;
        const QRectF room(left, base - space * scale, parts_.space_depth_mm * scale, space * scale);
        const QRectF part(left, base - board * scale, parts_.board_depth_mm * scale, board * scale);
        const bool fits = board <= space && parts_.board_depth_mm <= parts_.space_depth_mm;
        painter.setPen(QPen(c.soft_ink, 1.5, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(room);
        painter.setPen(QPen(fits ? c.good : c.bad, 2.0));
        painter.setBrush(QBrush(fits ? c.good : c.bad, fits ? Qt::BDiagPattern : Qt::DiagCrossPattern));
        painter.drawRect(part);
        painter.setPen(c.ink);
        painter.setFont(theme::text_font(0.82));
        painter.drawText(QRectF(left, base + 2.0, deep * scale + gap, label_height), Qt::AlignLeft, name);
    };
    view(edge,
         tr("side: %1 of %2 mm high")
             .arg(format::figures(parts_.board_height_mm, 6), format::figures(parts_.space_height_mm, 6)),
         parts_.space_height_mm, parts_.board_height_mm);
    view(edge + deep * scale + gap,
         tr("above: %1 of %2 mm wide")
             .arg(format::figures(parts_.board_width_mm, 6), format::figures(parts_.space_width_mm, 6)),
         parts_.space_width_mm, parts_.board_width_mm);
}

}  // namespace eh
