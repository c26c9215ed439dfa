// SPDX-License-Identifier: GPL-3.0-or-later
// A thermal picture: rises or temperatures as light and dark, and the points that were marked on it.
#pragma once

#include <QImage>
#include <QWidget>
#include <vector>

#include "core/board/plane_map.h"
#include "core/thermal/thermal_frame.h"

namespace eh {

// Values as a picture, the least dark and the most light; a scale without extent gives an even grey.
QImage heat_image(int width, int height, const std::vector<float>& values, float least, float most);

class HeatPicture : public QWidget {
    Q_OBJECT
  public:
    explicit HeatPicture(QWidget* parent = nullptr);

    void setFrame(const ThermalFrame& frame);
    void setRises(const HeatImage& rises);
    void clear();
    [[nodiscard]] const QImage& image() const { return image_; }
    void setMarks(std::vector<PicturePoint> marks);
    void setSpots(std::vector<PicturePoint> spots);
    // Where a picture's point stands in the widget, and back.
    [[nodiscard]] QPointF at(const PicturePoint& point) const;
    [[nodiscard]] PicturePoint pointAt(const QPointF& pixels) const;
    [[nodiscard]] QSize sizeHint() const override { return {300, 226}; }

  signals:
    void picked(const eh::PicturePoint& point);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

  private:
    void show(int width, int height, const std::vector<float>& values, const QString& unit, double outliers);
    [[nodiscard]] QRectF area() const;

    QImage image_;
    QString scale_;  // what darkest and lightest stand for
    std::vector<PicturePoint> marks_;
    std::vector<PicturePoint> spots_;
};

}  // namespace eh
