// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/main_window.h"

#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QFile>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QMimeData>
#include <QStatusBar>

#include "app/format/text.h"
#include "app/screens/bench/bench_page.h"
#include "app/screens/board/board_page.h"
#include "app/screens/board/heat_panel.h"
#include "app/screens/check/check_page.h"
#include "app/screens/handover/handover_page.h"
#include "app/screens/instruments/instruments_page.h"
#include "app/screens/instruments/supply_panel.h"
#include "app/screens/intake/intake_page.h"
#include "app/screens/machine/machine_dialog.h"
#include "app/screens/machine/own_machines_dialog.h"
#include "app/screens/parts/parts_page.h"
#include "app/screens/parts/stock_panel.h"
#include "app/screens/proof/battery_panel.h"
#include "app/screens/proof/proof_page.h"
#include "app/screens/quote/quote_panel.h"
#include "app/screens/rates/shop_rates_dialog.h"
#include "app/screens/repair/repair_page.h"
#include "app/screens/returns/own_hits_panel.h"
#include "app/screens/returns/returns_panel.h"
#include "app/screens/rework/rework_page.h"
#include "app/screens/rework/steps_panel.h"
#include "app/screens/shelf/shelf_page.h"
#include "app/screens/talk/talk_page.h"
#include "app/screens/trace/trace_page.h"
#include "app/services/opened_file.h"
#include "app/shop_menu.h"
#include "app/style/theme.h"
#include "app/widgets/station_button.h"
#include "core/inference/intake_facts.h"

