// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/talk/ladder_delegate.h"

#include <QPainter>
#include <array>

#include "app/format/text.h"
#include "app/models/talk_model.h"
#include "app/style/theme.h"

namespace eh {
namespace {

constexpr std::array lane_places{136, 246, 356};
constexpr int time_width = 84;
constexpr int packet_height = 60;
constexpr double long_pause_s = 0.05;   // worth a word
constexpr double unheard_reach = 0.72;  // of the way that an arrow goes that nobody hears
constexpr int head = 7;

QString pause_text(double seconds) {
    return seconds < 1.0 ? LadderDelegate::tr("+%1 ms").arg(qRound(seconds * 1000.0))
                         : LadderDelegate::tr("+%1 s").arg(format::number(seconds, 1));
}

// Text in the middle above a line, on a ground of its own, so that no line of life crosses it.
void paint_name(QPainter* painter, const QRectF& place, const QString& name, const QColor& backing) {
    QRectF taken;
    painter->drawText(place, Qt::AlignHCenter | Qt::AlignBottom, name, &taken);
    painter->fillRect(taken.adjusted(-3, 0, 3, 0), backing);
    painter->drawText(place, Qt::AlignHCenter | Qt::AlignBottom, name);
}

void paint_head(QPainter* painter, QPointF tip, int direction) {
    painter->drawPolygon(QPolygonF{tip, tip + QPointF(-direction * head * 1.4, -head * 0.7),
                                   tip + QPointF(-direction * head * 1.4, head * 0.7)});
}

}  // namespace

int LadderDelegate::lane_x(int lane) {
    return lane_places.at(static_cast<std::size_t>(lane));
}

QSize LadderDelegate::sizeHint(const QStyleOptionViewItem& option, const QModelIndex&) const {
    return {option.rect.width(), packet_height};
}

void LadderDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option,
                           const QModelIndex& index) const {
    const auto& c = theme::colours();
    const QRect row = option.rect;
    painter->save();
    painter->setRenderHint(QPainter::Antialiasing);
    const bool chosen = (option.state & QStyle::State_Selected) != 0;
    const QColor backing = chosen ? c.accent_wash : c.surface;
    painter->fillRect(row, backing);
    const auto from = index.data(TalkModel::FromRole).value<TalkModel::Lane>();
    const auto to = index.data(TalkModel::ToRole).value<TalkModel::Lane>();
    const bool unheard =
        index.data(TalkModel::AnswerRole).value<TalkModel::Answer>() == TalkModel::Answer::unheard;
    const bool damaged = !index.data(TalkModel::DamageRole).toString().isEmpty();
    const int middle = row.center().y() + 6;

    painter->setPen(QPen(c.rule, 2));
    for (const int x : lane_places)
        painter->drawLine(row.left() + x, row.top(), row.left() + x, row.bottom());

    painter->setFont(theme::number_font(0.95));
    painter->setPen(c.ink);
    painter->drawText(
        QRect(row.left() + 4, row.top() + 4, time_width, packet_height / 2),
        Qt::AlignRight | Qt::AlignVCenter,
        QStringLiteral("%1 s").arg(format::number(index.data(TalkModel::SecondsRole).toDouble(), 3)));
    const int times = index.data(TalkModel::TimesRole).toInt();
    const double pause = index.data(TalkModel::PauseRole).toDouble();
    if (times > 1 || pause >= long_pause_s) {
        painter->setFont(theme::number_font(0.8));
        painter->setPen(c.soft_ink);
        painter->drawText(
            QRect(row.left() + 4, row.top() + packet_height / 2, time_width, packet_height / 2 - 2),
            Qt::AlignRight | Qt::AlignVCenter, times > 1 ? tr("%1 times").arg(times) : pause_text(pause));
    }

    const QString name = index.data(TalkModel::NameRole).toString();
    const QColor ink = unheard || damaged || from == TalkModel::Lane::all ? c.bad : c.accent;
    painter->setFont(theme::text_font(0.88, true));
    if (from == TalkModel::Lane::all) {
        painter->setPen(QPen(ink, 2, Qt::DashLine));
        const int left = row.left() + lane_places.front() - 20;
        const int right = row.left() + lane_places.back() + 20;
        painter->drawLine(left, middle, right, middle);
        painter->setPen(ink);
        paint_name(painter, QRectF(left, row.top(), right - left, middle - row.top() - 2), name, backing);
    } else {
        const double start = row.left() + lane_x(static_cast<int>(from));
        const double target = row.left() + lane_x(static_cast<int>(to));
        const double end = unheard ? start + unheard_reach * (target - start) : target;
        const int direction = end > start ? 1 : -1;
        painter->setPen(QPen(ink, 2, damaged ? Qt::DotLine : Qt::SolidLine));
        painter->drawLine(QPointF(start, middle), QPointF(end, middle));
        painter->setPen(QPen(ink, 2));
        painter->setBrush(ink);
        if (unheard) {  // a wall instead of an arrow's head
            painter->drawLine(QPointF(end, middle - head), QPointF(end, middle + head));
        } else {
            paint_head(painter, {end, static_cast<double>(middle)}, direction);
        }
        painter->setPen(ink);
        const double left = std::min(start, target);
        paint_name(painter,
                   QRectF(left - 40, row.top(), std::abs(target - start) + 80, middle - row.top() - 3), name,
                   backing);
    }

    painter->setPen(c.ink);
    painter->setFont(theme::text_font(0.9));
    const QRect words(row.left() + sentence_x, row.top() + 2, row.width() - sentence_x - 8,
                      packet_height - 4);
    painter->drawText(words, Qt::AlignLeft | Qt::AlignVCenter | Qt::TextWordWrap,
                      index.data(TalkModel::SentenceRole).toString());
    painter->restore();
}

}  // namespace eh
