// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/trace_picture.h"

#include <QBuffer>
#include <QImage>
#include <QImageReader>
#include <QPainter>
#include <algorithm>
#include <vector>

#include "core/base/quantile.h"
#include "core/trace/meter_summary.h"

namespace eh {
namespace {

constexpr int finer = 2;  // for print
constexpr double volts_share = 0.62;
const QColor paper("#ffffff");
const QColor rule("#cfc8bb");
const QColor ink("#1d2327");
const QColor volts_ink("#0f5f6b");
const QColor amps_ink("#8a3f0a");

std::string as_address(const QImage& image) {
    QByteArray png;
    QBuffer buffer(&png);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "PNG");
    return "data:image/png;base64," + png.toBase64().toStdString();
}

// A step curve of one quantity in its own field.
class Curve {
  public:
    Curve(QPainter& painter, const QRectF& field, double seconds, double top)
        : painter_(painter), field_(field), seconds_(seconds), top_(top) {}

    template <typename Value>
    void draw(std::span<const MeterSample> samples, double gap_s, const QColor& colour, const QString& unit,
              const Value& value_of) {
        painter_.setPen(QPen(rule, 1.0));
        painter_.drawRect(field_);
        painter_.setPen(QPen(colour, 2.0));
        for (std::size_t i = 1; i < samples.size(); ++i) {
            if (samples[i].t_s - samples[i - 1].t_s > gap_s)
                continue;
            const QPointF from = point(samples[i - 1].t_s, value_of(samples[i - 1]));
            const QPointF to = point(samples[i].t_s, value_of(samples[i]));
            painter_.drawLine(from, QPointF(to.x(), from.y()));
            painter_.drawLine(QPointF(to.x(), from.y()), to);
        }
        const QString scale = "0 to " + QString::number(top_, 'g', 2) + " " + unit;
        const QRectF inside = field_.adjusted(4, 0, -4, -1);
        constexpr int corner = Qt::AlignBottom | Qt::AlignRight;
        painter_.fillRect(painter_.boundingRect(inside, corner, scale), paper);
        painter_.setPen(ink);
        painter_.drawText(inside, corner, scale);
    }

  private:
    [[nodiscard]] QPointF point(double t_s, double value) const {
        const double up = std::clamp(value / top_, 0.0, 1.0);
        return {field_.left() + field_.width() * std::clamp(t_s / seconds_, 0.0, 1.0),
                field_.bottom() - up * field_.height()};
    }

    QPainter& painter_;
    QRectF field_;
    double seconds_;
    double top_;
};

// Samples of a thinned trace stand further apart, and unevenly, than the meter's own lines: what is clearly
// more than nearly all of its steps.
double gap_of_thinned_s(std::span<const MeterSample> samples) {
    constexpr double nearly_all = 0.9;
    constexpr double clearly_more = 1.6;
    std::vector<double> steps;
    for (std::size_t i = 1; i < samples.size(); ++i)
        steps.push_back(samples[i].t_s - samples[i - 1].t_s);
    if (steps.empty())
        return 0.0;
    return clearly_more * quantile(std::move(steps), nearly_all);
}

double top_amps(std::span<const MeterSample> samples) {
    double most = 0.0;
    for (const MeterSample& sample : samples)
        most = std::max(most, sample.amps);
    for (const double top : {0.1, 0.5, 1.0, 3.5, 5.5}) {
        if (most <= top)
            return top;
    }
    return 10.0;
}

}  // namespace

std::string trace_picture(std::span<const MeterSample> samples, double seconds, double top_volts,
                          const PictureSize& size) {
    QImage image(finer * size.width_pixels, finer * size.height_pixels, QImage::Format_RGB32);
    image.fill(paper);
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    QFont font = painter.font();
    font.setPixelSize(finer * 10);
    painter.setFont(font);
    const QRectF whole = QRectF(image.rect()).adjusted(1, 1, -2, -2);
    if (samples.empty()) {
        painter.setPen(QPen(rule, 1.0));
        painter.drawRect(whole);
        painter.setPen(ink);
        painter.drawText(whole, Qt::AlignCenter, "dark: the meter did not light up");
    } else {
        const double gap_s = std::max(dark_gap_s(samples), gap_of_thinned_s(samples));
        const double middle = whole.top() + volts_share * whole.height();
        const QRectF upper(whole.topLeft(), QPointF(whole.right(), middle - finer));
        const QRectF lower(QPointF(whole.left(), middle + finer), whole.bottomRight());
        Curve(painter, upper, seconds, top_volts)
            .draw(samples, gap_s, volts_ink, "V", [](const MeterSample& sample) { return sample.volts; });
        Curve(painter, lower, seconds, top_amps(samples))
            .draw(samples, gap_s, amps_ink, "A", [](const MeterSample& sample) { return sample.amps; });
    }
    painter.end();
    return as_address(image);
}

Result<std::string> logo_picture(const std::string& file, const PictureSize& most) {
    QImageReader reader(QString::fromStdString(file));
    reader.setAutoTransform(true);
    const QImage image = reader.read();
    if (image.isNull())
        return refused("this is no picture that can be read; use PNG or JPEG", file);
    return as_address(image.scaled(finer * most.width_pixels, finer * most.height_pixels, Qt::KeepAspectRatio,
                                   Qt::SmoothTransformation));
}

}  // namespace eh
