// SPDX-License-Identifier: GPL-3.0-or-later
// One stop on the way of a job, in the rail at the left of the window.
#pragma once

#include <QAbstractButton>

namespace eh {

class StationButton : public QAbstractButton {
    Q_OBJECT
  public:
    static constexpr int width_pixels = 104;
    static constexpr int height_pixels = 54;
    static constexpr int least_height_pixels = 42;  // on a low screen

    StationButton(const QString& name, const QString& key, QWidget* parent = nullptr);

    [[nodiscard]] QSize sizeHint() const override { return {width_pixels, height_pixels}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {width_pixels, least_height_pixels}; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    QString key_;
};

}  // namespace eh
