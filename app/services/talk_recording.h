// SPDX-License-Identifier: GPL-3.0-or-later
// The conversation that is looked at: from a file, or from a recorder on the bench.
#pragma once

#include <QObject>
#include <vector>

#include "app/services/latest_task.h"
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
    // Reads a capture of any kind beside the window; changed() or refused() follows. What stood before stays
    // when it is refused or stopped.
    void load(const QString& file, const pd::CaptureOptions& how = {});
    // The file that stands here, read another way; nothing where it is from the recorder.
    void loadAgain(const pd::CaptureOptions& how);
    void cancel() { reading_.stop(); }
    [[nodiscard]] bool loading() const { return reading_.running(); }
    void clear();

    [[nodiscard]] const pd::Capture& capture() const { return capture_; }
    [[nodiscard]] const std::vector<pd::SeenFrame>& frames() const { return capture_.frames; }
    // What the file was read with; loading it anew starts from there.
    [[nodiscard]] const pd::CaptureOptions& how() const { return how_; }
    [[nodiscard]] bool fromFile() const { return !file_.isEmpty(); }
    [[nodiscard]] bool known() const { return known_; }
    // Where it is from, for people: a file's name, or the recorder.
    [[nodiscard]] const QString& origin() const { return origin_; }

  signals:
    void changed();
    void recorderFound();
    void progressed(double share);  // of a file that is read
    void refused(const QString& sentence);
    void unclear();  // a file was read, and asks how it is to be read: capture().report.question

  private:
    void take(const QByteArray& remark);

    MeterFeed& feed_;
    pd::Capture capture_;
    pd::CaptureOptions how_;
    QString file_;          // empty when it is from the recorder
    std::string arriving_;  // messages as they arrive, a JSON list
    bool known_ = false;
    QString origin_;
    LatestTask<Result<pd::Capture>> reading_;
};

}  // namespace eh
