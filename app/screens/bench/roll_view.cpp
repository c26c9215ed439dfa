#include "app/screens/bench/roll_view.h"

#include <qcustomplot.h>

#include <QVBoxLayout>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>
#include <limits>

#include "app/style/theme.h"

namespace eh {
namespace {

constexpr int roll_refresh_ms = 100;
constexpr double dark_gap_s = 0.5;
constexpr double least_span_s = 10.0;
constexpr double longest_span_s = 3600.0;
constexpr double least_volts_shown = 6.0;
constexpr double least_amps_shown = 0.5;
constexpr std::size_t most_points = 3000;

void dress(QCPAxis* axis, const QColor& colour, const QString& label) {
    axis->setLabel(label);
    axis->setLabelFont(theme::text_font(0.85));
    axis->setTickLabelFont(theme::number_font(0.8));
    axis->setLabelColor(colour);
    axis->setTickLabelColor(colour);
    axis->setBasePen(QPen(theme::colours().rule));
    axis->setTickPen(QPen(theme::colours().rule));
    axis->setSubTickPen(Qt::NoPen);
    axis->grid()->setPen(QPen(theme::colours().paper, 1));
    axis->grid()->setZeroLinePen(Qt::NoPen);
}

}  // namespace

RollView::RollView(MeterRecording& recording, MeterFeed& feed, QWidget* parent)
    : QWidget(parent), recording_(recording), feed_(feed), plot_(new QCustomPlot(this)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(plot_);
    const auto& c = theme::colours();
    plot_->setBackground(c.surface);
    plot_->yAxis2->setVisible(true);
    dress(plot_->xAxis, c.soft_ink, tr("seconds before now"));
    dress(plot_->yAxis, c.volts, tr("volts"));
    dress(plot_->yAxis2, c.amps, tr("amps"));
    plot_->xAxis->setLabelPadding(0);
    plot_->xAxis->setNumberFormat("f");
    plot_->xAxis->setNumberPrecision(0);
    volts_ = plot_->addGraph(plot_->xAxis, plot_->yAxis);
    volts_->setPen(QPen(c.volts, 2.0));
    amps_ = plot_->addGraph(plot_->xAxis, plot_->yAxis2);
    // Told apart by the stroke as well as by colour.
    amps_->setPen(QPen(c.amps, 1.6, Qt::DashLine));
    plot_->setAttribute(Qt::WA_TransparentForMouseEvents);
    setMinimumHeight(120);
    setAccessibleName(tr("Roll of the meter"));
    connect(&timer_, &QTimer::timeout, this, [this] {
        if (isVisible() && following_ && feed_.state() != MeterFeed::State::idle)
            refresh();
    });
    timer_.start(roll_refresh_ms);
    refresh();
}

void RollView::mark(double t_s, const QString& text) {
    marks_.emplace_back(t_s, text);
    refresh();
}

void RollView::setSpan(double seconds) {
    span_s_ = std::clamp(seconds, least_span_s, longest_span_s);
    refresh();
}

void RollView::scroll(double share) {
    following_ = false;
    end_s_ = std::clamp(end_s_ + share * span_s_, std::min(span_s_, feed_.now_s()), feed_.now_s());
    following_ = end_s_ >= feed_.now_s() - 0.5;
    refresh();
}

void RollView::follow() {
    following_ = true;
    refresh();
}

void RollView::wheelEvent(QWheelEvent* event) {
    const double notches = event->angleDelta().y() / 120.0;
    if (event->modifiers().testFlag(Qt::ControlModifier))
        setSpan(span_s_ * std::pow(0.8, notches));
    else
        scroll(-0.1 * notches);
    event->accept();
}

void RollView::paintDark(double from_s, double to_s) {
    auto* band = new QCPItemRect(plot_);
    band->setPen(Qt::NoPen);
    band->setBrush(QBrush(theme::colours().rule, Qt::BDiagPattern));
    band->topLeft->setTypeY(QCPItemPosition::ptAxisRectRatio);
    band->bottomRight->setTypeY(QCPItemPosition::ptAxisRectRatio);
    band->topLeft->setCoords(from_s - feed_.now_s(), 0.0);
    band->bottomRight->setCoords(to_s - feed_.now_s(), 1.0);
    if (to_s - from_s < 0.06 * span_s_)
        return;
    auto* word = new QCPItemText(plot_);
    word->setText(tr("dark"));
    word->setFont(theme::text_font(0.85));
    word->setColor(theme::colours().soft_ink);
    word->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
    word->position->setCoords(0.5 * (from_s + to_s) - feed_.now_s(), 0.85);
}

void RollView::refresh() {
    if (following_)
        end_s_ = feed_.now_s();
    const double from_s = end_s_ - span_s_;
    const auto samples = recording_.between(from_s, end_s_ + 1e-3);
    // More points than pixels say nothing: every n-th is drawn when the span is long.
    const std::size_t step = std::max<std::size_t>(1, samples.size() / most_points);
    QVector<double> t;
    QVector<double> volts;
    QVector<double> amps;
    double top_volts = least_volts_shown;
    double top_amps = least_amps_shown;
    plot_->clearItems();
    // Before the meter was connected there is nothing to say, not even that it was dark.
    double last_s = std::max(from_s, recording_.samples().empty()
                                         ? feed_.connected_s()
                                         : std::min(feed_.connected_s(), recording_.samples().front().t_s));
    const double nan = std::numeric_limits<double>::quiet_NaN();
    const auto gap = [&](double until_s) {
        if (until_s - last_s <= dark_gap_s)
            return;
        paintDark(last_s, until_s);
        t << 0.5 * (last_s + until_s);
        volts << nan;
        amps << nan;
    };
    for (std::size_t i = 0; i < samples.size(); i += step) {
        gap(samples[i].t_s);
        t << samples[i].t_s;
        volts << samples[i].volts;
        amps << samples[i].amps;
        top_volts = std::max(top_volts, samples[i].volts);
        top_amps = std::max(top_amps, samples[i].amps);
        last_s = samples[i].t_s;
    }
    if (feed_.state() == MeterFeed::State::lit || feed_.state() == MeterFeed::State::dark || !following_)
        gap(end_s_);
    for (double& when : t)
        when -= feed_.now_s();
    volts_->setData(t, volts, true);
    amps_->setData(t, amps, true);
    std::vector<std::pair<double, QString>> marks = marks_;
    for (const double gone_s : recording_.gaps())
        marks.emplace_back(gone_s, tr("meter gone"));
    for (const auto& [when, text] : marks) {
        if (when < from_s || when > end_s_)
            continue;
        auto* line = new QCPItemStraightLine(plot_);
        line->setPen(QPen(theme::colours().ink, 1));
        line->point1->setCoords(when - feed_.now_s(), 0);
        line->point2->setCoords(when - feed_.now_s(), 1);
        auto* label = new QCPItemText(plot_);
        label->setText(text);
        label->setFont(theme::text_font(0.82, true));
        label->setColor(theme::colours().ink);
        label->setBrush(theme::colours().surface);
        label->setPositionAlignment(Qt::AlignRight | Qt::AlignTop);
        label->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
        label->position->setCoords(when - feed_.now_s(), 0.02);
    }
    plot_->xAxis->setRange(from_s - feed_.now_s(), end_s_ - feed_.now_s());
    plot_->yAxis->setRange(0.0, top_volts * 1.12);
    plot_->yAxis2->setRange(0.0, top_amps * 1.25);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

}  // namespace eh
