// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/bench/suspects_view.h"

#include <QPainter>
#include <QStyledItemDelegate>
#include <algorithm>
#include <cmath>

#include "app/format/text.h"
#include "app/style/theme.h"

namespace eh {
namespace {

constexpr int part_height = 42;
constexpr int line_height = 36;

class SuspectDelegate : public QStyledItemDelegate {
  public:
    using QStyledItemDelegate::QStyledItemDelegate;

    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const override {
        return {100, index.parent().isValid() ? line_height : part_height};
    }

    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override {
        painter->save();
        if (index.parent().isValid())
            paintEvidence(*painter, option, index);
        else
            paintPart(*painter, option, index);
        painter->restore();
    }

  private:
    static void paintPart(QPainter& painter, const QStyleOptionViewItem& option, const QModelIndex& index) {
        const auto& c = theme::colours();
        const bool selected = option.state.testFlag(QStyle::State_Selected);
        const QRect room = option.rect.adjusted(2, 1, -2, -1);
        painter.fillRect(room, selected ? c.accent_wash : c.surface);
        const double probability = index.data(SuspectsModel::ProbabilityRole).toDouble();
        QRect bar = room;
        bar.setTop(bar.bottom() - 4);
        painter.fillRect(bar, c.paper);
        bar.setWidth(std::max(2, static_cast<int>(std::lround(room.width() * probability))));
        painter.fillRect(bar, c.suspicion);
        painter.setPen(c.suspicion);
        painter.setFont(theme::number_font(1.35, true));
        const QRect share = room.adjusted(0, 0, -8, -6);
        const QString text = format::percent(probability);
        painter.drawText(share, Qt::AlignRight | Qt::AlignVCenter, text);
        const int share_width = QFontMetrics(painter.font()).horizontalAdvance(text) + 16;
        const QRect words = room.adjusted(8, 2, -share_width, -6);
        painter.setPen(c.ink);
        painter.setFont(theme::text_font(1.0, true));
        painter.drawText(
            words, Qt::AlignLeft | Qt::AlignTop,
            QFontMetrics(painter.font()).elidedText(index.data().toString(), Qt::ElideRight, words.width()));
        painter.setPen(c.soft_ink);
        painter.setFont(theme::text_font(0.85));
        painter.drawText(
            words, Qt::AlignLeft | Qt::AlignBottom,
            QFontMetrics(painter.font())
                .elidedText(index.data(SuspectsModel::DetailRole).toString(), Qt::ElideRight, words.width()));
    }

    static void paintEvidence(QPainter& painter, const QStyleOptionViewItem& option,
                              const QModelIndex& index) {
        const auto& c = theme::colours();
        QRect room = option.rect.adjusted(4, 1, -4, -1);
        painter.fillRect(room, c.paper);
        const double weight = index.data(SuspectsModel::WeightRole).toDouble();
        // Which way it speaks shows as a mark too, not by colour alone.
        const QString mark = index.data(SuspectsModel::ReadingRole).toString().isEmpty() ? QStringLiteral("·")
                             : weight > 0.7                                              ? QStringLiteral("+")
                             : weight < -0.7 ? QStringLiteral("−")
                                             : QStringLiteral("=");
        painter.setFont(theme::number_font(1.2, true));
        painter.setPen(weight > 0.7 ? c.suspicion : weight < -0.7 ? c.good : c.soft_ink);
        painter.drawText(QRect(room.left(), room.top(), 20, room.height()), Qt::AlignCenter, mark);
        room.adjust(22, 1, -2, -1);
        painter.setPen(c.ink);
        painter.setFont(theme::text_font(0.88));
        painter.drawText(
            room, Qt::AlignLeft | Qt::AlignTop,
            QFontMetrics(painter.font()).elidedText(index.data().toString(), Qt::ElideMiddle, room.width()));
        painter.setPen(c.soft_ink);
        painter.setFont(theme::text_font(0.82));
        painter.drawText(
            room, Qt::AlignLeft | Qt::AlignBottom,
            QFontMetrics(painter.font())
                .elidedText(index.data(SuspectsModel::DetailRole).toString(), Qt::ElideRight, room.width()));
    }
};

}  // namespace

SuspectsView::SuspectsView(QWidget* parent) : QTreeView(parent), model_(new SuspectsModel(this)) {
    setModel(model_);
    setItemDelegate(new SuspectDelegate(this));
    setHeaderHidden(true);
    setRootIsDecorated(false);
    setIndentation(0);
    setUniformRowHeights(false);
    setExpandsOnDoubleClick(false);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    setAccessibleName(tr("Suspects"));
    const auto toggle = [this](const QModelIndex& index) {
        if (!index.parent().isValid())
            setExpanded(index, !isExpanded(index));
    };
    connect(this, &QTreeView::clicked, this, toggle);
    connect(this, &QTreeView::activated, this, [this, toggle](const QModelIndex& index) {
        if (hasFocus())
            toggle(index);
    });
    connect(selectionModel(), &QItemSelectionModel::currentChanged, this, [this](const QModelIndex& index) {
        const QModelIndex part = index.parent().isValid() ? index.parent() : index;
        if (part.isValid())
            emit partChosen(part.data(SuspectsModel::BlockRole).toString().toStdString());
    });
}

void SuspectsView::show(const Answer& answer) {
    const QString open = currentIndex().isValid() && isExpanded(currentIndex())
                             ? currentIndex().data(SuspectsModel::BlockRole).toString()
                             : QString();
    model_->show(answer);
    if (!open.isEmpty())
        explainPart(answer, open.toStdString());
}

bool SuspectsView::explainPart(const Answer& answer, const std::string& block) {
    return answer.table != nullptr && model_->include(answer, block) && openPart(block);
}

void SuspectsView::clear() {
    model_->clear();
}

bool SuspectsView::openPart(const std::string& block) {
    const QModelIndex index = model_->indexOfBlock(format::qt(block));
    if (!index.isValid())
        return false;
    setCurrentIndex(index);
    setExpanded(index, true);
    return true;
}

}  // namespace eh
