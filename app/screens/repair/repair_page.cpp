// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/repair/repair_page.h"

#include <QDateTime>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>
#include <algorithm>
#include <array>
#include <optional>

#include "app/format/text.h"
#include "app/models/acts_model.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "core/electrics/engineering.h"
#include "core/machine/model/machine_plan.h"
#include "core/machine/model/source_pieces.h"

namespace eh {
namespace {

constexpr std::array works{Work::replace, Work::resolder, Work::reflow,         Work::clean, Work::reseat,
                           Work::reset,   Work::remove,   Work::change_setting, Work::other};
constexpr double longest_minutes = 6000.0;
constexpr double highest_cost = 1e5;

bool needs_heat(Work kind) {
    return kind == Work::replace || kind == Work::resolder || kind == Work::reflow || kind == Work::remove;
}

// An empty field is 0; otherwise a bare number within limits.
std::optional<double> number_in(const QLineEdit& field, double highest) {
    if (field.text().trimmed().isEmpty())
        return 0.0;
    const auto parsed = parse_quantity(field.text().toStdString());
    if (!parsed || parsed->unit != Unit::none || parsed->over_limit || parsed->value < 0.0 ||
        parsed->value > highest)
        return std::nullopt;
    return parsed->value;
}

}  // namespace

RepairPage::RepairPage(JobSession& session, const DiagnosisService& diagnosis, const Knowledge& knowledge,
                       const AlloyBook& alloys, QWidget* parent)
    : QWidget(parent),
      session_(session),
      diagnosis_(diagnosis),
      knowledge_(knowledge),
      part_(new QComboBox(this)),
      kind_(new QComboBox(this)),
      origin_(new QComboBox(this)),
      origin_words_(new QLineEdit(this)),
      solder_(new QComboBox(this)),
      school_(new QComboBox(this)),
      minutes_(new QLineEdit(this)),
      cost_(new QLineEdit(this)),
      note_(new QLineEdit(this)),
      finding_(new QLineEdit(this)),
      problem_(new QLabel(this)),
      done_title_(new QLabel(this)),
      cautions_(new QLabel(this)),
      record_(new QPushButton(tr("Record this work   Ctrl+Return"), this)),
      table_(new QTableView(this)),
      acts_(new ActsModel(this)) {
    auto* title = new QLabel(tr("Repair record"), this);
    title->setProperty("role", "heading");
    cautions_->setWordWrap(true);
    cautions_->setProperty("role", "caution");
    cautions_->setAlignment(Qt::AlignTop);
    auto* upper = new QHBoxLayout;
    upper->setSpacing(28);
    // Below the fields and not among them: it stays in sight where the window is low.
    auto* entry = new QVBoxLayout;
    entry->addWidget(form::scrolled(makeFields(alloys)), 1);
    entry->addWidget(problem_);
    entry->addWidget(record_, 0, Qt::AlignLeft);
    upper->addLayout(entry, 1);
    upper->addWidget(form::scrolled(cautions_), 1);
    finding_->setPlaceholderText(
        tr("A finding in words: dust that drew moisture, a torn pad, an earlier repair …   (Enter adds it)"));
    finding_->setAccessibleName(tr("Finding"));
    dressTable();
    auto* to_proof = new QPushButton(tr("To the proof   F5"), this);
    auto* to_steps = new QPushButton(tr("Steps, heat and pictures of this work   F12"), this);
    done_title_->setProperty("role", "soft");
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(16, 12, 16, 12);
    page->setSpacing(8);
    page->addWidget(title);
    page->addLayout(upper, 5);
    page->addWidget(finding_);
    page->addWidget(done_title_);
    page->addWidget(table_, 2);
    auto* ways = new QHBoxLayout;
    ways->addWidget(to_steps);
    ways->addWidget(to_proof);
    ways->addStretch(1);
    page->addLayout(ways);

    connect(record_, &QPushButton::clicked, this, &RepairPage::record);
    connect(to_proof, &QPushButton::clicked, this, &RepairPage::proofAsked);
    connect(to_steps, &QPushButton::clicked, this,
            [this] { emit stepsAsked(part_->currentData().toString().toStdString(), chosenWork()); });
    connect(kind_, &QComboBox::currentIndexChanged, this, &RepairPage::showCautions);
    connect(finding_, &QLineEdit::returnPressed, this, &RepairPage::addFinding);
    connect(&session_, &JobSession::changed, this, &RepairPage::refresh);
    connect(&session_, &JobSession::closed, this, &RepairPage::refresh);
    refresh();
}

QWidget* RepairPage::makeFields(const AlloyBook& alloys) {
    for (const Work work : works)
        kind_->addItem(format::workWord(work), static_cast<int>(work));
    solder_->addItem(tr("(not said)"), QString());
    for (const Alloy& alloy : alloys.alloys)
        solder_->addItem(format::qt(alloy.title), format::qt(alloy.id));
    // Ways of doing it that the shop may want to compare when something comes back.
    for (const auto& [school, name] : {std::pair{"", tr("(not said)")},
                                       {"original_kept", tr("original kept")},
                                       {"new_part", tr("new part")},
                                       {"glued", tr("new part, glued to the case")},
                                       {"reflowed", tr("reflowed")},
                                       {"contacts_lifted", tr("contacts lifted")},
                                       {"left_off", tr("capacitor left off")},
                                       {"refitted", tr("capacitor refitted")}})
        school_->addItem(name, QString::fromLatin1(school));
    origin_->addItem(tr("(not said)"), QString());
    for (const PartOrigin& origin : knowledge_.catalogue.origins)
        origin_->addItem(format::qt(origin.title), format::qt(origin.id));
    origin_->setObjectName("origin");
    origin_->setAccessibleName(tr("Part from"));
    origin_words_->setPlaceholderText(tr("whose, which board …"));
    origin_words_->setAccessibleName(tr("Part from, in words"));
    auto* from = new QHBoxLayout;
    from->addWidget(origin_, 3);
    from->addWidget(origin_words_, 2);
    problem_->setStyleSheet(QStringLiteral("color: %1").arg(theme::colours().bad.name()));
    problem_->setWordWrap(true);
    problem_->hide();  // a wrapped label takes room even when it says nothing
    record_->setDefault(true);
    record_->setShortcut(QKeySequence("Ctrl+Return"));
    auto* fields = new QWidget(this);
    auto* lines = new QFormLayout(fields);
    lines->setContentsMargins(0, 0, 0, 0);
    lines->setVerticalSpacing(8);
    lines->addRow(tr("&Part"), part_);
    lines->addRow(tr("&Work"), kind_);
    auto* from_label = new QLabel(tr("Part &from"), this);
    from_label->setBuddy(origin_);
    lines->addRow(from_label, from);
    lines->addRow(tr("&Solder"), solder_);
    lines->addRow(tr("Wa&y"), school_);
    lines->addRow(tr("Time, &minutes"), minutes_);
    lines->addRow(tr("&Cost of the part"), cost_);
    lines->addRow(tr("&Note"), note_);
    return fields;
}

void RepairPage::dressTable() {
    table_->setModel(acts_);
    table_->setShowGrid(false);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->verticalHeader()->hide();
    table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->setTabKeyNavigation(false);
    table_->setAccessibleName(tr("Work done"));
}

void RepairPage::fillParts() {
    const std::string topology_id = session_.hasJob() ? session_.job().ticket.topology : std::string();
    if (topology_id == filled_topology_ && part_->count() > 0)
        return;
    filled_topology_ = topology_id;
    part_->clear();
    part_->addItem(tr("(no part: the machine as a whole)"), QString());
    if (const Topology* topology = knowledge_.find_topology(topology_id)) {
        for (const Block& block : topology->blocks)
            part_->addItem(format::qt(block.title), format::qt(block.id));
        for (const Port& port : topology->ports) {
            if (part_->findData(format::qt(charger_block_id(port.family))) < 0) {
                part_->addItem(tr("Customer's charger"), format::qt(charger_block_id(port.family)));
                part_->addItem(tr("Customer's lead"), format::qt(lead_block_id(port.family)));
            }
        }
    }
}

void RepairPage::refresh() {
    setEnabled(session_.hasJob());
    fillParts();
    const Job job = session_.hasJob() ? session_.job() : Job{};
    acts_->show(job.acts, knowledge_.find_topology(job.ticket.topology), knowledge_.catalogue);
    done_title_->setText(
        job.acts.empty()
            ? tr("Nothing is recorded yet. Choose the part and the work above; a due repair on the bench "
                 "page fills both in.")
            : tr("Done so far  (Ctrl+Z takes the last entry back)"));
    showCautions();
}

void RepairPage::showCautions() {
    QStringList lines;
    const Work kind = chosenWork();
    origin_->setEnabled(kind == Work::replace);
    const bool battery_in = session_.hasJob() && session_.job().bench.battery_in;
    if (battery_in && kind != Work::change_setting)
        lines << tr(
            "<b>The bench says the battery is in.</b> Disconnect it first, with a plastic tool, before any "
            "heat, probe or "
            "other connector: lithium cells burn when shorted or heated.");
    if (needs_heat(kind))
        lines << tr("Hot air and iron: burns and fumes. Ventilate, keep plastic and connectors shielded, "
                    "wash hands after leaded "
                    "solder.")
              << tr("Never mix bismuth and leaded solder: the mixture melts below 100 °C.")
              << tr("Note pin 1 before the part comes off. Measure before the last anchors are soldered and "
                    "before the screws go in.");
    if (kind == Work::clean)
        lines << tr(
            "Alcohol vapour burns: no hot iron, no spark, windows open. Dry the board completely before "
            "power.");
    if (kind == Work::reset || kind == Work::change_setting)
        lines << tr("Some resets wipe data or ask for a key: ask the customer first.");
    lines << tr("Local rules for electrical safety and waste, and licensed practice, come first.");
    form::show_html(cautions_, lines.join("<br/><br/>"));
}

void RepairPage::propose(const std::string& block, Work remedy) {
    fillParts();
    part_->setCurrentIndex(std::max(0, part_->findData(format::qt(block))));
    const int kind = kind_->findData(static_cast<int>(remedy));
    kind_->setCurrentIndex(kind >= 0 ? kind : kind_->findData(static_cast<int>(Work::other)));
    origin_->setFocus();
}

Work RepairPage::chosenWork() const {
    return static_cast<Work>(kind_->currentData().toInt());
}

bool RepairPage::record() {
    if (!session_.hasJob())
        return false;
    const auto minutes = number_in(*minutes_, longest_minutes);
    const auto cost = number_in(*cost_, highest_cost);
    if (!minutes || !cost) {
        problem_->setText(!minutes ? tr("Time: “%1” is not a number of minutes.").arg(minutes_->text())
                                   : tr("Cost: “%1” is not an amount.").arg(cost_->text()));
        problem_->show();
        return false;
    }
    problem_->hide();
    Act act;
    act.block = part_->currentData().toString().toStdString();
    act.kind = chosenWork();
    act.part_origin = origin_words_->text().toStdString();
    if (act.kind == Work::replace)
        act.origin = origin_->currentData().toString().toStdString();
    act.solder = solder_->currentData().toString().toStdString();
    act.school = school_->currentData().toString().toStdString();
    act.minutes = *minutes;
    act.cost = *cost;
    act.note = note_->text().toStdString();
    act.done_ms = QDateTime::currentMSecsSinceEpoch();
    session_.edit(tr("Work on %1").arg(part_->currentText()), [&](Job& job) {
        act.id = fresh_id(job, "a");
        if (job.acts.empty() && !act.block.empty())
            job.said = diagnosis_.saidOf(job, act.done_ms);
        job.acts.push_back(act);
        job.stage = std::max(job.stage, JobStage::repair);
        if (act.block.empty())
            return;
        for (const std::string& block : changed_with(knowledge_.kit, act.block))
            note_work(job.bench, block, act.kind);
    });
    origin_->setCurrentIndex(0);
    for (QLineEdit* field : {origin_words_, minutes_, cost_, note_})
        field->clear();
    emit said(tr("Recorded: %1, %2.").arg(part_->currentText(), kind_->currentText()));
    return true;
}

void RepairPage::addFinding() {
    const QString text = finding_->text().trimmed();
    if (text.isEmpty() || !session_.hasJob())
        return;
    session_.edit(tr("Finding"), [&](Job& job) {
        job.findings.push_back({fresh_id(job, "f"), text.toStdString(), QDateTime::currentMSecsSinceEpoch()});
    });
    finding_->clear();
    emit said(tr("Finding noted: %1").arg(text));
}

}  // namespace eh
