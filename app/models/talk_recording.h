// The conversation that is looked at: from a file, or from a recorder on the bench.
#pragma once

#include <QObject>
#include <vector>

#include "core/base/result.h"
#include "core/usbc/negotiation.h"
#include "instruments/meter_feed.h"

namespace eh {

class TalkRecording : public QObject {
    Q_OBJECT
  public:
    explicit TalkRecording(MeterFeed& feed, QObject* parent = nullptr);

    // Whether there is a recorder to ask: so far the simulated bench alone.
    [[nodiscard]] bool canRecord() const { return feed_.steerable(); }
    // Asks the recorder for the conversation since the plug went in; changed() follows.
    void record();
    // Reads a capture of any kind; what stood before stays when it is refused.
    Outcome load(const QString& file);
    void clear();

    [[nodiscard]] const std::vector<pd::SeenFrame>& frames() const { return frames_; }
    [[nodiscard]] bool known() const { return known_; }
    // Where it is from, for people: a file's name, or the recorder.
    [[nodiscard]] const QString& origin() const { return origin_; }

  signals:
    void changed();
    void recorderFound();

  private:
    void take(const QByteArray& remark);

    MeterFeed& feed_;
    std::vector<pd::SeenFrame> frames_;
    std::string arriving_;  // messages as they arrive, a JSON list
    bool known_ = false;
    QString origin_;
};

}  // namespace eh
