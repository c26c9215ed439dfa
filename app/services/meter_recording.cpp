// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/meter_recording.h"

#include <system_error>
#include "core/base/text.h"

namespace eh {
namespace {

constexpr int flush_ms = 1000;
constexpr double later_s = 2.0;  // two clocks of one machine agree to that

}  // namespace

MeterRecording::MeterRecording(QObject* parent) : QObject(parent) {
    openJob({}, 0.0);
    connect(&flush_, &QTimer::timeout, this, &MeterRecording::flush);
    flush_.start(flush_ms);
}

MeterRecording::~MeterRecording() = default;

void MeterRecording::use(const std::filesystem::path& file) {
    auto opened = TraceRecord::open(file);
    if (opened) {
        record_ = std::move(opened).value();
        return;
    }
    emit trouble(QString::fromStdString(opened.error().text()));
    if (record_ == nullptr || !folder_.empty()) {
        auto instead = TraceRecord::open(
            (temporary_.path() + QStringLiteral("/%1.trace").arg(++unnamed_)).toStdString());
        if (instead)
            record_ = std::move(instead).value();
    }
}

void MeterRecording::openJob(const JobId& id, double now_s) {
    if (record_ != nullptr)
        flush();
    if (folder_.empty() || id.empty()) {
        use((temporary_.path() + QStringLiteral("/%1.trace").arg(++unnamed_)).toStdString());
    } else {
        const std::filesystem::path file = inside(folder_, id, ".trace");
        use(file);
        if (!record_->empty() && record_->last_s() > now_s + later_s) {
            const std::string aside =
                file.string() + ".before-" + integer_text(static_cast<long long>(now_s));
            std::error_code problem;
            std::filesystem::rename(file, aside, problem);
            use(file);
        }
    }
    emit opened();
    emit appended();
}

void MeterRecording::append(const std::vector<MeterSample>& samples) {
    record_->append(samples);
    emit appended();
}

void MeterRecording::markGap(double t_s) {
    record_->mark_gap(t_s);
}

void MeterRecording::flush() {
    const auto written = record_->flush();
    if (!written && !said_trouble_)
        emit trouble(QString::fromStdString(written.error().text()));
    said_trouble_ = !written;
}

MeterSummary MeterRecording::lastSeconds(double now_s, double seconds) const {
    const auto samples = between(now_s - seconds, now_s);
    return summarise(samples, now_s - seconds, now_s);
}

}  // namespace eh