namespace eh {
namespace {

constexpr int station_gap = 28;
constexpr int said_for_ms = 12000;

}  // namespace

MainWindow::MainWindow(Workbench& workbench, QWidget* parent)
    : QMainWindow(parent),
      workbench_(workbench),
      stations_(new QButtonGroup(this)),
      pages_(new QStackedWidget(this)),
      strip_(new BenchStrip(workbench.session, workbench.knowledge, this)),
      shelf_(new ShelfPage(workbench.repository, workbench.session, workbench.knowledge, this)),
      intake_(new IntakePage(workbench.session, workbench.knowledge, this)),
      bench_(new BenchPage(workbench.session, workbench.diagnosis, workbench.recording, workbench.feed,
                           workbench.trace_watch, workbench.meter_capture, workbench.knowledge, this)),
      repair_(new RepairPage(workbench.session, workbench.diagnosis, workbench.knowledge,
                             workbench.rework.alloys, this)),
      proof_(new ProofPage(workbench.session, workbench.diagnosis, workbench.meter_capture,
                           workbench.knowledge, this)),
      battery_(new BatteryPanel(workbench.session, workbench.knowledge, workbench.feed, workbench.multimeter,
                                this)),
      proof_tabs_(new QTabWidget(this)),
      handover_(new HandoverPage(workbench.session, workbench.preferences, workbench.knowledge,
                                 workbench.rework.advice, this)),
      quote_(new QuotePanel(workbench.session, workbench.diagnosis, workbench.preferences, workbench.costs,
                            this)),
      handover_tabs_(new QTabWidget(this)),
      returns_(new ReturnsPanel(workbench.knowledge, workbench.rework, this)),
      own_hits_(new OwnHitsPanel(workbench.knowledge, this)),
      shelf_tabs_(new QTabWidget(this)),
      unsaved_(new QLabel(this)),
      store_state_(new QLabel(this)),
      talk_(new TalkPage(workbench.session, workbench.talk_recording, workbench.knowledge, this)),
      check_(new CheckPage(workbench.session, workbench.knowledge, this)),
      cc_tabs_(new QTabWidget(this)),
      trace_(new TracePage(workbench.session, workbench.recording, workbench.feed, workbench.meter_capture,
                           workbench.multimeter, workbench.knowledge, this)),
      instruments_(new InstrumentsPage(workbench.session, workbench.feed, workbench.multimeter,
                                       workbench.supply, workbench.preferences, workbench.knowledge, this)),
      board_(new BoardPage(workbench.session, workbench.diagnosis, workbench.supply, workbench.camera,
                           workbench.trace_watch, workbench.preferences, workbench.knowledge, this)),
      rework_(new ReworkPage(workbench.session, workbench.knowledge, workbench.shop_parts, this)),
      parts_page_(new PartsPage(workbench.session, workbench.shop_parts, this)) {
    setWindowTitle(tr("Eager Hound"));
    setAcceptDrops(true);
    workbench_.import.setAsk([this](const Job& known, const std::vector<std::string>& differences) {
        return ask_import_in_dialog(this, known, differences);
    });
    addPages();
    // Before it is added: the style looks at the role when the label is first dressed.
    unsaved_->setProperty("role", "standing");
    unsaved_->setObjectName("unsaved");
    unsaved_->hide();
    statusBar()->addPermanentWidget(unsaved_);
    statusBar()->addPermanentWidget(store_state_);
    auto* column = new QVBoxLayout;
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(strip_);
    column->addWidget(pages_, 1);
    auto* row = new QHBoxLayout;
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    row->addWidget(makeStations());
    row->addLayout(column, 1);
    auto* centre = new QWidget(this);
    centre->setLayout(row);
    setCentralWidget(centre);
    makeMenus();
    wire();
    resize(1280, 800);
    if (!workbench_.preferences.geometry().isEmpty())
        restoreGeometry(workbench_.preferences.geometry());
    fitOnScreen();
    go(ShelfStation);
}

void MainWindow::sayUnknownFacts() {
    const std::string remark =
        unknown_facts_remark(workbench_.knowledge.catalogue, facts_asked(workbench_.session.job().ticket));
    if (!remark.empty())
        say(QString::fromStdString(remark));
}

// Not larger than the screen leaves room for, whatever was remembered from another one.
void MainWindow::fitOnScreen() {
    constexpr int title_bar = 32;  // of the desktop, which is not there yet to be asked
    // What was remembered had its title bar on the screen, or the desktop has none.
    const int above = workbench_.preferences.geometry().isEmpty() ? title_bar : 0;
    const QRect room = screen()->availableGeometry().adjusted(0, above, 0, 0);
    const QSize fitting = size().boundedTo(room.size());
    if (fitting != size() && !isMaximized() && !isFullScreen()) {
        resize(fitting);
        move(room.topLeft() - QPoint(0, above));
    }
}

// Before the rest of the window: pages have their last word with its tabs.
MainWindow::~MainWindow() {
    delete takeCentralWidget();
}

void MainWindow::addPages() {
    shelf_tabs_->setObjectName("shelf tabs");
    proof_tabs_->setObjectName("proof tabs");
    handover_tabs_->setObjectName("handover tabs");
    cc_tabs_->setObjectName("cc tabs");
    cc_tabs_->addTab(talk_, tr("&Conversation"));
    cc_tabs_->addTab(check_, tr("Charger, cable, &machine"));
    cc_tabs_->setDocumentMode(true);
    proof_tabs_->addTab(proof_, tr("Sho&wn"));
    proof_tabs_->addTab(battery_, tr("Batter&y"));
    proof_tabs_->setDocumentMode(true);
    handover_tabs_->addTab(handover_, tr("S&heet"));
    handover_tabs_->addTab(quote_, tr("&Quote"));
    handover_tabs_->setDocumentMode(true);
    shelf_tabs_->addTab(shelf_, tr("Job&s"));
    shelf_tabs_->addTab(returns_, tr("What &comes back"));
    shelf_tabs_->addTab(own_hits_, tr("How often it was ri&ght"));
    shelf_tabs_->setDocumentMode(true);
    for (QWidget* page :
         {static_cast<QWidget*>(shelf_tabs_), static_cast<QWidget*>(intake_), static_cast<QWidget*>(bench_),
          static_cast<QWidget*>(repair_), static_cast<QWidget*>(proof_tabs_),
          static_cast<QWidget*>(handover_tabs_), static_cast<QWidget*>(cc_tabs_),
          static_cast<QWidget*>(trace_), static_cast<QWidget*>(instruments_), static_cast<QWidget*>(board_),
          static_cast<QWidget*>(rework_), static_cast<QWidget*>(parts_page_)})
        pages_->addWidget(page);
}

QWidget* MainWindow::makeStations() {
    auto* rail = new QWidget(this);
    rail->setAutoFillBackground(true);
    QPalette palette = rail->palette();
    palette.setColor(QPalette::Window, theme::colours().band);
    rail->setPalette(palette);
    rail->setFixedWidth(StationButton::width_pixels);
    auto* column = new QVBoxLayout(rail);
    column->setContentsMargins(0, 8, 0, 0);
    column->setSpacing(0);
    // F9 is the foot pedal's key.
    const std::pair<QString, const char*> stops[StationCount] = {
        {tr("Shelf"), "F1"},   {tr("Intake"), "F2"},  {tr("Bench"), "F3"},
        {tr("Repair"), "F4"},  {tr("Proof"), "F5"},   {tr("Handover"), "F6"},
        {tr("CC line"), "F7"}, {tr("Trace"), "F8"},   {tr("Instruments"), "F10"},
        {tr("Board"), "F11"},  {tr("Rework"), "F12"}, {tr("Parts"), "Shift+F12"}};
    for (int s = 0; s < StationCount; ++s) {
        const auto& [name, key] = stops[s];
        auto* button = new StationButton(name, QString::fromLatin1(key), rail);
        stations_->addButton(button, s);
        // Below the way of a job stand the pages that any stop of it may need.
        if (s == TalkStation)
            column->addSpacerItem(
                new QSpacerItem(0, station_gap, QSizePolicy::Minimum, QSizePolicy::Maximum));
        column->addWidget(button);
        auto* action = new QAction(name, this);
        action->setShortcut(QKeySequence(QString::fromLatin1(key)));
        addAction(action);
        connect(action, &QAction::triggered, this, [this, s] { go(static_cast<Station>(s)); });
    }
    column->addStretch(1);
    connect(stations_, &QButtonGroup::idClicked, this,
            [this](int station) { go(static_cast<Station>(station)); });
    return rail;
}

void MainWindow::say(const QString& sentence) {
    statusBar()->showMessage(sentence, said_for_ms);
}

void MainWindow::sayProblem(const Outcome& outcome) {
    if (!outcome)
        say(format::qt(outcome.error().text()));
}

void MainWindow::go(Station station) {
    if (station == ShelfStation)
        shelf_->refresh();
    pages_->setCurrentIndex(station);
    stations_->button(station)->setChecked(true);
    if (station == BenchStation)
        bench_->setFocus();
    else if (station == IntakeStation)
        intake_->startTicket();
    else if (station == ShelfStation)
        shelf_->table().setFocus();
    else if (station == ProofStation)
        proof_->table().setFocus();
    else if (station == TalkStation)
        talk_->ladder().setFocus();
    else if (station == TraceStation)
        trace_->setFocus();
    else if (station == InstrumentsStation)
        instruments_->setFocus();  // not an address: the keys of the strip would be typed into it
    else if (station == BoardStation)
        board_->search().setFocus();
    else if (station == ReworkStation && rework_->currentWidget() == &rework_->steps())
        rework_->steps().steps().setFocus();
    else if (station == PartsStation && parts_page_->currentWidget() == &parts_page_->stock())
        parts_page_->stock().search().setFocus();
}

MainWindow::Station MainWindow::station() const {
    return static_cast<Station>(pages_->currentIndex());
}

void MainWindow::useMachines(MachineLibrary& machines) {
    machine_dialog_ = new MachineDialog(machines, this);
    own_machines_ = new OwnMachinesDialog(
        machines,
        [this](const std::vector<std::string>& topologies,
               std::function<void(const OwnMachinesDialog::Counts&)> answer) {
            workbench_.countJobs(topologies, std::move(answer));
        },
        this);
    const auto describe = [this] {
        machine_dialog_->startFrom(workbench_.session.hasJob() ? workbench_.session.job().ticket.topology
                                                               : std::string());
        machine_dialog_->open();
    };
    intake_->offerMachines();
    own_machines_action_->setVisible(true);
    connect(intake_, &IntakePage::machineAsked, this, describe);
    connect(own_machines_, &OwnMachinesDialog::describeAsked, this, describe);
    connect(own_machines_, &OwnMachinesDialog::changeAsked, this, [this](const std::string& topology) {
        machine_dialog_->change(topology);
        machine_dialog_->open();
    });
    connect(own_machines_action_, &QAction::triggered, this, [this] {
        own_machines_->refresh();
        own_machines_->show();
        own_machines_->raise();
    });
    connect(&machines, &MachineLibrary::added, this, [this](const QString& id) {
        // Described at intake it is the job's; from the list it is only there.
        if (station() == IntakeStation && !own_machines_->isVisible())
            intake_->takeUpMachine(id);
        else
            intake_->listMachines();
    });
    connect(&machines, &MachineLibrary::removed, intake_, &IntakePage::listMachines);
    connect(&machines, &MachineLibrary::changed, this, [this](const QString& id) {
        intake_->listMachines();
        workbench_.machineChanged(id.toStdString());
    });
}

namespace {

// Where a job that is opened is gone on with.
MainWindow::Station station_of(JobStage stage) {
    switch (stage) {
        case JobStage::intake:
            return MainWindow::IntakeStation;
        case JobStage::bench:
            return MainWindow::BenchStation;
        case JobStage::repair:
            return MainWindow::RepairStation;
        case JobStage::proof:
            return MainWindow::ProofStation;
        case JobStage::handover:
        case JobStage::closed:
            break;
    }
    return MainWindow::HandoverStation;
}

}  // namespace

void MainWindow::openJob(const std::string& id) {
    // What the disk did not take yet is newer than what stands there.
    if (const Job* waiting = workbench_.repository.waiting(id)) {
        opening_.drop();
        showJob(*waiting, station_of(waiting->stage));
        return;
    }
    workbench_.repository.ask<Result<Job>>(
        opening_, [id](JobStore& store) { return store.load(id); },
        [this](const Result<Job>& job) {
            if (job)
                showJob(*job, station_of(job->stage));
            else
                say(QString::fromStdString(job.error().text()));
        });
}

void MainWindow::showJob(const Job& job, Station station) {
    workbench_.open(job);
    sayUnknownFacts();
    go(station);
}

void MainWindow::openFile(const QString& file) {
    // Whoever stands on the page of the CC line means a capture, whatever it looks like.
    const OpenedFile kind = station() == TalkStation ? OpenedFile::capture : kind_of(file);
    if (kind == OpenedFile::trace) {
        go(TraceStation);
        trace_->importFile(file);
    } else if (kind == OpenedFile::job) {
        importJob(file, [this](const Outcome& done) { sayProblem(done); });
    } else {
        go(TalkStation);
        cc_tabs_->setCurrentWidget(talk_);
        workbench_.talk_recording.load(file);
    }
}

void MainWindow::newTicket() {
    opening_.drop();
    workbench_.open(workbench_.freshTicket());
    go(IntakeStation);
}

void MainWindow::showNumber() {
    const std::string& number = workbench_.session.job().ticket.number;
    setWindowTitle(number.empty() ? tr("Eager Hound") : tr("%1 – Eager Hound").arg(format::qt(number)));
}

void MainWindow::connectMeter(const QString& address) {
    workbench_.preferences.setMeterAddress(address);
    instruments_->meterCard().address().setText(address);
    workbench_.feed.open(address);
}

void MainWindow::connectMultimeter(const QString& address) {
    workbench_.preferences.setMultimeterAddress(address);
    instruments_->multimeterCard().address().setText(address);
    workbench_.multimeter.line().open(address);
}

void MainWindow::connectCamera(const QString& address) {
    board_->heat().connectCamera(address);
}

void MainWindow::connectSupply(const QString& address) {
    workbench_.preferences.setSupplyAddress(address);
    instruments_->supplyCard().address().setText(address);
    workbench_.supply.line().open(address);
}

void MainWindow::askMeterAddress() {
    bool accepted = false;
    const QString address = QInputDialog::getText(
        this, tr("Connect a meter"), tr("Where does the meter send its lines? host:port"), QLineEdit::Normal,
        workbench_.preferences.meterAddress(), &accepted);
    if (accepted)
        connectMeter(address);
}

void MainWindow::importAsked() {
    const QString file =
        QFileDialog::getOpenFileName(this, tr("Import a job file"), workbench_.preferences.exportFolder(),
                                     tr("Job files (*.hound.json *.json)"));
    if (file.isEmpty())
        return;
    importJob(file, [this](const Outcome& done) { sayProblem(done); });
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (!mayLeave()) {
        event->ignore();
        return;
    }
    workbench_.preferences.setGeometry(saveGeometry());
    workbench_.close();
    event->accept();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls())
        event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
    for (const QUrl& url : event->mimeData()->urls())
        openFile(url.toLocalFile());
}

}  // namespace eh
