// SPDX-License-Identifier: GPL-3.0-or-later
// Widgets in two columns where they fit beside each other, else in one.
#pragma once

#include <QGridLayout>
#include <QList>
#include <QWidget>

namespace eh {

class TwoColumns : public QWidget {
  public:
    explicit TwoColumns(QWidget* parent);

    // The next one, filled in row by row.
    void add(QWidget* widget);
    [[nodiscard]] QSize minimumSizeHint() const override;

  protected:
    void resizeEvent(QResizeEvent* event) override;

  private:
    void layOut(int columns);
    // Of every `step`th widget from this one on.
    [[nodiscard]] int widest(qsizetype first, qsizetype step) const;

    QGridLayout* grid_;
    QList<QWidget*> widgets_;
    int columns_ = 2;
};

}  // namespace eh
