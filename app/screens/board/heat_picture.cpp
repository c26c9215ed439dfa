// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/board/heat_picture.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <array>
#include <cmath>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "core/base/quantile.h"

namespace eh {
namespace {

constexpr double dead_pixels = 0.001;  // a share that does not stretch the scale

// From the rail's dark over the accent and the colour of suspicion to the light of a warning: light is warm,
// so that it reads without colours too.
QRgb shade(double share) {
    const auto& c = theme::colours();
    const std::array<QColor, 4> stops{c.band, c.accent, c.suspicion, c.warning_wash};
    const double at = std::clamp(share, 0.0, 1.0) * (stops.size() - 1.0);
    const auto low = std::min<std::size_t>(static_cast<std::size_t>(at), stops.size() - 2);
    const double between = at - static_cast<double>(low);
    const auto mix = [between](int a, int b) { return static_cast<int>(std::lround(a + between * (b - a))); };
    return qRgb(mix(stops[low].red(), stops[low + 1].red()), mix(stops[low].green(), stops[low + 1].green()),
                mix(stops[low].blue(), stops[low + 1].blue()));
}

}  // namespace

QImage heat_image(int width, int height, const std::vector<float>& values, float least, float most) {
    constexpr int shades = 256;
    std::array<QRgb, shades> table{};
    for (int i = 0; i < shades; ++i)
        table[static_cast<std::size_t>(i)] = shade(i / (shades - 1.0));
    QImage image(width, height, QImage::Format_RGB32);
    const float scale = most > least ? (shades - 1) / (most - least) : 0.0F;
    for (int y = 0; y < height; ++y) {
        auto* line = reinterpret_cast<QRgb*>(image.scanLine(y));
        for (int x = 0; x < width; ++x) {
            const float value = values[static_cast<std::size_t>(y * width + x)];
            const int index = std::clamp(static_cast<int>((value - least) * scale), 0, shades - 1);
            line[x] = table[static_cast<std::size_t>(index)];
        }
    }
    return image;
}

HeatPicture::HeatPicture(QWidget* parent) : QWidget(parent) {
    setMinimumSize(240, 140);
    setCursor(Qt::CrossCursor);
    setAccessibleName(tr("Thermal picture"));
}

void HeatPicture::setFrame(const ThermalFrame& frame) {
    show(frame.width, frame.height, frame.celsius, tr("°C"), dead_pixels);
}

void HeatPicture::setRises(const HeatImage& rises) {
    show(rises.width, rises.height, rises.kelvin, tr("K"), 0.0);
}

void HeatPicture::show(int width, int height, const std::vector<float>& values, const QString& unit,
                       double outliers) {
    const float least = quantile(values, outliers);
    const float most = quantile(values, 1.0 - outliers);
    image_ = heat_image(width, height, values, least, most);
    const int digits = most - least < 1.0F ? 3 : 1;
    scale_ = tr("%1 to %2 %3")
                 .arg(format::number(double{least}, digits))
                 .arg(format::number(double{most}, digits))
                 .arg(unit);
    update();
}

void HeatPicture::clear() {
    image_ = {};
    spots_.clear();
    update();
}

void HeatPicture::setMarks(std::vector<PicturePoint> marks) {
    marks_ = std::move(marks);
    update();
}

void HeatPicture::setSpots(std::vector<PicturePoint> spots) {
    spots_ = std::move(spots);
    update();
}

QRectF HeatPicture::area() const {
    if (image_.isNull())
        return rect();
    const double scale = std::min(width() / double(image_.width()), height() / double(image_.height()));
    const QSizeF size(scale * image_.width(), scale * image_.height());
    return {{0.5 * (width() - size.width()), 0.5 * (height() - size.height())}, size};
}

QPointF HeatPicture::at(const PicturePoint& point) const {
    const QRectF shown = area();
    const double scale = shown.width() / image_.width();
    return {shown.left() + scale * (point.x_px + 0.5), shown.top() + scale * (point.y_px + 0.5)};
}

PicturePoint HeatPicture::pointAt(const QPointF& pixels) const {
    const QRectF shown = area();
    const double scale = shown.width() / image_.width();
    return {(pixels.x() - shown.left()) / scale - 0.5, (pixels.y() - shown.top()) / scale - 0.5};
}

void HeatPicture::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (image_.isNull()) {
        painter.setPen(QPen(c.rule, 1.0));
        painter.setBrush(c.surface);
        painter.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
        painter.setPen(c.soft_ink);
        painter.drawText(rect().adjusted(12, 12, -12, -12), Qt::AlignCenter | Qt::TextWordWrap,
                         tr("Connect a camera, or drop frames here: CSV in °C, 16-bit PGM or PNG"));
        return;
    }
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(area(), image_);
    painter.setFont(theme::text_font(0.9, true));
    constexpr double size = 6.0;
    // Light on a dark rim, so that it shows on every shade.
    const auto ring = [&](const QPointF& middle, bool cross) {
        for (const QPen& pen : {QPen(c.band, 4.0), QPen(c.surface, 1.8)}) {
            painter.setPen(pen);
            painter.setBrush(Qt::NoBrush);
            if (cross) {
                painter.drawLine(middle - QPointF(size, size), middle + QPointF(size, size));
                painter.drawLine(middle - QPointF(size, -size), middle + QPointF(size, -size));
            } else {
                painter.drawEllipse(middle, size, size);
            }
        }
    };
    const auto label = [&](const QPointF& corner, const QString& text) {
        QRectF box = painter.fontMetrics().boundingRect(text);
        box.moveTo(corner);
        painter.setPen(Qt::NoPen);
        painter.setBrush(c.band);
        painter.drawRect(box.adjusted(-3, -1, 3, 1));
        painter.setPen(c.band_ink);
        painter.drawText(box, Qt::AlignCenter, text);
    };
    for (std::size_t i = 0; i < marks_.size(); ++i) {
        ring(at(marks_[i]), false);
        label(at(marks_[i]) + QPointF(9, -8), QString::number(i + 1));
    }
    for (const PicturePoint& spot : spots_)
        ring(at(spot), true);
    label(area().bottomLeft() + QPointF(6, -20), scale_);
}

void HeatPicture::mousePressEvent(QMouseEvent* event) {
    if (!image_.isNull() && area().contains(event->position()))
        emit picked(pointAt(event->position()));
}

}  // namespace eh
