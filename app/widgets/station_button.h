// One stop on the way of a job, in the rail at the left of the window.
#pragma once

#include <QAbstractButton>

namespace eh {

class StationButton : public QAbstractButton {
    Q_OBJECT
  public:
    static constexpr int width_pixels = 104;
    static constexpr int height_pixels = 54;

    StationButton(const QString& name, const QString& key, QWidget* parent = nullptr);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    QString key_;
};

}  // namespace eh
