// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/proof/proof_page.h"

#include <QAction>
#include <QDateTime>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "core/battery/battery_log.h"
#include "core/electrics/engineering.h"
#include "core/proof/proof.h"
#include "core/proof/soak.h"

namespace eh {
namespace {

constexpr int row_height = 36;

}  // namespace

ProofPage::ProofPage(JobSession& session, DiagnosisService& diagnosis, const MeterCapture& meter_capture,
                     const Knowledge& knowledge, QWidget* parent)
    : QWidget(parent),
      session_(session),
      diagnosis_(diagnosis),
      meter_capture_(meter_capture),
      knowledge_(knowledge),
      model_(new ProofModel(this)),
      table_(new QTableView(this)),
      summary_(new QLabel(this)),
      make_(new QPushButton(tr("Make the list"), this)),
      set_up_(new QPushButton(tr("Set the bench up   U"), this)),
      good_(new QPushButton(tr("Decide   Space"), this)),
      bad_(new QPushButton(tr("It fails   X"), this)),
      waive_(new QPushButton(tr("Waive"), this)),
      rise_(new QLineEdit(this)),
      reason_(new QLineEdit(this)) {
    auto* title = new QLabel(tr("Proof"), this);
    title->setProperty("role", "heading");
    summary_->setWordWrap(true);
    dressTable();
    rise_->setPlaceholderText(tr("warmer than the board around it by … K"));
    rise_->setAccessibleName(tr("Rise of the part over the board around it, in kelvin"));
    rise_->hide();
    reason_->setPlaceholderText(tr("Reason why a step is let go; it prints on the handover"));
    reason_->setAccessibleName(tr("Reason for waiving"));
    auto* to_handover = new QPushButton(tr("To the handover   F6"), this);
    auto* buttons = new QHBoxLayout;
    for (QWidget* widget : {static_cast<QWidget*>(make_), static_cast<QWidget*>(set_up_),
                            static_cast<QWidget*>(good_), static_cast<QWidget*>(bad_)})
        buttons->addWidget(widget);
    buttons->addWidget(rise_, 1);
    buttons->addWidget(reason_, 1);
    buttons->addWidget(waive_);
    buttons->addWidget(to_handover);
    auto* caution = new QLabel(tr("A charger or plug that melted or burnt is condemned: it never counts as "
                                  "proof. A pack that swells or "
                                  "gets hot while charging: unplug, carry it outside, do not go on."),
                               this);
    caution->setWordWrap(true);
    caution->setProperty("role", "caution");
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(16, 12, 16, 12);
    page->setSpacing(8);
    page->addWidget(title);
    page->addWidget(summary_);
    page->addWidget(table_, 1);
    page->addLayout(buttons);
    page->addWidget(caution);

    wire();
    connect(to_handover, &QPushButton::clicked, this, &ProofPage::handoverAsked);
    refresh();
}

void ProofPage::dressTable() {
    table_->setModel(model_);
    table_->setShowGrid(false);
    table_->setAlternatingRowColors(true);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setMinimumSectionSize(row_height);
    table_->verticalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    auto* header = table_->horizontalHeader();
    header->setDefaultAlignment(Qt::AlignLeft);
    header->setSectionResizeMode(ProofModel::StepColumn, QHeaderView::Stretch);
    header->setSectionResizeMode(ProofModel::StateColumn, QHeaderView::ResizeToContents);
    header->setSectionResizeMode(ProofModel::ReadingColumn, QHeaderView::ResizeToContents);
    header->setSectionResizeMode(ProofModel::ReasonColumn, QHeaderView::Stretch);
    table_->setTabKeyNavigation(false);
    table_->setWordWrap(true);
    table_->setAccessibleName(tr("Proof steps"));
}

void ProofPage::wire() {
    const auto key = [this](const QKeySequence& sequence, auto act) {
        auto* action = new QAction(this);
        action->setShortcut(sequence);
        action->setShortcutContext(Qt::WidgetWithChildrenShortcut);
        addAction(action);
        connect(action, &QAction::triggered, this, act);
    };
    key(Qt::Key_Space, [this] { decide(true); });
    key(Qt::Key_X, [this] { decide(false); });
    key(Qt::Key_U, [this] { setBenchUp(); });
    connect(make_, &QPushButton::clicked, this, &ProofPage::makePlan);
    connect(set_up_, &QPushButton::clicked, this, &ProofPage::setBenchUp);
    connect(good_, &QPushButton::clicked, this, [this] { decide(true); });
    connect(bad_, &QPushButton::clicked, this, [this] { decide(false); });
    connect(waive_, &QPushButton::clicked, this, &ProofPage::waive);
    connect(rise_, &QLineEdit::returnPressed, this, [this] { decide(true); });
    connect(table_->selectionModel(), &QItemSelectionModel::currentChanged, this,
            [this] { rise_->setVisible(selectedKind() == ReadingKind::hot_part); });
    connect(&session_, &JobSession::changed, this, &ProofPage::refresh);
    connect(&session_, &JobSession::closed, this, &ProofPage::refresh);
}

int ProofPage::selected() const {
    const int row = table_->currentIndex().row();
    return session_.hasJob() && row >= 0 && row < static_cast<int>(session_.job().proof.size()) ? row : -1;
}

std::optional<ReadingKind> ProofPage::selectedKind() const {
    const int row = selected();
    if (row < 0)
        return std::nullopt;
    return session_.job().proof[static_cast<std::size_t>(row)].kind;
}

void ProofPage::refresh() {
    const Job job = session_.hasJob() ? session_.job() : Job{};
    const Topology* topology = knowledge_.find_topology(job.ticket.topology);
    setEnabled(topology != nullptr);
    const int row = table_->currentIndex().row();
    model_->show(job, topology);
    if (row >= 0 && row < model_->rowCount())
        table_->selectRow(row);
    const auto open = std::count_if(job.proof.begin(), job.proof.end(), [](const ProofStep& step) {
        return step.state == ProofState::open || step.state == ProofState::failed;
    });
    if (job.proof.empty())
        summary_->setText(
            tr("Nothing is proven yet. “Make the list” writes down what this machine must show after the "
               "work that was "
               "recorded."));
    else if (open > 0)
        summary_->setText(
            (open == 1 ? tr("One step to go.") : tr("%1 steps to go.").arg(open)) + QLatin1Char(' ') +
            tr("U puts the bench strip as the step needs it; Space decides it with what the meter shows."));
    else
        summary_->setText(tr("Everything is shown. The machine may leave."));
}

void ProofPage::makePlan() {
    if (!session_.hasJob())
        return;
    const Topology* topology = knowledge_.find_topology(session_.job().ticket.topology);
    session_.edit(tr("Proof list"), [&](Job& job) {
        const std::vector<ProofStep> before = job.proof;
        job.proof = plan_proof(*topology, job, knowledge_.proof_checks);
        for (ProofStep& step : job.proof) {
            const auto known = std::find_if(before.begin(), before.end(),
                                            [&](const ProofStep& old) { return same_step(old, step); });
            if (known != before.end()) {
                step.state = known->state;
                step.reading_id = known->reading_id;
                step.reason = known->reason;
                step.started_ms = known->started_ms;
            }
        }
        job.stage = std::max(job.stage, JobStage::proof);
    });
    table_->selectRow(0);
    table_->setFocus();
}

void ProofPage::setBenchUp() {
    const int row = selected();
    if (row < 0)
        return;
    const BenchConfiguration wanted = session_.job().proof[static_cast<std::size_t>(row)].configuration;
    session_.edit(tr("Set the bench up"), [&](Job& job) {
        const auto replaced = job.bench.replaced;
        job.bench = wanted;
        job.bench.replaced = replaced;
    });
}

void ProofPage::decide(bool good) {
    const int row = selected();
    if (row < 0) {
        emit said(tr("Make the list and choose a step first."));
        return;
    }
    const ProofStep step = session_.job().proof[static_cast<std::size_t>(row)];
    if (!step.check.empty()) {
        decideCheck(step, static_cast<std::size_t>(row), good);
        return;
    }
    Reading reading;
    reading.configuration = session_.job().bench;
    reading.taken_ms = QDateTime::currentMSecsSinceEpoch();
    reading.source = "proof";
    if (step.kind == ReadingKind::meter) {
        const auto taken = meter_capture_.take();
        if (const auto* why_not = std::get_if<QString>(&taken)) {
            emit said(*why_not);
            return;
        }
        reading.value = MeterReading{std::get<Capture>(taken).summary, true};
        reading.source = "captured";
    } else if (step.kind == ReadingKind::wiggle) {
        reading.value = WiggleReading{!good};
    } else if (step.kind == ReadingKind::firmware) {
        reading.value = FirmwareReading{good ? FirmwareMessage::charging : FirmwareMessage::not_charging};
    } else if (step.kind == ReadingKind::hot_part) {
        // Cool or hot is for the number to say, whichever key was pressed.
        const auto rise = parse_quantity_as(rise_->text().toStdString(), Unit::kelvin);
        if (!rise) {
            emit said(
                tr("Measure how many kelvin the part is warmer than the board around it after some "
                   "minutes of charging, and type it."));
            rise_->setFocus();
            return;
        }
        reading.value = HotPartReading{step.place, rise->value, 1.0};
    } else {
        return;
    }
    decideWith(std::move(reading), static_cast<std::size_t>(row));
}

void ProofPage::decideCheck(const ProofStep& step, std::size_t index, bool good) {
    const auto found = std::find_if(knowledge_.proof_checks.begin(), knowledge_.proof_checks.end(),
                                    [&](const ProofCheck& check) { return check.id == step.check; });
    const CheckNeeds needs = found == knowledge_.proof_checks.end() ? CheckNeeds::nothing : found->needs;
    QString reason = good ? tr("Tried: it works.") : tr("Tried: it does not work.");
    const qint64 now = QDateTime::currentMSecsSinceEpoch();
    if (good && needs == CheckNeeds::battery) {
        // The battery's own numbers decide, whichever key was pressed.
        const BatteryLog& log = session_.job().battery;
        const ChargingVerdict verdict = judge_charging(facts_of(log, knowledge_.chemistries), log.readings);
        reason = format::qt(verdict.says);
        if (verdict.state == ChargingState::too_early || verdict.state == ChargingState::rising_only) {
            emit said(reason);
            emit batteryAsked();
            return;
        }
        good = verdict.state != ChargingState::not_charging;
    }
    if (good && needs == CheckNeeds::timer) {
        // Lists of older programs do not say how long.
        const double wanted = step.minutes > 0.0 ? step.minutes : found->minutes;
        if (step.started_ms == 0) {
            session_.edit(tr("Soak begun"), [&](Job& job) { job.proof[index].started_ms = now; });
            emit said(tr("The clock runs: %1. Decide again when it is over; X when it drops out.")
                          .arg(format::minutes(wanted)));
            return;
        }
        const double passed = static_cast<double>(now - step.started_ms) / 60e3;
        if (passed < wanted) {
            emit said(tr("%1 to go.").arg(format::minutes(wanted - passed)));
            return;
        }
        // What the meter recorded decides, whichever key was pressed; without a meter the clock does.
        constexpr double ms_per_s = 1000.0;
        const SoakReading soak =
            read_soak(meter_capture_.recorded(step.started_ms, now),
                      static_cast<double>(step.started_ms) / ms_per_s, static_cast<double>(now) / ms_per_s);
        reason = format::qt(soak.says);
        good = soak.held;
    }
    session_.edit(tr("Proof step"), [&](Job& job) {
        ProofStep& decided = job.proof[index];
        decided.state = good ? ProofState::passed : ProofState::failed;
        decided.reason = reason.toStdString();
        if (proof_complete(job.proof))
            job.stage = std::max(job.stage, JobStage::handover);
    });
    emit said(reason);
    table_->setFocus();
    if (good && index + 1 < session_.job().proof.size())
        table_->selectRow(static_cast<int>(index) + 1);
}

void ProofPage::decideWith(Reading reading, std::size_t step_index) {
    std::vector<ProofStep> one{session_.job().proof[step_index]};
    one.front().state = ProofState::open;
    if (step_for(one, reading) == nullptr) {
        emit said(tr("The bench does not stand as this step needs it: press U, then try again."));
        return;
    }
    const auto engine = diagnosis_.engineFor(session_.job().ticket.topology);
    const ProofVerdict verdict = judge(*engine->reasoner.store(), reading);
    session_.edit(tr("Proof step"), [&](Job& job) {
        reading.id = fresh_id(job, "r");
        job.readings.push_back(reading);
        if (reading.source == "captured")
            keep_sheet_trace(job, reading.id, meter_capture_.trace());
        ProofStep& step = job.proof[step_index];
        step.state = verdict.passed ? ProofState::passed : ProofState::failed;
        step.reading_id = reading.id;
        step.reason = verdict.reason;
        if (proof_complete(job.proof))
            job.stage = std::max(job.stage, JobStage::handover);
    });
    rise_->clear();
    table_->setFocus();
    emit said(format::qt(verdict.reason));
    if (verdict.passed && step_index + 1 < session_.job().proof.size())
        table_->selectRow(static_cast<int>(step_index) + 1);
}

void ProofPage::waive() {
    const int row = selected();
    const QString reason = reason_->text().trimmed();
    if (row < 0 || reason.isEmpty()) {
        emit said(row < 0 ? tr("Choose the step that is to be waived.")
                          : tr("Write the reason first: it prints on the handover."));
        reason_->setFocus();
        return;
    }
    session_.edit(tr("Waive a step"), [&](Job& job) {
        ProofStep& step = job.proof[static_cast<std::size_t>(row)];
        step.state = ProofState::waived;
        step.reason = reason.toStdString();
        step.reading_id.clear();
        if (proof_complete(job.proof))
            job.stage = std::max(job.stage, JobStage::handover);
    });
    reason_->clear();
}

}  // namespace eh
