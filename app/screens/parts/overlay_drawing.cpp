// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/parts/overlay_drawing.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "app/style/theme.h"

namespace eh {
namespace {

constexpr double overlay_edge = 14.0;
constexpr double caption_height = 22.0;

}  // namespace

OverlayDrawing::OverlayDrawing(QWidget* parent) : QWidget(parent) {
    setMinimumHeight(240);
    setMouseTracking(true);
    setAccessibleName(tr("The part's pins on the board's pads, to scale"));
}

void OverlayDrawing::show(const Footprint& board, const Footprint& part,
                          const FootprintComparison& comparison) {
    board_ = board;
    part_ = part;
    comparison_ = comparison;
    update();
}

void OverlayDrawing::setTorn(const std::set<std::string>& torn) {
    torn_ = torn;
    update();
}

void OverlayDrawing::fit() {
    // Everything of both, from the opening's front to the farthest pin.
    double left = 0.0;
    double right = 0.0;
    double front = -std::max(board_.overhang, part_.overhang);
    double back = 1.0;
    for (const auto& [footprint, dx, dy] :
         {std::tuple{&board_, 0.0, 0.0}, {&part_, comparison_.shift_x, comparison_.shift_y}})
        for (const FootprintPad& pad : footprint->pads) {
            left = std::min(left, pad.x + dx - pad.width);
            right = std::max(right, pad.x + dx + pad.width);
            back = std::max(back, pad.y + dy + pad.depth);
        }
    left = std::min(left, -0.5 * std::max(board_.shell_width, part_.shell_width));
    right = std::max(right, 0.5 * std::max(board_.shell_width, part_.shell_width));
    scale_ = std::min((width() - 2.0 * overlay_edge) / (right - left),
                      (height() - 2.0 * overlay_edge - caption_height) / (back - front));
    origin_ = {0.5 * width() - 0.5 * (left + right) * scale_, overlay_edge - front * scale_};
}

QRectF OverlayDrawing::rectOf(const FootprintPad& pad, double dx, double dy) const {
    const QPointF middle = origin_ + QPointF(pad.x + dx, pad.y + dy) * scale_;
    return {middle.x() - 0.5 * pad.width * scale_, middle.y() - 0.5 * pad.depth * scale_, pad.width * scale_,
            pad.depth * scale_};
}

QPointF OverlayDrawing::at(const std::string& name) const {
    for (const FootprintPad& pad : board_.pads)
        if (pad.name == name)
            return rectOf(pad, 0.0, 0.0).center();
    return {};
}

const FootprintPad* OverlayDrawing::padAt(const QPointF& place) const {
    constexpr double reach = 3.0;  // thin pins are hard to hit
    for (const FootprintPad& pad : board_.pads)
        if (rectOf(pad, 0.0, 0.0).adjusted(-reach, -reach, reach, reach).contains(place))
            return &pad;
    return nullptr;
}

void OverlayDrawing::paintEvent(QPaintEvent*) {
    fit();
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), c.surface);
    painter.setPen(QPen(c.soft_ink, 1.0));
    painter.drawLine(QPointF(0, origin_.y()), QPointF(width(), origin_.y()));
    painter.setFont(theme::text_font(0.8));
    painter.drawText(QPointF(6.0, origin_.y() - 4.0), tr("edge of the board"));
    const auto shell = [&](const Footprint& f, double dx, double dy, const QPen& pen) {
        painter.setPen(pen);
        painter.setBrush(Qt::NoBrush);
        const QPointF corner = origin_ + QPointF(dx - 0.5 * f.shell_width, dy - f.overhang) * scale_;
        painter.drawRoundedRect(QRectF(corner, QSizeF(f.shell_width, f.shell_depth) * scale_), 6.0, 6.0);
    };
    shell(board_, 0.0, 0.0, QPen(c.soft_ink, 1.0, Qt::DashLine));
    shell(part_, comparison_.shift_x, comparison_.shift_y, QPen(c.accent, 1.5));
    for (const FootprintPad& pad : board_.pads) {
        const QRectF where = rectOf(pad, 0.0, 0.0);
        painter.setPen(QPen(c.ink, pad.anchor ? 2.0 : 1.2));
        painter.setBrush(pad.through ? QBrush(c.paper) : QBrush(Qt::NoBrush));
        painter.drawRect(where);
        if (torn_.count(pad.name) != 0) {
            painter.setPen(QPen(c.bad, 2.0));
            painter.drawLine(where.topLeft(), where.bottomRight());
            painter.drawLine(where.topRight(), where.bottomLeft());
        }
    }
    for (const FootprintPad& pad : part_.pads) {
        const auto match = std::find_if(comparison_.pads.begin(), comparison_.pads.end(),
                                        [&](const PadMatch& m) { return m.name == pad.name; });
        constexpr double covers = 0.6;
        const bool good = match != comparison_.pads.end() && match->on_board && match->overlap >= covers;
        painter.setPen(QPen(good ? c.accent : c.bad, 1.2));
        painter.setBrush(QBrush(good ? c.accent : c.bad, good ? Qt::BDiagPattern : Qt::DiagCrossPattern));
        painter.drawRect(rectOf(pad, comparison_.shift_x, comparison_.shift_y));
    }
    painter.setPen(c.ink);
    const auto known = words_.find(under_);
    const QString caption =
        under_.empty()          ? tr("outlined: the board   hatched: the part   crossed: misses, or torn")
        : known == words_.end() ? tr("pad %1").arg(QString::fromStdString(under_))
                                : tr("pad %1: %2").arg(QString::fromStdString(under_), known->second);
    painter.drawText(
        QRectF(overlay_edge, height() - caption_height, width() - 2.0 * overlay_edge, caption_height),
        Qt::AlignLeft | Qt::AlignVCenter, caption);
}

void OverlayDrawing::mousePressEvent(QMouseEvent* event) {
    if (const FootprintPad* pad = padAt(event->position()))
        emit padClicked(QString::fromStdString(pad->name));
}

void OverlayDrawing::mouseMoveEvent(QMouseEvent* event) {
    const FootprintPad* pad = padAt(event->position());
    under_ = pad == nullptr ? std::string() : pad->name;
    update();
}

void OverlayDrawing::leaveEvent(QEvent*) {
    under_.clear();
    update();
}

}  // namespace eh
