// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/meter_feed.h"

#include <QDateTime>
#include <algorithm>

#include "core/base/quantile.h"

namespace eh {
namespace {

constexpr double least_dark_s = 0.5;
constexpr double dark_after_lines = 3.0;
constexpr double slowest_line_s = 2.0;  // a meter that is dark is not one that is slow
constexpr std::size_t remembered_steps = 15;
constexpr qsizetype shown_nonsense = 60;

}  // namespace

MeterFeed::MeterFeed(QObject* parent, Clock clock)
    : QObject(parent),
      clock_(std::move(clock)),
      started_s_(static_cast<double>(QDateTime::currentMSecsSinceEpoch()) * 1e-3),
      booted_s_(clock_()),
      connected_s_(started_s_) {
    silence_.setSingleShot(true);
    connect(&silence_, &QTimer::timeout, this, [this] { setState(State::dark); });
    connect(&wire_, &Wire::opened, this, &MeterFeed::wireOpened);
    connect(&wire_, &Wire::lost, this, [this] { emit gapStarted(now_s()); });
    connect(&wire_, &Wire::changed, this, &MeterFeed::wireChanged);
    connect(&wire_, &Wire::linesArrived, this, &MeterFeed::readLines);
}

double MeterFeed::now_s() const {
    return started_s_ + clock_() - booted_s_;
}

void MeterFeed::open(const QString& address) {
    close();
    wire_.open(address);
}

void MeterFeed::close() {
    wire_.close();
    silence_.stop();
    setState(State::idle);
}

void MeterFeed::wireOpened() {
    source_clock_.reset(now_s());
    steerable_ = false;
    interval_s_ = 0.0;
    last_steps_s_.clear();
    connected_s_ = now_s();
    arrived_s_ = connected_s_;
    silence_.start(static_cast<int>(1e3 * dark_after_s()));
}

void MeterFeed::wireChanged() {
    if (wire_.state() != Wire::State::open)
        silence_.stop();
    switch (wire_.state()) {
        case Wire::State::connecting:
            state_ = State::connecting;
            break;
        case Wire::State::closed:
            state_ = State::idle;
            break;
        case Wire::State::open:
            break;
    }
    emit stateChanged(state_);  // the problem may be a new one
}

double MeterFeed::dark_after_s() const {
    return std::max(least_dark_s, dark_after_lines * interval_s_);
}

// Gives the samples this computer's clock, and learns how often the meter speaks.
void MeterFeed::place(std::vector<MeterSample>& samples) {
    const double arrived_s = now_s();
    if (!columns_.time) {
        // Lines without a time that arrived together came since the last that arrived.
        const double step_s = (arrived_s - arrived_s_) / static_cast<double>(samples.size());
        for (std::size_t i = 0; i < samples.size(); ++i)
            samples[i].t_s = arrived_s_ + step_s * static_cast<double>(i + 1);
    }
    arrived_s_ = arrived_s;
    if (columns_.time)
        source_clock_.place(samples, arrived_s);
    double before_s = last_.t_s > connected_s_ ? last_.t_s : samples.front().t_s;
    for (const MeterSample& sample : samples) {
        const double step_s = sample.t_s - before_s;
        before_s = sample.t_s;
        noteStep(step_s);
    }
    last_ = samples.back();
}

void MeterFeed::noteStep(double step_s) {
    if (step_s <= 0.0 || step_s > slowest_line_s)
        return;
    if (last_steps_s_.size() < remembered_steps)
        last_steps_s_.push_back(step_s);
    else
        last_steps_s_[next_step_++ % remembered_steps] = step_s;
    interval_s_ = median(last_steps_s_);
}

void MeterFeed::readLines(const QByteArrayList& lines) {
    std::vector<MeterSample> samples;
    const qint64 nonsense_before = nonsense_lines();
    for (const QByteArray& line : lines) {
        const MeterLine parsed = parse_meter_line(line, columns_);
        if (const auto* sample = std::get_if<MeterSample>(&parsed)) {
            samples.push_back(*sample);
        } else if (const auto* remark = std::get_if<MeterRemark>(&parsed)) {
            if (remark->text.startsWith("eager-hound-sim")) {
                steerable_ = true;
                emit steerableFound();
            }
            emit remarked(remark->text);
        } else if (std::holds_alternative<MeterNonsense>(parsed)) {
            ++nonsense_lines_;
            last_nonsense_ = line.left(shown_nonsense);
        }
    }
    if (nonsense_lines() != nonsense_before)
        emit nonsenseCounted(nonsense_lines());
    if (samples.empty())
        return;
    place(samples);
    silence_.start(static_cast<int>(1e3 * dark_after_s()));
    setState(State::lit);
    emit samplesArrived(samples);
}

void MeterFeed::command(const QByteArray& line) {
    if (steerable_)
        wire_.send(line);
}

void MeterFeed::setState(State state) {
    if (state_ == state)
        return;
    state_ = state;
    emit stateChanged(state);
}

}  // namespace eh
