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
#include "app/widgets/bench_strip.h"
#include "app/workbench/workbench.h"

namespace eh {

class BatteryPanel;
class BenchPage;
class BoardPage;
class CheckPage;
class HandoverPage;
class InstrumentsPage;
class IntakePage;
class DesignDialog;
class HourDialog;
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

    // Shows what is on the workbench, which must outlive it. Tests and tools find its pages by their type,
    // tabs by their object's name.
    explicit MainWindow(Workbench& workbench, QWidget* parent = nullptr);
    ~MainWindow() override;

    [[nodiscard]] Workbench& workbench() { return workbench_; }
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

    // Answers in the place of the dialog.
    void setAskUnsaved(AskUnsaved ask) { ask_unsaved_ = std::move(ask); }

    // The shop's own kinds of machine; the library must outlive the window.
    void useMachines(MachineLibrary& machines);

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
    void wireShop();
    void wirePages();
    void showNumber();
    // What all the shop's jobs together tell.
    void showStatistics();
    void takeStatistics(const Result<std::vector<Job>>& jobs);
    void showRates();
    void showDesign();
    void showHour();
    void openRates();
    void shopChanged();
    void showJob(const Job& job, Station station);
    void showUnsaved();
    // Whether the window may close: everything is on disk, or the user has said what becomes of it.
    bool mayLeave();
    Outcome saveElsewhere();
    void askMeterAddress();
    void importAsked();

    Workbench& workbench_;
    ShopRatesDialog* rates_ = nullptr;
    DesignDialog* design_ = nullptr;
    HourDialog* hour_ = nullptr;
    ShopMenu* shop_menu_ = nullptr;
    QAction* own_machines_action_ = nullptr;
    MachineDialog* machine_dialog_ = nullptr;
    OwnMachinesDialog* own_machines_ = nullptr;
    Asking opening_;
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
    AskUnsaved ask_unsaved_ = [this](const QString& what) { return ask_unsaved_in_dialog(this, what); };
};

}  // namespace eh
