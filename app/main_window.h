// The window: stations on the left, the bench strip on top, one page at a time.
#pragma once

#include <QButtonGroup>
#include <QMainWindow>
#include <QStackedWidget>
#include <QTabWidget>
#include <memory>

#include "app/models/bench_steering.h"
#include "app/models/diagnosis_service.h"
#include "app/models/job_session.h"
#include "app/models/meter_capture.h"
#include "app/models/meter_recording.h"
#include "app/models/preferences.h"
#include "app/models/talk_recording.h"
#include "app/models/trace_watch.h"
#include "app/widgets/bench_strip.h"
#include "instruments/bench_supply.h"
#include "instruments/meter_feed.h"
#include "instruments/multimeter.h"
#include "instruments/thermal_camera.h"
#include "store/job_store.h"

namespace eh {

class BenchPage;
class BoardPage;
class CheckPage;
class HandoverPage;
class InstrumentsPage;
class IntakePage;
class MachineDialog;
class MachineLibrary;
class ProofPage;
class RepairPage;
class ShelfPage;
class ShopRatesDialog;
class TalkPage;
class TracePage;

class MainWindow : public QMainWindow {
    Q_OBJECT
  public:
    enum Station {
        ShelfStation,
        IntakeStation,
        BenchStation,
        RepairStation,
        ProofStation,
        HandoverStation,
        TalkStation,
        TraceStation,
        InstrumentsStation,
        BoardStation,
        StationCount
    };

    MainWindow(const Knowledge& knowledge, const BenchCosts& costs, QWidget* parent = nullptr);
    ~MainWindow() override;

    // Shows the jobs of a store from now on.
    void useStore(std::unique_ptr<JobStore> store);
    // Connects the live meter, the multimeter and the bench supply.
    void connectMeter(const QString& address);
    void connectMultimeter(const QString& address);
    void connectSupply(const QString& address);
    void connectCamera(const QString& address);
    // Opens a job of the store, or one from a file (which becomes a job of the store).
    void openJob(const std::string& id);
    Outcome importJob(const QString& file);
    // Opens whatever file was dropped: a job, a capture of the CC line, or a recording of the meter.
    Outcome openFile(const QString& file);
    void newTicket();
    void go(Station station);
    [[nodiscard]] Station station() const;
    void say(const QString& sentence);

    [[nodiscard]] JobSession& session() { return session_; }
    // The shop's own kinds of machine; the library must outlive the window.
    void useMachines(MachineLibrary& machines);
    [[nodiscard]] MachineDialog* machineDialog() { return machine_dialog_; }
    [[nodiscard]] DiagnosisService& diagnosis() { return diagnosis_; }
    [[nodiscard]] MeterFeed& feed() { return feed_; }
    [[nodiscard]] BenchPage& bench() { return *bench_; }
    [[nodiscard]] IntakePage& intake() { return *intake_; }
    [[nodiscard]] RepairPage& repair() { return *repair_; }
    [[nodiscard]] ProofPage& proof() { return *proof_; }
    [[nodiscard]] HandoverPage& handover() { return *handover_; }
    [[nodiscard]] TalkPage& talk() { return *talk_; }
    [[nodiscard]] CheckPage& check() { return *check_; }
    [[nodiscard]] QTabWidget& ccTabs() { return *cc_tabs_; }
    [[nodiscard]] TracePage& trace() { return *trace_; }
    [[nodiscard]] InstrumentsPage& instruments() { return *instruments_; }
    [[nodiscard]] BoardPage& board() { return *board_; }
    [[nodiscard]] Multimeter& multimeter() { return multimeter_; }
    [[nodiscard]] BenchSupply& supply() { return supply_; }
    [[nodiscard]] ThermalCamera& camera() { return camera_; }
    [[nodiscard]] MeterRecording& recording() { return recording_; }
    [[nodiscard]] TalkRecording& talkRecording() { return talk_recording_; }
    [[nodiscard]] ShelfPage& shelf() { return *shelf_; }
    [[nodiscard]] BenchStrip& strip() { return *strip_; }

  signals:
    void demoAsked();

  protected:
    void closeEvent(QCloseEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

  private:
    QWidget* makeStations();
    void makeMenus();
    void wire();
    void jobChanged();
    void refreshShelf();
    // Counts the proven repairs of the shop file.
    void countRepairs();
    void showRates();
    void askMeterAddress();
    void importAsked();

    const Knowledge& knowledge_;
    Preferences preferences_;
    std::unique_ptr<JobStore> store_;
    ShopRates repairs_;
    ShopRatesDialog* rates_ = nullptr;
    MachineDialog* machine_dialog_ = nullptr;
    JobSession session_;
    DiagnosisService diagnosis_;
    MeterRecording recording_;
    MeterFeed feed_;
    MeterCapture meter_capture_;
    TalkRecording talk_recording_;
    BenchSteering steering_;
    TraceWatch trace_watch_;
    Multimeter multimeter_;
    BenchSupply supply_;
    ThermalCamera camera_;
    QButtonGroup* stations_;
    QStackedWidget* pages_;
    BenchStrip* strip_;
    ShelfPage* shelf_;
    IntakePage* intake_;
    BenchPage* bench_;
    RepairPage* repair_;
    ProofPage* proof_;
    HandoverPage* handover_;
    TalkPage* talk_;
    CheckPage* check_;
    QTabWidget* cc_tabs_;  // both ask why only 5 V
    TracePage* trace_;
    InstrumentsPage* instruments_;
    BoardPage* board_;
    std::vector<Reading> asked_readings_;
    Ticket asked_ticket_;
    BenchConfiguration asked_bench_;
    bool asked_ = false;
};

}  // namespace eh
