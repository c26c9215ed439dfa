// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/trace/push_panel.h"

#include <QDateTime>
#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr int tick_ms = 100;
constexpr double late_lines_s = 0.3;  // lines of the last moment are still on their way

QString order_for(WiggleDirection direction) {
    switch (direction) {
        case WiggleDirection::rest:
            return PushPanel::tr("Hands off");
        case WiggleDirection::up:
            return PushPanel::tr("Push the plug up");
        case WiggleDirection::down:
            return PushPanel::tr("Push the plug down");
        case WiggleDirection::left:
            return PushPanel::tr("Push the plug to the left");
        case WiggleDirection::right:
            return PushPanel::tr("Push the plug to the right");
    }
    return {};
}

}  // namespace

PushPanel::PushPanel(JobSession& session, const MeterRecording& recording, const MeterFeed& feed,
                     QWidget* parent)
    : QWidget(parent),
      session_(session),
      recording_(recording),
      feed_(feed),
      order_(new QLabel(this)),
      verdict_(new QLabel(this)),
      stretches_(new QLabel(this)),
      progress_(new QProgressBar(this)),
      start_(new QPushButton(tr("&Start the push test"), this)),
      take_(new QPushButton(tr("&Take as a reading"), this)) {
    order_->setFont(theme::text_font(2.0, true));
    order_->setAccessibleName(tr("What to do now"));
    verdict_->setWordWrap(true);
    verdict_->setFont(theme::text_font(1.05, true));
    verdict_->setAccessibleName(tr("What the push test found"));
    stretches_->setFont(theme::number_font(0.95));
    stretches_->setAccessibleName(tr("Push test by direction"));
    progress_->setTextVisible(false);
    progress_->setFixedHeight(8);
    take_->setEnabled(false);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(start_);
    buttons->addWidget(take_);
    buttons->addStretch(1);
    auto* column = new QVBoxLayout(this);
    column->addWidget(order_);
    column->addWidget(progress_);
    column->addWidget(verdict_);
    column->addWidget(stretches_);
    column->addStretch(1);
    column->addLayout(buttons);
    order_->setText(tr("Twenty seconds"));
    verdict_->setText(
        tr("Plug in and wait until the machine draws current. The test says when to push which way; "
           "a finger's force is enough. It counts every drop-out."));
    timer_.setInterval(tick_ms);
    connect(&timer_, &QTimer::timeout, this, &PushPanel::tick);
    connect(start_, &QPushButton::clicked, this, &PushPanel::start);
    connect(take_, &QPushButton::clicked, this, &PushPanel::takeReading);
    connect(&session_, &JobSession::opened, this, [this] {
        timer_.stop();
        steps_.clear();
        take_->setEnabled(false);
        start_->setEnabled(true);
    });
}

void PushPanel::start() {
    if (feed_.state() != MeterFeed::State::lit) {
        emit said(tr("The push test needs a meter that is lit: connect one (Ctrl+M) and plug in."));
        return;
    }
    bench_ = session_.hasJob() ? session_.job().bench : BenchConfiguration{};
    steps_ = wiggle_steps(feed_.now_s());
    take_->setEnabled(false);
    start_->setEnabled(false);
    stretches_->clear();
    verdict_->setText(tr("Counting …"));
    timer_.start();
    tick();
}

void PushPanel::tick() {
    const double now_s = feed_.now_s();
    const double whole_s = steps_.back().to_s - steps_.front().from_s;
    progress_->setValue(static_cast<int>(100.0 * std::min(1.0, (now_s - steps_.front().from_s) / whole_s)));
    const auto step = std::find_if(steps_.begin(), steps_.end(),
                                   [now_s](const WiggleStep& one) { return now_s < one.to_s; });
    if (step != steps_.end())
        order_->setText(order_for(step->direction));
    else if (now_s > steps_.back().to_s + late_lines_s)
        finish();
}

void PushPanel::finish() {
    timer_.stop();
    const auto samples = recording_.between(steps_.front().from_s, steps_.back().to_s);
    report_ = read_wiggle(samples, steps_);
    order_->setText(tr("Done"));
    verdict_->setText(format::qt(describe(report_)));
    start_->setEnabled(true);
    take_->setEnabled(session_.hasJob() && report_.verdict != WiggleVerdict::cannot_tell);
    showStretches();
}

void PushPanel::showStretches() {
    QString rows = QStringLiteral("<table cellspacing='0' cellpadding='3'><tr>");
    for (const QString& head : {tr("pushed"), tr("drop-outs"), tr("amps"), tr("volts over amps move by")})
        rows += QStringLiteral("<td><b>%1</b>&nbsp;&nbsp;</td>").arg(head);
    rows += QStringLiteral("</tr>");
    for (const WiggleStretch& stretch : report_.stretches)
        rows += QStringLiteral(
                    "<tr><td>%1</td><td align='right'>%2</td><td align='right'>%3</td>"
                    "<td align='right'>%4 %</td></tr>")
                    .arg(format::qt(to_text(stretch.direction)))
                    .arg(stretch.drop_outs)
                    .arg(format::qt(format_quantity(stretch.amps, Unit::amps)))
                    .arg(format::number(100.0 * stretch.spread_share, 1));
    form::show_html(stretches_, rows + QStringLiteral("</table>"));
}

void PushPanel::takeReading() {
    if (!session_.hasJob() || bench_.port.empty()) {
        emit said(tr("Set the strip to the port that was pushed: the reading is stamped with it."));
        return;
    }
    Reading reading;
    reading.configuration = bench_;
    reading.value = WiggleReading{report_.verdict == WiggleVerdict::drops_out};
    reading.note = describe(report_);
    reading.taken_ms = QDateTime::currentMSecsSinceEpoch();
    reading.source = "captured";
    session_.addReading(std::move(reading));
    take_->setEnabled(false);
    emit said(tr("Taken: %1").arg(format::qt(describe(report_))));
}

}  // namespace eh
