// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/trace_plot.h"

#include <qcustomplot.h>

#include <QMouseEvent>
#include <QVBoxLayout>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>
#include <limits>

#include "app/style/theme.h"

namespace eh {
namespace {

constexpr double least_volts_shown = 6.0;
constexpr double least_amps_shown = 0.5;
constexpr double named_dark_share = 0.06;  // of the stretch: shorter ones have no room for a word

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

TracePlot::TracePlot(QWidget* parent) : QWidget(parent), plot_(new QCustomPlot(this)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(plot_);
    const auto& c = theme::colours();
    plot_->setBackground(c.surface);
    plot_->yAxis2->setVisible(true);
    dress(plot_->xAxis, c.soft_ink, {});
    dress(plot_->yAxis, c.volts, tr("volts"));
    dress(plot_->yAxis2, c.amps, tr("amps"));
    plot_->xAxis->setLabelPadding(0);
    plot_->xAxis->setNumberFormat("gb");
    // Pens of one pixel are drawn some fifty times faster than wider or dashed ones, which decides whether an
    // hour can be panned. So the volts are thick by being drawn twice, a pixel apart, and both curves carry
    // their name: they are told apart by stroke and word as well as by colour.
    volts_ = plot_->addGraph(plot_->xAxis, plot_->yAxis);
    volts_beside_ = plot_->addGraph(plot_->xAxis, plot_->yAxis);
    amps_ = plot_->addGraph(plot_->xAxis, plot_->yAxis2);
    for (QCPGraph* graph : {volts_, volts_beside_})
        graph->setPen(QPen(c.volts, 1.0));
    amps_->setPen(QPen(c.amps, 1.0));
    for (QCPGraph* graph : {volts_, volts_beside_, amps_})
        graph->setAdaptiveSampling(false);  // there are few points a pixel already
    plot_->setNoAntialiasingOnDrag(true);
    plot_->setAttribute(Qt::WA_TransparentForMouseEvents);
    setCursor(Qt::OpenHandCursor);
}

void TracePlot::setReference(double reference_s, const QString& name) {
    reference_s_ = reference_s;
    reference_name_ = name;
}

void TracePlot::setKnown(double from_s, double to_s) {
    known_from_s_ = from_s;
    known_to_s_ = to_s;
}

double TracePlot::seconds_a_pixel() const {
    return (to_s_ - from_s_) / std::max(1, plot_->axisRect()->width());
}

void TracePlot::draw(const TraceRecord& record, double from_s, double to_s) {
    constexpr double minute_s = 60.0;
    constexpr double hour_s = 3600.0;
    from_s_ = from_s;
    to_s_ = std::max(to_s, from_s + 1e-3);
    const double farthest_s = std::max(std::abs(from_s_ - reference_s_), std::abs(to_s_ - reference_s_));
    const bool hours = farthest_s > 3.0 * hour_s;
    const bool minutes = !hours && farthest_s > 3.0 * minute_s;
    unit_s_ = hours ? hour_s : minutes ? minute_s : 1.0;
    const QString unit = hours ? tr("hours") : minutes ? tr("minutes") : tr("seconds");
    plot_->xAxis->setLabel(reference_name_.arg(unit));
    plot_->clearItems();
    drawCurves(record);
    drawMarks(record);
    plot_->xAxis->setRange((from_s_ - reference_s_) / unit_s_, (to_s_ - reference_s_) / unit_s_);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

void TracePlot::drawCurves(const TraceRecord& record) {
    const auto count = static_cast<std::size_t>(std::clamp(plot_->axisRect()->width(), 200, 4000));
    const auto columns = record.columns(from_s_, to_s_, count);
    QVector<double> t;
    QVector<double> volts;
    QVector<double> amps;
    double top_volts = least_volts_shown;
    double top_amps = least_amps_shown;
    double last_s = std::max(from_s_, known_from_s_);
    const double end_s = std::min(to_s_, known_to_s_);
    const double nan = std::numeric_limits<double>::quiet_NaN();
    const auto dark = [&](double until_s) {
        if (until_s - last_s <= dark_after_s_)
            return;
        drawDark(last_s, until_s);
        t << (0.5 * (last_s + until_s) - reference_s_) / unit_s_;
        volts << nan;
        amps << nan;
    };
    for (const TraceEnvelope& column : columns) {
        if (column.samples == 0)
            continue;
        const double from_s = std::max(column.from_s, from_s_);
        dark(from_s);
        // From least to most and on: a column that moved is a stroke, one that did not is a point.
        const double middle = (0.5 * (column.from_s + column.to_s) - reference_s_) / unit_s_;
        t << middle;
        volts << column.least_volts;
        amps << column.least_amps;
        if (column.most_volts > column.least_volts || column.most_amps > column.least_amps) {
            t << middle;
            volts << column.most_volts;
            amps << column.most_amps;
        }
        top_volts = std::max(top_volts, static_cast<double>(column.most_volts));
        top_amps = std::max(top_amps, static_cast<double>(column.most_amps));
        last_s = std::max(last_s, column.to_s);
    }
    dark(end_s);
    constexpr double headroom_volts = 1.3;
    constexpr double headroom_amps = 1.45;
    plot_->yAxis->setRange(0.0, top_volts * headroom_volts);
    plot_->yAxis2->setRange(0.0, top_amps * headroom_amps);
    QVector<double> beside = volts;
    const double pixel_volts = top_volts * headroom_volts / std::max(1, plot_->axisRect()->height());
    for (double& value : beside)
        value += pixel_volts;
    volts_->setData(t, volts, true);
    volts_beside_->setData(t, beside, true);
    amps_->setData(t, amps, true);
    if (!t.isEmpty())
        nameCurves(t.back(), volts.back(), amps.back());
}

// At their right ends, where the eye is while the stream comes.
void TracePlot::nameCurves(double t, double volts, double amps) {
    if (std::isnan(volts) || std::isnan(amps))
        return;
    const auto name = [&](const QString& text, const QColor& colour, QCPAxis* axis, double value,
                          bool above) {
        auto* word = new QCPItemText(plot_);
        word->setText(text);
        word->setFont(theme::text_font(0.85, true));
        word->setColor(colour);
        word->setBrush(theme::colours().surface);
        word->setPositionAlignment(Qt::AlignRight | (above ? Qt::AlignBottom : Qt::AlignTop));
        word->position->setAxes(plot_->xAxis, axis);
        word->position->setCoords(t, value);
    };
    // The higher one carries its name above, the lower one below, so that they never cover each other.
    const bool volts_higher = volts / plot_->yAxis->range().upper >= amps / plot_->yAxis2->range().upper;
    name(tr("volts"), theme::colours().volts, plot_->yAxis, volts, volts_higher);
    name(tr("amps"), theme::colours().amps, plot_->yAxis2, amps, !volts_higher);
}

void TracePlot::drawDark(double from_s, double to_s) {
    auto* band = new QCPItemRect(plot_);
    band->setPen(Qt::NoPen);
    band->setBrush(QBrush(theme::colours().rule, Qt::BDiagPattern));
    band->topLeft->setTypeY(QCPItemPosition::ptAxisRectRatio);
    band->bottomRight->setTypeY(QCPItemPosition::ptAxisRectRatio);
    band->topLeft->setCoords((from_s - reference_s_) / unit_s_, 0.0);
    band->bottomRight->setCoords((to_s - reference_s_) / unit_s_, 1.0);
    if (to_s - from_s < named_dark_share * (to_s_ - from_s_))
        return;
    auto* word = new QCPItemText(plot_);
    word->setText(tr("dark"));
    word->setFont(theme::text_font(0.85));
    word->setColor(theme::colours().soft_ink);
    word->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
    word->position->setCoords((0.5 * (from_s + to_s) - reference_s_) / unit_s_, 0.85);
}

// Names stand in two rows; one that would cover its neighbour in both is left out, its line stays.
void TracePlot::drawMarks(const TraceRecord& record) {
    std::vector<TraceMark> marks = marks_;
    for (const double gone_s : record.gaps(from_s_, to_s_))
        marks.push_back({gone_s, tr("meter gone"), false});
    std::stable_sort(marks.begin(), marks.end(),
                     [](const TraceMark& a, const TraceMark& b) { return a.strong > b.strong; });
    constexpr int rows = 2;
    constexpr double row_height = 0.16;
    constexpr double padding_pixels = 8.0;
    std::vector<std::pair<double, double>> taken[rows];
    for (const TraceMark& mark : marks) {
        if (mark.t_s < from_s_ || mark.t_s > to_s_)
            continue;
        const double x = (mark.t_s - reference_s_) / unit_s_;
        auto* line = new QCPItemStraightLine(plot_);
        line->setPen(QPen(mark.strong ? theme::colours().ink : theme::colours().soft_ink, 1,
                          mark.strong ? Qt::SolidLine : Qt::DotLine));
        line->point1->setCoords(x, 0);
        line->point2->setCoords(x, 1);
        const QFont font = theme::text_font(0.82, mark.strong);
        const double width_s =
            (QFontMetrics(font).horizontalAdvance(mark.text) + padding_pixels) * seconds_a_pixel();
        const bool to_left = mark.t_s - width_s > from_s_;
        const double left_s = to_left ? mark.t_s - width_s : mark.t_s;
        const std::pair<double, double> wanted{left_s, left_s + width_s};
        const auto* row = std::find_if(std::begin(taken), std::end(taken), [&](const auto& others) {
            return std::none_of(others.begin(), others.end(), [&](const auto& other) {
                return wanted.first < other.second && wanted.second > other.first;
            });
        });
        if (row == std::end(taken))
            continue;
        taken[row - std::begin(taken)].push_back(wanted);
        auto* label = new QCPItemText(plot_);
        label->setText(mark.text);
        label->setFont(font);
        label->setColor(mark.strong ? theme::colours().ink : theme::colours().soft_ink);
        label->setBrush(theme::colours().surface);
        label->setPositionAlignment((to_left ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignTop);
        label->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
        label->position->setCoords(x, 0.02 + row_height * static_cast<double>(row - std::begin(taken)));
    }
}

void TracePlot::wheelEvent(QWheelEvent* event) {
    const double notches = event->angleDelta().y() / 120.0;
    if (event->modifiers().testFlag(Qt::ControlModifier)) {
        const double x = event->position().x() - plot_->axisRect()->left();
        emit zoomAsked(std::pow(0.8, notches), from_s_ + x * seconds_a_pixel());
    } else {
        emit moveAsked(-0.1 * notches * (to_s_ - from_s_));
    }
    event->accept();
}

void TracePlot::mousePressEvent(QMouseEvent* event) {
    dragged_x_ = event->position().x();
}

void TracePlot::mouseMoveEvent(QMouseEvent* event) {
    if (!event->buttons().testFlag(Qt::LeftButton))
        return;
    emit moveAsked((dragged_x_ - event->position().x()) * seconds_a_pixel());
    dragged_x_ = event->position().x();
}

}  // namespace eh
