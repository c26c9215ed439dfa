// SPDX-License-Identifier: GPL-3.0-or-later
// The recording of the job, reading itself: the whole stream, its events, the port table, the push test and
// what it says about ohms.
#pragma once

#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QTabWidget>
#include <QTimer>
#include <QWidget>
#include <atomic>
#include <memory>

#include "app/services/job_session.h"
#include "app/services/latest_task.h"
#include "app/services/meter_capture.h"
#include "app/services/meter_recording.h"
#include "app/services/trace_import.h"
#include "app/widgets/trace_plot.h"
#include "core/machine/model/knowledge.h"
#include "core/trace/trace_events.h"

namespace eh {

class EventsPanel;
class OhmsPanel;
class PortsPanel;
class PushPanel;
class Multimeter;

class TracePage : public QWidget {
    Q_OBJECT
  public:
    TracePage(JobSession& session, MeterRecording& recording, MeterFeed& feed, const MeterCapture& capture,
              Multimeter& multimeter, const Knowledge& knowledge, QWidget* parent = nullptr);

    // Shows a stretch of what is looked at.
    void showStretch(double from_s, double to_s);
    void showAll();
    // Reads a CSV file beside the job's own recording; it is shown when it is read.
    void importFile(const QString& file);
    // Writes what is looked at as CSV.
    Outcome exportTo(const QString& file) const;
    // Back from a file to the job's own recording.
    void showJob();

    [[nodiscard]] bool showsFile() const { return file_ != nullptr; }
    [[nodiscard]] const TraceReading& reading() const { return reading_; }
    [[nodiscard]] EventsPanel& events() { return *events_; }
    [[nodiscard]] PushPanel& push() { return *push_; }
    [[nodiscard]] PortsPanel& ports() { return *ports_; }
    [[nodiscard]] OhmsPanel& ohms() { return *ohms_; }
    [[nodiscard]] QTabWidget& tabs() { return *tabs_; }
    [[nodiscard]] bool importing() const;

  signals:
    void said(const QString& sentence);

  private:
    QWidget* makeHead();
    [[nodiscard]] const TraceRecord& record() const;
    void refresh();
    void readShown();
    void showReading(TraceReading reading);
    void takeEvent(const TraceEvent& event);
    void importAsked();
    void exportAsked();
    void imported();

    JobSession& session_;
    MeterRecording& recording_;
    MeterFeed& feed_;
    const MeterCapture& capture_;
    const Knowledge& knowledge_;
    TracePlot* plot_;
    QTabWidget* tabs_;
    EventsPanel* events_;
    PortsPanel* ports_;
    PushPanel* push_;
    OhmsPanel* ohms_;
    QLabel* origin_;
    QLabel* empty_;
    QProgressBar* progress_;
    QPushButton* cancel_;
    QPushButton* back_;
    QTimer refresh_;
    QTimer read_soon_;
    LatestTask<TraceReading> work_;
    TraceReading reading_;
    std::unique_ptr<TraceRecord> file_;  // that is looked at instead of the job's
    QString file_name_;
    std::unique_ptr<TraceImport> import_;
    double span_s_ = 60.0;
    bool span_chosen_ = false;  // by somebody; before, it grows with the recording
    double end_s_ = 0.0;
    bool following_ = true;
    std::uint64_t read_samples_ = 0;  // that there were when it was read last
    std::pair<double, double> read_stretch_;
};

}  // namespace eh
