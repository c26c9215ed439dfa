// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/bench/roll_view.h"

#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"

namespace eh {
namespace {

constexpr int roll_refresh_ms = 100;
constexpr double least_span_s = 10.0;
constexpr double shortest_whole_s = 60.0;
constexpr double at_the_end_s = 0.5;
constexpr double slow_from_s = 600.0;  // longer stretches move by less than a pixel in a refresh
constexpr int slow_refreshes = 10;

}  // namespace

RollView::RollView(MeterRecording& recording, MeterFeed& feed, TraceWatch& watch, QWidget* parent)
    : QWidget(parent), recording_(recording), feed_(feed), watch_(watch), plot_(new TracePlot(this)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(plot_);
    setMinimumHeight(120);
    setAccessibleName(tr("Roll of the meter"));
    connect(plot_, &TracePlot::zoomAsked, this, &RollView::zoom);
    connect(plot_, &TracePlot::moveAsked, this, [this](double seconds) { moveTo(end_s_ + seconds); });
    connect(&recording_, &MeterRecording::opened, this, [this] {
        marks_.clear();
        following_ = true;
        refresh();
    });
    connect(&timer_, &QTimer::timeout, this, [this, tick = 0]() mutable {
        ++tick;
        if (isVisible() && following_ && feed_.state() != MeterFeed::State::idle &&
            (span_s_ < slow_from_s || tick % slow_refreshes == 0))
            refresh();
    });
    timer_.start(roll_refresh_ms);
    refresh();
}

void RollView::mark(double t_s, const QString& text) {
    marks_.push_back({t_s, text, true});
    refresh();
}

double RollView::longest_s() const {
    return recording_.empty() ? shortest_whole_s
                              : std::max(shortest_whole_s, feed_.now_s() - recording_.record().first_s());
}

void RollView::setSpan(double seconds) {
    span_s_ = std::clamp(seconds, least_span_s, longest_s());
    refresh();
}

void RollView::showAll() {
    following_ = true;
    setSpan(longest_s());
}

void RollView::zoom(double factor, double around_s) {
    const double span_s = std::clamp(span_s_ * factor, least_span_s, longest_s());
    if (!following_)
        end_s_ = around_s + (end_s_ - around_s) * span_s / span_s_;
    span_s_ = span_s;
    moveTo(following_ ? feed_.now_s() : end_s_);
}

void RollView::moveTo(double end_s) {
    const double now_s = feed_.now_s();
    const double first_s = recording_.empty() ? now_s : recording_.record().first_s();
    end_s_ = std::clamp(end_s, std::min(first_s + span_s_, now_s), now_s);
    following_ = end_s_ >= now_s - at_the_end_s;
    refresh();
}

void RollView::scroll(double share) {
    moveTo(end_s_ + share * span_s_);
}

void RollView::follow() {
    following_ = true;
    refresh();
}

void RollView::refresh() {
    const double now_s = feed_.now_s();
    if (following_)
        end_s_ = now_s;
    std::vector<TraceMark> marks = marks_;
    for (const TraceEvent& event : watch_.events())
        marks.push_back({event.t_s, format::qt(short_name(event)), false});
    plot_->setMarks(std::move(marks));
    plot_->setReference(now_s, tr("%1 before now"));
    plot_->setDarkAfter(feed_.dark_after_s());
    const bool connected = feed_.state() == MeterFeed::State::lit || feed_.state() == MeterFeed::State::dark;
    const double last_s = recording_.empty() ? feed_.connected_s() : recording_.record().last_s();
    const double first_s = recording_.empty() ? feed_.connected_s()
                                              : std::min(feed_.connected_s(), recording_.record().first_s());
    plot_->setKnown(first_s, connected ? now_s : last_s);
    plot_->draw(recording_.record(), end_s_ - span_s_, end_s_ + 1e-3);
}

}  // namespace eh
