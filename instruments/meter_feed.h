// A live inline meter over TCP: connects, reconnects, and turns what arrives into samples.
//
// Never blocks: everything happens by signals of the event loop. Samples carry this computer's clock (seconds
// since the feed was made), since meters start their own at every wake-up. A line that is no number is
// counted, not fatal.
#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTcpSocket>
#include <QTimer>
#include <vector>

#include "core/trace/meter_summary.h"
#include "core/trace/source_clock.h"
#include "instruments/line_splitter.h"

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

    explicit MeterFeed(QObject* parent = nullptr);
    ~MeterFeed() override;

    // Connects to host:port and keeps at it until close(). An address that cannot be read is refused at once
    // through `trouble`.
    void open(const QString& address);
    void close();

    [[nodiscard]] State state() const { return state_; }
    [[nodiscard]] QString address() const { return address_; }
    [[nodiscard]] QString problem() const { return problem_; }  // why it does not answer, a sentence
    [[nodiscard]] qint64 nonsense_lines() const { return nonsense_lines_ + splitter_.overlong_lines(); }
    // Whether the source says that it is a simulated bench, which follows what the bench strip says.
    [[nodiscard]] bool steerable() const { return steerable_; }
    // When the present connection was made, on the feed's clock.
    [[nodiscard]] double connected_s() const { return connected_s_; }
    [[nodiscard]] double now_s() const { return static_cast<double>(clock_.nsecsElapsed()) * 1e-9; }

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
    void connectNow();
    void retryLater(const QString& problem);
    void readArrived();
    void setState(State state);

    QTcpSocket socket_;
    QTimer retry_;
    QTimer silence_;
    QElapsedTimer clock_;
    LineSplitter splitter_;
    QString address_;
    QString host_;
    quint16 port_ = 0;
    QString problem_;
    State state_ = State::idle;
    int retry_ms_ = 0;
    bool steerable_ = false;
    double connected_s_ = 0.0;
    SourceClock source_clock_;
    qint64 nonsense_lines_ = 0;
};

}  // namespace eh
