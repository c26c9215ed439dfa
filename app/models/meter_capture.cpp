#include "app/models/meter_capture.h"

#include <algorithm>

namespace eh {

MeterCapture::MeterCapture(JobSession& session, const MeterRecording& recording, const MeterFeed& feed,
                           QObject* parent)
    : QObject(parent), session_(session), recording_(recording), feed_(feed) {
    connect(&session_, &JobSession::changed, this, &MeterCapture::noteBenchChange);
    // Another job is another machine, though its bench may stand the same.
    connect(&session_, &JobSession::opened, this, [this] { changed_s_ = feed_.now_s(); });
}

void MeterCapture::noteBenchChange() {
    if (!session_.hasJob() || electrical_part(session_.job().bench) == electrical_part(bench_))
        return;
    bench_ = session_.job().bench;
    changed_s_ = feed_.now_s();
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
    const auto samples = recording_.between(changed_s, now_s);
    const auto taken = capture(samples, changed_s, now_s);
    if (const auto* what = std::get_if<Capture>(&taken))
        return *what;
    return std::get<NotYet>(taken) == NotYet::plug_just_moved
               ? tr("The plug has only just moved: wait a moment.")
               : tr("The meter has only just lit up: wait until the machine has found its level.");
}

}  // namespace eh
