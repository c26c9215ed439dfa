// The stream of the inline meter as it came, with its gaps. Always recording: capturing only names a moment
// of it.
#pragma once

#include <QObject>
#include <deque>
#include <vector>

#include "core/trace/meter_summary.h"

namespace eh {

class MeterRecording : public QObject {
    Q_OBJECT
  public:
    // Keeps about an hour at 50 lines a second; older samples go first.
    static constexpr std::size_t most_samples = 200'000;

    explicit MeterRecording(QObject* parent = nullptr);

    void append(const std::vector<MeterSample>& samples);
    void markGap(double t_s);
    void clear();

    [[nodiscard]] const std::deque<MeterSample>& samples() const { return samples_; }
    [[nodiscard]] const std::vector<double>& gaps() const { return gaps_; }

    // The samples with from_s <= t < to_s, in order.
    [[nodiscard]] std::vector<MeterSample> between(double from_s, double to_s) const;
    // What the last `seconds` before now_s amount to.
    [[nodiscard]] MeterSummary lastSeconds(double now_s, double seconds) const;

  signals:
    void appended();

  private:
    std::deque<MeterSample> samples_;
    std::vector<double> gaps_;
};

}  // namespace eh
