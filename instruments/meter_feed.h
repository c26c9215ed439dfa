// SPDX-License-Identifier: GPL-3.0-or-later
// A live inline meter: turns the lines that arrive into samples.
//
// Samples carry this computer's clock (seconds since 1970, never set back while the feed lives), since meters
// start their own at every wake-up. A line that is no number is counted, not fatal.
#pragma once

#include <QObject>
#include <QTimer>
#include <functional>
#include <vector>

#include "core/trace/meter_summary.h"
#include "core/trace/source_clock.h"
#include "instruments/boot_clock.h"
#include "instruments/meter_dialect.h"
#include "instruments/wire.h"

namespace eh {

class MeterFeed : public QObject {
    Q_OBJECT
  public:
    enum class State {
        idle,        // no source named
        connecting,  // trying, or waiting to try again
        lit,         // samples arrive
        dark,        // connected, but the meter sends nothing: no VBUS at the plug, or it collapsed
    };
    Q_ENUM(State)

    // Seconds that go on over a suspend and never go back.
    using Clock = std::function<double()>;
    explicit MeterFeed(QObject* parent = nullptr, Clock clock = boot_clock_s);

    // Connects (instruments/wire.h says how an address reads) and keeps at it until close().
    void open(const QString& address);
    void close();
    // Which columns mean what, from the next line on.
    void setColumns(const MeterColumns& columns) { columns_ = columns; }

    [[nodiscard]] State state() const { return state_; }
    [[nodiscard]] QString address() const { return wire_.address(); }
    [[nodiscard]] QString problem() const { return wire_.problem(); }  // why it does not answer, a sentence
    [[nodiscard]] qint64 nonsense_lines() const { return nonsense_lines_ + wire_.overlong_lines(); }
    // What the last line that made no sense said.
    [[nodiscard]] QByteArray last_nonsense() const { return last_nonsense_; }
    // The last sample; amounts to nothing before the first.
    [[nodiscard]] const MeterSample& last() const { return last_; }
    // Lines a second, from the spacing that the meter gives them; 0 before the second.
    [[nodiscard]] double rate_hz() const { return interval_s_ > 0.0 ? 1.0 / interval_s_ : 0.0; }
    // Without a sample for so long, the meter counts as dark: slow meters are given time.
    [[nodiscard]] double dark_after_s() const;
    // Whether the source says that it is a simulated bench, which follows what the bench strip says.
    [[nodiscard]] bool steerable() const { return steerable_; }
    // When the present connection was made, on the feed's clock.
    [[nodiscard]] double connected_s() const { return connected_s_; }
    // Seconds since 1970 as they were at the start, and counted on from there, also over a suspend.
    [[nodiscard]] double now_s() const;

    // Sends a command line to a steerable source; does nothing otherwise.
    void command(const QByteArray& line);

  signals:
    void samplesArrived(const std::vector<eh::MeterSample>& samples);
    void stateChanged(eh::MeterFeed::State state);
    void gapStarted(double t_s);  // the source went away
    void steerableFound();
    void remarked(const QByteArray& text);  // what follows the # of a line that is no sample
    void nonsenseCounted(qint64 lines);

  private:
    void wireOpened();
    void wireChanged();
    void readLines(const QByteArrayList& lines);
    void place(std::vector<MeterSample>& samples);
    void noteStep(double step_s);
    void setState(State state);

    Wire wire_;
    QTimer silence_;
    Clock clock_;
    double started_s_;  // since 1970
    double booted_s_;   // the boot clock at that moment
    MeterColumns columns_;
    State state_ = State::idle;
    bool steerable_ = false;
    double connected_s_ = 0.0;
    double interval_s_ = 0.0;           // median of the last steps
    std::vector<double> last_steps_s_;  // a ring
    std::size_t next_step_ = 0;
    double arrived_s_ = 0.0;
    MeterSample last_;
    SourceClock source_clock_;
    qint64 nonsense_lines_ = 0;
    QByteArray last_nonsense_;
};

}  // namespace eh
