// SPDX-License-Identifier: GPL-3.0-or-later
// Where a reading stands among what sound boards read: a bar on a logarithmic scale.
#pragma once

#include <QWidget>
#include <optional>

#include "core/board/net_expectation.h"

namespace eh {

class RangeBar : public QWidget {
    Q_OBJECT
  public:
    explicit RangeBar(QWidget* parent = nullptr);

    // What sound boards read and what this one reads, either or both.
    void show(NetQuantity quantity, const std::optional<NetJudgement>& judgement,
              const std::optional<NetValue>& reading);
    [[nodiscard]] QSize sizeHint() const override { return {320, 58}; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    // 0 to 1 along the bar.
    [[nodiscard]] double along(double value) const;

    NetQuantity quantity_ = NetQuantity::ohms;
    std::optional<NetJudgement> judgement_;
    std::optional<NetValue> reading_;
};

}  // namespace eh
