#include "app/models/meter_recording.h"

#include <algorithm>

namespace eh {

MeterRecording::MeterRecording(QObject* parent) : QObject(parent) {}

void MeterRecording::append(const std::vector<MeterSample>& samples) {
    for (const MeterSample& sample : samples) {
        // A clock that is tied anew may step back a little; time in the record only goes forward.
        if (samples_.empty() || sample.t_s > samples_.back().t_s)
            samples_.push_back(sample);
    }
    while (samples_.size() > most_samples)
        samples_.pop_front();
    emit appended();
}

void MeterRecording::markGap(double t_s) {
    gaps_.push_back(t_s);
}

void MeterRecording::clear() {
    samples_.clear();
    gaps_.clear();
    emit appended();
}

std::vector<MeterSample> MeterRecording::between(double from_s, double to_s) const {
    const auto by_time = [](const MeterSample& sample, double t) { return sample.t_s < t; };
    const auto first = std::lower_bound(samples_.begin(), samples_.end(), from_s, by_time);
    const auto last = std::lower_bound(first, samples_.end(), to_s, by_time);
    return {first, last};
}

MeterSummary MeterRecording::lastSeconds(double now_s, double seconds) const {
    const auto samples = between(now_s - seconds, now_s);
    return summarise(samples, now_s - seconds, now_s);
}

}  // namespace eh
