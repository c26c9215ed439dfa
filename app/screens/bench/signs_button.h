// SPDX-License-Identifier: GPL-3.0-or-later
// What the machine shows, and the board looked over without a finding, with one key each: a button and its
// menu beside the quick line.
#pragma once

#include <QToolButton>

#include "core/readings/reading.h"

namespace eh {

class SignsButton : public QToolButton {
    Q_OBJECT
  public:
    explicit SignsButton(QWidget* parent = nullptr);

  signals:
    void seen(const eh::ReadingValue& value);

  private:
    void add(QChar key, const QString& text, const ReadingValue& value);
};

}  // namespace eh
