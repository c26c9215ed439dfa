// SPDX-License-Identifier: GPL-3.0-or-later
// One thing that is offered beside the next acts, in a sentence, with the button that takes it up.
#pragma once

#include <QLabel>
#include <QToolButton>
#include <QWidget>

namespace eh {

class OfferBar : public QWidget {
    Q_OBJECT
  public:
    OfferBar(const QString& object_name, const QString& accessible_name, QWidget* parent = nullptr);

    // Hides itself where there is nothing to say.
    void show(const QString& words, const QString& button = {}, const QString& tip = {});

  signals:
    void taken();

  private:
    QLabel* words_;
    QToolButton* button_;
};

}  // namespace eh
