// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/meter_capture.h"

#include <algorithm>

namespace eh {
namespace {

constexpr double longest_look_back_s = 600.0;  // for whether it lit up at all since the plug moved

}  // namespace

MeterCapture::MeterCapture(JobSession& session, const MeterRecording& recording, const MeterFeed& feed,
                           QObject* parent)
    : QObject(parent), session_(session), recording_(recording), feed_(feed) {
    connect(&session_, &JobSession::changed, this, &MeterCapture::noteBenchChange);
    // Another job is another machine, though its bench may stand the same.
    connect(&session_, &JobSession::opened, this, &MeterCapture::forget);
}

void MeterCapture::forget() {
    changed_s_ = feed_.now_s();
    changes_.clear();
    if (session_.hasJob())
        changes_.push_back({changed_s_, session_.job().bench});
}

std::optional<BenchConfiguration> MeterCapture::benchAt(double t_s) const {
    const auto after = std::upper_bound(changes_.begin(), changes_.end(), t_s,
                                        [](double t, const Change& change) { return t < change.t_s; });
    if (after == changes_.begin())
        return std::nullopt;
    return std::prev(after)->bench;
}

void MeterCapture::noteBenchChange() {
    if (session_.hasJob() && (changes_.empty() || changes_.back().bench != session_.job().bench))
        changes_.push_back({feed_.now_s(), session_.job().bench});
    if (!session_.hasJob() || electrical_part(session_.job().bench) == electrical_part(bench_))
        return;
    bench_ = session_.job().bench;
    changed_s_ = feed_.now_s();
}

std::vector<MeterSample> MeterCapture::trace() const {
    constexpr double longest_trace_s = 20.0;
    const double now_s = feed_.now_s();
    return recording_.between(std::max(changed_s_, now_s - longest_trace_s), now_s);
}

std::vector<MeterSample> MeterCapture::recorded(std::int64_t from_ms, std::int64_t to_ms) const {
    constexpr double ms_per_s = 1000.0;
    return recording_.between(static_cast<double>(from_ms) / ms_per_s, static_cast<double>(to_ms) / ms_per_s);
}

std::variant<Capture, QString> MeterCapture::take() const {
    if (feed_.state() != MeterFeed::State::lit && feed_.state() != MeterFeed::State::dark)
        return tr(
            "No meter is connected: connect one with Ctrl+M, or type the reading on the bench (key /).");
    if (!session_.job().bench.charger_connected)
        return tr("The bench says the charger is out: nothing to capture at the plug.");
    const double now_s = feed_.now_s();
    // What was seen before the present connection says nothing about the plug now.
    const double changed_s = std::max(changed_s_, feed_.connected_s());
    const auto samples = recording_.between(std::max(changed_s, now_s - longest_look_back_s), now_s);
    const auto taken = capture(samples, changed_s, now_s);
    if (const auto* what = std::get_if<Capture>(&taken))
        return *what;
    return std::get<NotYet>(taken) == NotYet::plug_just_moved
               ? tr("The plug has only just moved: wait a moment.")
               : tr("The meter has only just lit up: wait until the machine has found its level.");
}

}  // namespace eh
