// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/bench/live_readout.h"

#include <QPainter>
#include <QTimer>

#include "app/format/text.h"
#include "app/style/theme.h"

namespace eh {

namespace {
constexpr int refresh_ms = 200;
constexpr double shown_over_s = 0.4;
}  // namespace

LiveReadout::LiveReadout(MeterRecording& recording, MeterFeed& feed, QWidget* parent)
    : QWidget(parent), recording_(recording), feed_(feed) {
    setFixedWidth(230);
    auto* timer = new QTimer(this);
    connect(timer, &QTimer::timeout, this, [this] {
        if (isVisible() && feed_.state() == MeterFeed::State::lit)
            update();
    });
    timer->start(refresh_ms);
    connect(&feed_, &MeterFeed::stateChanged, this, [this] {
        setAccessibleName(tr("Live meter: %1").arg(state()));
        update();
    });
    connect(&feed_, &MeterFeed::nonsenseCounted, this, qOverload<>(&QWidget::update));
}

QString LiveReadout::state() const {
    switch (feed_.state()) {
        case MeterFeed::State::idle:
            return feed_.problem().isEmpty() ? tr("No meter connected. Connect one with Ctrl+M.")
                                             : feed_.problem();
        case MeterFeed::State::connecting:
            return feed_.problem().isEmpty() ? tr("Connecting to %1 …").arg(feed_.address())
                                             : tr("%1 Trying again.").arg(feed_.problem());
        case MeterFeed::State::lit:
            return tr("Meter lit");
        case MeterFeed::State::dark:
            return tr("Meter dark: no VBUS at the plug, or it collapses");
    }
    return {};
}

bool LiveReadout::hasNumbers() const {
    const double now_s = feed_.now_s();
    return feed_.state() == MeterFeed::State::lit && !recording_.between(now_s - shown_over_s, now_s).empty();
}

void LiveReadout::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.fillRect(rect(), c.surface);
    painter.setPen(c.rule);
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
    const QRect inner = rect().adjusted(12, 8, -12, -8);
    const bool lit = hasNumbers();
    if (lit) {
        const MeterSummary live = recording_.lastSeconds(feed_.now_s(), shown_over_s);
        painter.setFont(theme::number_font(2.7, true));
        painter.setPen(c.volts);
        painter.drawText(inner, Qt::AlignRight | Qt::AlignTop,
                         QStringLiteral("%1 V").arg(format::number(live.volts, 2)));
        painter.setPen(c.amps);
        const QRect below = inner.adjusted(0, QFontMetrics(painter.font()).height() - 4, 0, 0);
        painter.drawText(below, Qt::AlignRight | Qt::AlignTop,
                         QStringLiteral("%1 A").arg(format::number(live.amps, 3)));
    } else if (feed_.state() == MeterFeed::State::dark || feed_.state() == MeterFeed::State::lit) {
        painter.setFont(theme::text_font(2.4, true));
        painter.setPen(c.soft_ink);
        painter.drawText(inner, Qt::AlignHCenter | Qt::AlignTop, tr("dark"));
    }
    painter.setFont(theme::text_font(0.88));
    painter.setPen(c.soft_ink);
    QString line = state();
    if (feed_.nonsense_lines() > 0)
        line += tr("; lines that made no sense: %1").arg(feed_.nonsense_lines());
    painter.drawText(inner, (lit ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignBottom | Qt::TextWordWrap,
                     line);
}

}  // namespace eh
