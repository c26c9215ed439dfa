// SPDX-License-Identifier: GPL-3.0-or-later
// The trigger board in the space that is there, to scale, from the side and from above.
#pragma once

#include <QWidget>

#include "core/rework/conversion.h"

namespace eh {

class RoomDrawing : public QWidget {
    Q_OBJECT
  public:
    explicit RoomDrawing(QWidget* parent = nullptr);
    void show(const ConversionParts& parts);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    ConversionParts parts_;
};

}  // namespace eh
