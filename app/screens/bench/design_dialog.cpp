// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/bench/design_dialog.h"

#include <QCheckBox>
#include <QDialogButtonBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QProgressBar>
#include <QPushButton>
#include <QTableView>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/format/text.h"
#include "app/widgets/answer_table.h"
#include "app/widgets/form_parts.h"

namespace eh {
namespace {

constexpr int build_column = 0;
constexpr int since_column = 3;

// Below this a habit has not been moved by any reading.
constexpr double moved = 0.05;

// Settled ones first, then those that readings moved, each by how sure they are.
bool tells_more(const HabitKnown& a, const HabitKnown& b) {
    const auto key = [](const HabitKnown& habit) {
        return std::tuple(habit.since.has_value(), std::abs(habit.now - habit.met) >= moved,
                          std::abs(habit.now - 0.5));
    };
    return key(a) > key(b);
}

// Where the reading was taken, and what it showed: "5. Controllers' 3.3 V supply: 3.28 V".
QString reading_text(const KnownDesign& design, const std::string& id) {
    const Topology& topology = design.engine->topology;
    for (std::size_t r = 0; r < design.readings.size(); ++r) {
        const Reading& reading = design.readings[r];
        if (reading.id != id)
            continue;
        const Net* net = topology.find_net(reading.place());
        const Block* block = topology.find_block(reading.place());
        const Port* port = topology.find_port(reading.configuration.port);
        const std::string where = net != nullptr     ? net->title
                                  : block != nullptr ? block->title
                                  : port != nullptr  ? port->title
                                                     : std::string();
        return DesignDialog::tr("%1. %2: %3")
            .arg(r + 1)
            .arg(format::qt(where), format::qt(describe_value(reading, topology)));
    }
    return {};
}

RowsModel::Row row_of(const KnownDesign& design, const HabitKnown& habit) {
    const HabitWords& words =
        design.engine->plan.knowledge().variety.habit_words[static_cast<std::size_t>(habit.habit)];
    const bool has = habit.now >= 0.5;
    const auto sure_of = [has](double share) { return format::percent(has ? share : 1.0 - share); };
    QString since;
    if (habit.since)
        since = reading_text(design, *habit.since);
    else if (std::abs(habit.now - habit.met) >= moved && habit.because)
        since = DesignDialog::tr("open; moved by reading %1").arg(reading_text(design, *habit.because));
    else
        since = DesignDialog::tr("no reading tells yet");
    return {{format::qt(has ? words.has : words.has_not), sure_of(habit.now), sure_of(habit.met), since},
            habit.since ? RowsModel::Tone::plain : RowsModel::Tone::soft};
}

}  // namespace

DesignDialog::DesignDialog(JobSession& session, DiagnosisService& diagnosis, DesignService& design,
                           const Knowledge& knowledge, QWidget* parent)
    : QDialog(parent),
      session_(session),
      design_(design),
      knowledge_(knowledge),
      says_(form::wrapped(this, tr("What is known of this machine"))),
      builds_(new QTableView(this)),
      build_rows_(new RowsModel({tr("It may be built as"), tr("Now"), tr("Before")}, this)),
      about_(form::wrapped(this, tr("What a look inside shows"))),
      build_so_(new QPushButton(tr("It is &built like this"), this)),
      table_(new QTableView(this)),
      rows_(
          new RowsModel({tr("What it does"), tr("Sure"), tr("Of all machines"), tr("Settled since")}, this)),
      busy_(form::share_bar(tr("Being worked out"), this)),
      like_its_kind_(
          new QCheckBox(tr("It is &like others of its name: it learns from them, and teaches them"), this)),
      lesson_(form::wrapped(this, tr("What it teaches"))) {
    setWindowTitle(tr("What is known of this machine"));
    resize(1120, 700);
    layOut();
    connect(builds_->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
            &DesignDialog::chooseArchitecture);
    connect(build_so_, &QPushButton::clicked, this, &DesignDialog::buildAsChosen);
    connect(&design_, &DesignService::progressed, this,
            [this](double share) { form::show_share(*busy_, share); });
    connect(&design_, &DesignService::known, this, &DesignDialog::showDesign);
    connect(&diagnosis, &DiagnosisService::finished, this, [this] {
        if (isVisible())
            ask();
    });
    connect(&session_, &JobSession::changed, this, &DesignDialog::showLikeness);
    connect(&session_, &JobSession::closed, this, &QDialog::reject);
    connect(like_its_kind_, &QCheckBox::toggled, this, [this](bool like) {
        session_.edit(like ? tr("Like others of its name") : tr("Unlike others of its name"),
                      [like](Job& job) { job.ticket.like_its_kind = like; });
    });
}

void DesignDialog::layOut() {
    for (QTableView* table : {builds_, table_}) {
        table->setModel(table == builds_ ? build_rows_ : rows_);
        table->setSelectionBehavior(QAbstractItemView::SelectRows);
        table->setSelectionMode(QAbstractItemView::SingleSelection);
    }
    dress_answer_table(*builds_, tr("How this machine may be built"));
    dress_answer_table(*table_, tr("What this machine does"));
    builds_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    builds_->horizontalHeader()->setSectionResizeMode(build_column, QHeaderView::Stretch);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(since_column, QHeaderView::Stretch);

    auto* about = new QHBoxLayout;
    about->addWidget(about_, 1);
    about->addWidget(build_so_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(16, 14, 16, 14);
    page->setSpacing(10);
    page->addWidget(says_);
    page->addWidget(builds_, 2);
    page->addLayout(about);
    page->addWidget(table_, 3);
    page->addWidget(busy_);
    page->addWidget(like_its_kind_);
    page->addWidget(lesson_);
    page->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
}

void DesignDialog::present() {
    showLikeness();
    ask();
    show();
    raise();
}

void DesignDialog::ask() {
    const bool asked = design_.ask();
    busy_->setVisible(asked);
    busy_->setValue(0);
    if (!asked)
        form::show_plain(says_,
                         tr("Nothing yet: choose the kind of machine at intake, and take a first reading."));
}

QString DesignDialog::teachersText(const KnownDesign& design) const {
    if (design.teachers.empty())
        return tr("No earlier machine of this name has taught the shop anything yet.");
    QStringList numbers;
    for (const TaughtMachine& teacher : design.teachers)
        numbers << (teacher.number.empty() ? tr("no number") : format::qt(teacher.number));
    return design.teachers.size() == 1
               ? tr("It starts from what an earlier machine of this name showed: %1.").arg(numbers.front())
               : tr("It starts from what %1 earlier machines of this name showed: %2.")
                     .arg(design.teachers.size())
                     .arg(numbers.join(tr(", ")));
}

void DesignDialog::showDesign(const KnownDesign& design) {
    busy_->hide();
    std::vector<HabitKnown> habits = design.habits;
    std::stable_sort(habits.begin(), habits.end(), tells_more);
    std::vector<RowsModel::Row> rows;
    rows.reserve(habits.size());
    for (const HabitKnown& habit : habits)
        rows.push_back(row_of(design, habit));
    const auto settled = std::count_if(habits.begin(), habits.end(),
                                       [](const HabitKnown& habit) { return habit.since.has_value(); });
    rows_->show(std::move(rows));
    form::show_plain(says_, tr("Makers build machines that look alike in different ways, and each suspect is "
                               "weighed over all of them. "
                               "Readings have settled %1 of %2 habits of this one. %3")
                                .arg(settled)
                                .arg(habits.size())
                                .arg(teachersText(design)));
    showArchitectures(design);
}

void DesignDialog::showArchitectures(const KnownDesign& design) {
    const bool several = design.architectures.size() > 1;
    for (QWidget* widget :
         {static_cast<QWidget*>(builds_), static_cast<QWidget*>(about_), static_cast<QWidget*>(build_so_)})
        widget->setVisible(several);
    std::vector<RowsModel::Row> rows;
    build_ids_.clear();
    const Ticket& ticket = session_.job().ticket;
    int own = 0;
    for (const ArchitectureShare& share : design.architectures) {
        const Topology* topology = knowledge_.find_topology(share.topology);
        const bool is_own = share.topology == ticket.topology;
        if (is_own)
            own = static_cast<int>(build_ids_.size());
        const QString title = format::qt(topology == nullptr ? share.topology : topology->title);
        const QString own_title =
            ticket.kind_seen ? tr("%1 — as the ticket says") : tr("%1 — weighed on the bench");
        rows.push_back(
            {{is_own ? own_title.arg(title) : title, format::percent(share.now), format::percent(share.met)},
             is_own ? RowsModel::Tone::good : RowsModel::Tone::plain});
        build_ids_.push_back(share.topology);
    }
    build_rows_->show(std::move(rows));
    builds_->selectRow(own);
    chooseArchitecture();
}

void DesignDialog::chooseArchitecture() {
    const int row = builds_->currentIndex().row();
    const bool chosen = row >= 0 && row < static_cast<int>(build_ids_.size()) && session_.hasJob();
    const std::string id = chosen ? build_ids_[static_cast<std::size_t>(row)] : std::string();
    const Topology* topology = knowledge_.find_topology(id);
    form::show_plain(about_, topology == nullptr
                                 ? QString()
                                 : tr("A look inside tells: %1").arg(format::qt(topology->about)));
    build_so_->setEnabled(chosen &&
                          (id != session_.job().ticket.topology || !session_.job().ticket.kind_seen));
}

void DesignDialog::buildAsChosen() {
    const std::string id = build_ids_[static_cast<std::size_t>(builds_->currentIndex().row())];
    const Topology* topology = knowledge_.find_topology(id);
    if (topology == nullptr)
        return;
    session_.edit(tr("Kind of machine"), [&](Job& job) {
        job.ticket.topology = id;
        job.ticket.kind_seen = true;
        if (topology->find_port(job.bench.port) == nullptr)
            job.bench.port = topology->ports.front().id;
    });
}

void DesignDialog::showLikeness() {
    if (!session_.hasJob())
        return;
    const Job& job = session_.job();
    const bool named = !kind_of_machine(job.ticket).name.empty();
    const QSignalBlocker quiet(like_its_kind_);
    like_its_kind_->setChecked(job.ticket.like_its_kind);
    like_its_kind_->setEnabled(named);
    QString says;
    if (!named)
        says =
            tr("The ticket has no name for this machine, so that it neither learns nor teaches: enter one "
               "at intake.");
    else if (!job.ticket.like_its_kind)
        says = tr("It stands by itself.");
    else if (job.lesson)
        says = tr("Its repair is proved: what it showed counts for the next one of its name.");
    else
        says = tr("Once its repair is proved, what it showed counts for the next one of its name.");
    form::show_plain(lesson_, says);
}

}  // namespace eh
