// SPDX-License-Identifier: GPL-3.0-or-later
// Paints one packet of a conversation: when, an arrow between the lines of life, and what it says.
#pragma once

#include <QStyledItemDelegate>

namespace eh {

class LadderDelegate : public QStyledItemDelegate {
    Q_OBJECT
  public:
    using QStyledItemDelegate::QStyledItemDelegate;

    // Where the line of life of a lane stands, from the left of a row.
    static int lane_x(int lane);
    static constexpr int sentence_x = 412;

    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override;
    [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

}  // namespace eh
