// SPDX-License-Identifier: GPL-3.0-or-later
// The window: stations on the left, the bench strip on top, one page at a time.
#pragma once

#include <QButtonGroup>
#include <QLabel>
#include <QMainWindow>
#include <QStackedWidget>
#include <QTabWidget>
#include <memory>
#include <optional>

#include "app/dialogs/data_questions.h"
#include "app/services/bench_steering.h"
#include "app/services/diagnosis_service.h"
#include "app/services/job_import.h"
#include "app/services/job_session.h"
#include "app/services/latest_task.h"
#include "app/services/meter_capture.h"
#include "app/services/meter_recording.h"
#include "app/services/shop_parts.h"
#include "app/services/shop_watch.h"
#include "app/services/talk_recording.h"
#include "app/services/trace_watch.h"
#include "app/settings/preferences.h"
#include "app/widgets/bench_strip.h"
#include "instruments/bench_supply.h"
#include "instruments/meter_feed.h"
#include "instruments/multimeter.h"
#include "instruments/thermal_camera.h"

namespace eh {

class BatteryPanel;
class BenchPage;
class BoardPage;
class CheckPage;
class HandoverPage;
class InstrumentsPage;
class IntakePage;
class MachineDialog;
class MachineLibrary;
class OwnHitsPanel;
class OwnMachinesDialog;
class PartsPage;
class ProofPage;
class QuotePanel;
class RepairPage;
class ReturnsPanel;
class ReworkPage;
class ShelfPage;
class ShopMenu;
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
        ReworkStation,
        PartsStation,
        StationCount
    };

    MainWindow(const Knowledge& knowledge, const BenchCosts& costs, const ReworkBook& rework,
               QWidget* parent = nullptr);
    ~MainWindow() override;

    // The shop whose jobs are shown; opening another is asked of it.
    [[nodiscard]] JobRepository& repository() { return repository_; }
    [[nodiscard]] Preferences& preferences() { return preferences_; }
    [[nodiscard]] ShopMenu& shopMenu() { return *shop_menu_; }
    // Connects the live meter, the multimeter and the bench supply.
    void connectMeter(const QString& address);
    void connectMultimeter(const QString& address);
    void connectSupply(const QString& address);
    void connectCamera(const QString& address);
    // Opens a job of the shop, or one from a file (which becomes a job of the shop); `done` learns how it
    // went.
    void openJob(const std::string& id);
    using Told = std::function<void(const Outcome& outcome)>;
    void importJob(const QString& file, Told done);
    // Opens whatever file was dropped: a job, a capture of the CC line, or a recording of the meter.
    void openFile(const QString& file);
    void newTicket();
    void go(Station station);
    [[nodiscard]] Station station() const;
    void say(const QString& sentence);
    void sayProblem(const Outcome& outcome);

    // Answers in the place of the dialogs.
    void setAskImport(JobImport::Ask ask) { import_.setAsk(std::move(ask)); }
    void setAskUnsaved(AskUnsaved ask) { ask_unsaved_ = std::move(ask); }

    [[nodiscard]] JobSession& session() { return session_; }
    // The shop's own kinds of machine; the library must outlive the window.
    void useMachines(MachineLibrary& machines);
    [[nodiscard]] MachineDialog* machineDialog() { return machine_dialog_; }
    [[nodiscard]] OwnMachinesDialog* ownMachines() { return own_machines_; }
    [[nodiscard]] DiagnosisService& diagnosis() { return diagnosis_; }
    [[nodiscard]] MeterFeed& feed() { return feed_; }
    [[nodiscard]] BenchPage& bench() { return *bench_; }
    [[nodiscard]] IntakePage& intake() { return *intake_; }
    [[nodiscard]] RepairPage& repair() { return *repair_; }
    [[nodiscard]] ProofPage& proof() { return *proof_; }
    [[nodiscard]] BatteryPanel& battery() { return *battery_; }
    [[nodiscard]] QuotePanel& quote() { return *quote_; }
    [[nodiscard]] QTabWidget& handoverTabs() { return *handover_tabs_; }
    [[nodiscard]] ReturnsPanel& returns() { return *returns_; }
    [[nodiscard]] OwnHitsPanel& ownHits() { return *own_hits_; }
    [[nodiscard]] ShopWatch& watch() { return watch_; }
    [[nodiscard]] QTabWidget& shelfTabs() { return *shelf_tabs_; }
    [[nodiscard]] QTabWidget& proofTabs() { return *proof_tabs_; }
    [[nodiscard]] HandoverPage& handover() { return *handover_; }
    [[nodiscard]] TalkPage& talk() { return *talk_; }
    [[nodiscard]] CheckPage& check() { return *check_; }
    [[nodiscard]] QTabWidget& ccTabs() { return *cc_tabs_; }
    [[nodiscard]] TracePage& trace() { return *trace_; }
    [[nodiscard]] InstrumentsPage& instruments() { return *instruments_; }
    [[nodiscard]] BoardPage& board() { return *board_; }
    [[nodiscard]] ReworkPage& rework() { return *rework_; }
    [[nodiscard]] PartsPage& parts() { return *parts_page_; }
    [[nodiscard]] ShopParts& shopParts() { return shop_parts_; }
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
    void addPages();
    void fitOnScreen();
    void sayUnknownFacts();
    void makeMenus();
    void wire();
    void wireServices();
    void wireShop();
    void wirePages();
    void jobChanged();
    void machineChanged(const QString& id);
    // What all the shop's jobs together tell.
    void showStatistics();
    void countOver(const JobStore::Opener& open);
    void takeStatistics(const Result<std::vector<Job>>& jobs);
    // Counts the proven repairs of the shop, then does what follows.
    void countRepairs(std::function<void()> then = {});
    void countJobs(const std::vector<std::string>& topologies,
                   std::function<void(const std::vector<Result<int>>&)> answer);
    void showRates();
    void openRates();
    void shopChanged();
    void showJob(const Job& job, Station station);
    void showUnsaved();
    // Tries once more to bring everything to disk, for a moment.
    bool allSaved();
    // Whether the window may close: everything is on disk, or the user has said what becomes of it.
    bool mayLeave();
    Outcome saveElsewhere();
    void mendRights(const std::filesystem::path& shop);
    void askMeterAddress();
    void importAsked();

    const Knowledge& knowledge_;
    Preferences preferences_;
    JobRepository repository_;
    ShopRates repairs_;
    ShopRatesDialog* rates_ = nullptr;
    ShopMenu* shop_menu_ = nullptr;
    QAction* own_machines_action_ = nullptr;
    MachineDialog* machine_dialog_ = nullptr;
    OwnMachinesDialog* own_machines_ = nullptr;
    JobSession session_{&repository_};
    ShopWatch watch_{repository_, session_};
    JobImport import_{repository_};
    Asking opening_;
    Asking repairs_asked_;
    Asking view_asked_;                              // for the statistics
    LatestTask<Result<std::vector<Job>>> all_jobs_;  // being read for the statistics
    LatestTask<bool> mending_;                       // rights of folders beside the shop file
    ShopParts shop_parts_;
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
    BatteryPanel* battery_;
    QTabWidget* proof_tabs_;  // what is shown, and the battery's own proof
    HandoverPage* handover_;
    QuotePanel* quote_;
    QTabWidget* handover_tabs_;  // the sheet, and what it will cost
    ReturnsPanel* returns_;
    OwnHitsPanel* own_hits_;
    QTabWidget* shelf_tabs_;  // the jobs, and what they tell together
    QLabel* unsaved_;         // in the status bar, while something is not on disk
    QLabel* store_state_;     // in the status bar, while the server is away
    TalkPage* talk_;
    CheckPage* check_;
    QTabWidget* cc_tabs_;  // both ask why only 5 V
    TracePage* trace_;
    InstrumentsPage* instruments_;
    BoardPage* board_;
    ReworkPage* rework_;
    PartsPage* parts_page_;
    std::vector<Reading> asked_readings_;
    Ticket asked_ticket_;
    BenchConfiguration asked_bench_;
    std::vector<Act> asked_acts_;
    bool asked_ = false;
    AskUnsaved ask_unsaved_ = [this](const QString& what) { return ask_unsaved_in_dialog(this, what); };
};

}  // namespace eh
