// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/bench/next_acts_view.h"

#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <QStyle>
#include <QStyledItemDelegate>

#include "app/format/act_words.h"
#include "app/format/text.h"
#include "app/style/theme.h"
#include "core/planning/why_first.h"

namespace eh {
namespace {

constexpr int text_left = 30;
constexpr int text_right = 6;
constexpr int tell_height = 17;
constexpr std::size_t most_tells = 2;

class ActDelegate : public QStyledItemDelegate {
  public:
    using QStyledItemDelegate::QStyledItemDelegate;

    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const override {
        const auto tells = index.data(NextActsModel::TellsRole).toStringList().size();
        return {100, titleRoom(index).height() + tell_height * static_cast<int>(tells) + 14};
    }

    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override {
        const auto& c = theme::colours();
        painter->save();
        const bool selected = option.state.testFlag(QStyle::State_Selected);
        const bool repair = index.data(NextActsModel::RepairRole).toBool();
        QRect room = option.rect.adjusted(3, 2, -3, -3);
        painter->setPen(c.rule);
        painter->setBrush(selected ? c.accent_wash : c.surface);
        painter->drawRect(room);
        const QString number = QString::number(index.row() + 1);
        painter->fillRect(QRect(room.left(), room.top(), 22, room.height()), repair ? c.suspicion : c.accent);
        painter->setPen(c.accent_ink);
        painter->setFont(theme::text_font(1.0, true));
        painter->drawText(QRect(room.left(), room.top() + 4, 22, 20), Qt::AlignCenter, number);
        room.adjust(text_left, 4, -text_right, -3);
        painter->setFont(theme::number_font(0.9, true));
        painter->setPen(c.ink);
        painter->drawText(room, Qt::AlignRight | Qt::AlignTop,
                          index.data(NextActsModel::MinutesRole).toString());
        painter->setFont(theme::text_font(0.95, true));
        const QRect title = titleRoom(index).translated(room.topLeft());
        painter->drawText(title, Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, index.data().toString());
        painter->setFont(theme::text_font(0.84));
        painter->setPen(c.soft_ink);
        int y = title.bottom() + 4;
        for (const QString& tell : index.data(NextActsModel::TellsRole).toStringList()) {
            painter->drawText(QRect(room.left(), y, room.width(), tell_height),
                              Qt::AlignLeft | Qt::AlignVCenter,
                              QFontMetrics(painter->font()).elidedText(tell, Qt::ElideRight, room.width()));
            y += tell_height;
        }
        painter->restore();
    }

  private:
    // Where the title goes beside the minutes, from the top left of the text. There is always room for the
    // scroll bar: rows are laid out before it is known whether there will be one.
    [[nodiscard]] QRect titleRoom(const QModelIndex& index) const {
        constexpr int beside_the_row = 6;
        const auto* view = qobject_cast<const QListView*>(parent());
        const int width = view->width() - 2 * view->frameWidth() -
                          view->style()->pixelMetric(QStyle::PM_ScrollBarExtent, nullptr, view);
        const QString minutes = index.data(NextActsModel::MinutesRole).toString();
        const int room = width - beside_the_row - text_left - text_right -
                         QFontMetrics(theme::number_font(0.9, true)).horizontalAdvance(minutes) - 8;
        return QFontMetrics(theme::text_font(0.95, true))
            .boundingRect(QRect(0, 0, room, 200), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
                          index.data().toString());
    }
};

}  // namespace

void NextActsModel::show(const Answer& answer) {
    beginResetModel();
    engine_ = answer.engine;
    acts_ = answer.next.acts;
    why_ = engine_ == nullptr ? QString() : format::qt(why_first(answer.next, engine_->plan));
    endResetModel();
}

void NextActsModel::clear() {
    beginResetModel();
    acts_.clear();
    endResetModel();
}

const NextAct* NextActsModel::act(int row) const {
    return row < 0 || row >= rowCount() ? nullptr : &acts_[static_cast<std::size_t>(row)];
}

int NextActsModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(acts_.size());
}

QVariant NextActsModel::data(const QModelIndex& index, int role) const {
    const NextAct* act = this->act(index.row());
    if (act == nullptr)
        return {};
    switch (role) {
        case Qt::DisplayRole:
        case Qt::AccessibleTextRole:
            return format::actText(*act, engine_->plan);
        case Qt::ToolTipRole:
            return index.row() == 0 ? why_ : QString();
        case MinutesRole:
            return format::minutes(act->minutes);
        case RepairRole:
            return act->repair;
        case TellsRole: {
            QStringList tells;
            if (act->repair) {
                tells << tr("The repair is due: measuring on would tell little more.");
                if (act->cures < 1.0)
                    tells << tr("Cures about %1 of such chips (estimate); else replace it.")
                                 .arg(format::percent(act->cures));
            } else {
                if (index.row() == 0)
                    tells << why_;
                else if (act->again)
                    tells << tr("It fitted nothing: take it once more.");
                else if (act->on_trial)
                    tells << tr("Test of the suspect, before the repair.");
                for (const Telling& telling : act->tells) {
                    if (static_cast<std::size_t>(tells.size()) >= most_tells + (index.row() == 0 ? 1 : 0))
                        break;
                    const QString shows = format::qt(telling.shows);
                    const QString leads = format::leaderText(telling.kind, telling.block, engine_->plan);
                    // "X is hottest" need not be followed by "then it is X".
                    tells
                        << (shows.startsWith(leads)
                                ? tr("%1 (then %2)").arg(shows, format::percent(telling.leading_probability))
                                : tr("%1 → %2 %3")
                                      .arg(shows, leads, format::percent(telling.leading_probability)));
                }
            }
            return tells;
        }
        default:
            return {};
    }
}

NextActsView::NextActsView(QWidget* parent) : QListView(parent), model_(new NextActsModel(this)) {
    setModel(model_);
    setItemDelegate(new ActDelegate(this));
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    setResizeMode(QListView::Adjust);  // titles take more lines where there is less room
    setAccessibleName(tr("What to do next"));
    setToolTip(tr("A click sets the bench up. A net that no probe gets at: its menu, or Del."));
    connect(this, &QListView::clicked, this, [this](const QModelIndex& index) { pick(index.row()); });
    connect(this, &QListView::activated, this, [this](const QModelIndex& index) {
        if (hasFocus())
            pick(index.row());
    });
}

void NextActsView::show(const Answer& answer) {
    model_->show(answer);
}

void NextActsView::clear() {
    model_->clear();
}

void NextActsView::pick(int row) {
    if (const NextAct* act = model_->act(row)) {
        setCurrentIndex(model_->index(row));
        // The model may be reset by what follows.
        const NextAct chosen = *act;
        emit picked(chosen);
    }
}

std::string NextActsView::netOf(int row) const {
    const NextAct* act = model_->act(row);
    if (act == nullptr || act->repair)
        return {};
    if (act->reading == ReadingKind::injection)
        return act->configuration.injection ? act->configuration.injection->net : std::string();
    const bool of_net = act->reading == ReadingKind::net_volts || act->reading == ReadingKind::net_ohms;
    return of_net ? act->place : std::string();
}

void NextActsView::giveUp(int row) {
    if (const std::string net = netOf(row); !net.empty())
        emit outOfReach(net);
}

void NextActsView::contextMenuEvent(QContextMenuEvent* event) {
    // By the keyboard's menu key, the row that is chosen.
    const QModelIndex at =
        event->reason() == QContextMenuEvent::Mouse ? indexAt(event->pos()) : currentIndex();
    const std::string net = netOf(at.row());
    if (net.empty())
        return;
    QMenu menu(this);
    menu.addAction(tr("This net is out of reach: propose it no more\tDel"), this,
                   [this, net] { emit outOfReach(net); });
    menu.exec(event->globalPos());
}

void NextActsView::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Delete)
        giveUp(currentIndex().row());
    else
        QListView::keyPressEvent(event);
}

}  // namespace eh
