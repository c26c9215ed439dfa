// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/shelf/shelf_page.h"

#include <QDateTime>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/format/text.h"
#include "app/screens/shelf/similar_panel.h"
#include "app/screens/shelf/waiting_form.h"
#include "app/style/theme.h"

namespace eh {
namespace {

constexpr int job_row_height = 38;
constexpr int most_shown = 500;
constexpr int most_similar = 8;
constexpr int shelves_width = 168;
constexpr int fingers_rest_ms = 120;

}  // namespace

ShelfPage::ShelfPage(JobRepository& repository, JobSession& session, const Knowledge& knowledge,
                     QWidget* parent)
    : QWidget(parent),
      repository_(repository),
      session_(session),
      model_(new ShelfModel(this)),
      sorted_(new QSortFilterProxyModel(this)),
      shelves_model_(new ShelvesModel(this)),
      shelves_(new QListView(this)),
      search_(new QLineEdit(this)),
      found_(new QLabel(this)),
      table_(new QTableView(this)),
      waiting_(new WaitingForm(this)),
      similar_(new SimilarPanel(knowledge, this)),
      full_(new QWidget(this)),
      empty_(makeEmpty()) {
    sorted_->setSourceModel(model_);
    sorted_->setSortRole(ShelfModel::SortRole);
    shelves_->setModel(shelves_model_);
    shelves_->setFixedWidth(shelves_width);
    shelves_->setSpacing(5);
    shelves_->setAccessibleName(tr("What jobs wait for"));
    shelves_->setCurrentIndex(shelves_model_->index(0));
    dressTable();
    found_->setProperty("role", "soft");
    auto* jobs = new QVBoxLayout;
    jobs->addWidget(found_);
    jobs->addWidget(table_, 5);
    jobs->addWidget(waiting_);
    jobs->addWidget(similar_, 4);
    auto* columns = new QHBoxLayout(full_);
    columns->setContentsMargins(0, 0, 0, 0);
    columns->setSpacing(14);
    columns->addWidget(shelves_);
    columns->addLayout(jobs, 1);
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(16, 12, 16, 12);
    page->addWidget(makeHead());
    page->addWidget(full_, 1);
    page->addWidget(empty_, 1);
    empty_->hide();

    for (QTimer* timer : {&typed_, &moved_}) {
        timer->setSingleShot(true);
        timer->setInterval(fingers_rest_ms);
    }
    connect(&typed_, &QTimer::timeout, this, &ShelfPage::refresh);
    connect(&moved_, &QTimer::timeout, this, &ShelfPage::showChosen);
    connect(search_, &QLineEdit::textChanged, &typed_, qOverload<>(&QTimer::start));
    connect(shelves_->selectionModel(), &QItemSelectionModel::currentChanged, this, [this] {
        search_->clear();
        refresh();
    });
    connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
            [this] { moved_.start(); });
    connect(table_, &QTableView::activated, this, [this] { emit jobChosen(chosen()); });
    connect(waiting_, &WaitingForm::changed, this, &ShelfPage::setWaiting);
    connect(similar_, &SimilarPanel::jobChosen, this, &ShelfPage::jobChosen);
}

void ShelfPage::dressTable() {
    table_->setModel(sorted_);
    table_->setSortingEnabled(true);
    // As the store gives them, until a heading is clicked: those due first.
    table_->sortByColumn(-1, Qt::AscendingOrder);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setShowGrid(false);
    table_->setAlternatingRowColors(true);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(job_row_height);
    table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    for (const auto& [column, width] : {std::pair<int, int>{ShelfModel::NumberColumn, 104},
                                        {ShelfModel::MachineColumn, 110},
                                        {ShelfModel::StageColumn, 140},
                                        {ShelfModel::DueColumn, 76},
                                        {ShelfModel::ChangedColumn, 112}}) {
        table_->horizontalHeader()->setSectionResizeMode(column, QHeaderView::Fixed);
        table_->setColumnWidth(column, width);
    }
    table_->setTabKeyNavigation(false);
    table_->setAccessibleName(tr("Jobs"));
}

QWidget* ShelfPage::makeHead() {
    auto* head = new QWidget(this);
    auto* title = new QLabel(tr("Shelf"), head);
    title->setProperty("role", "heading");
    search_->setPlaceholderText(tr("Find in every job: names, findings, parts, notes   (Ctrl+F)"));
    search_->setAccessibleName(tr("Find in every job"));
    search_->setClearButtonEnabled(true);
    search_->setMinimumWidth(430);
    auto* find = new QAction(this);
    find->setShortcut(QKeySequence::Find);
    find->setShortcutContext(Qt::WidgetWithChildrenShortcut);
    addAction(find);
    connect(find, &QAction::triggered, search_, [this] {
        search_->setFocus();
        search_->selectAll();
    });
    auto* fresh = new QPushButton(tr("New ticket   Ctrl+N"), head);
    fresh->setDefault(true);
    auto* import = new QPushButton(tr("Import a job file …"), head);
    connect(fresh, &QPushButton::clicked, this, &ShelfPage::newTicketAsked);
    connect(import, &QPushButton::clicked, this, &ShelfPage::importAsked);
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(title);
    row->addStretch(1);
    row->addWidget(search_);
    row->addWidget(import);
    row->addWidget(fresh);
    return head;
}

QWidget* ShelfPage::makeEmpty() {
    auto* empty = new QWidget(this);
    auto* words = new QLabel(tr("No job is on the shelf yet.\n\nWrite a ticket for the machine in front of "
                                "you: only its kind must "
                                "be chosen, everything else can follow.\nOr look around first in the demo "
                                "shop, which keeps its jobs "
                                "in a file of its own."),
                             empty);
    words->setWordWrap(true);
    auto* demo = new QPushButton(tr("Open the demo shop"), empty);
    auto* column = new QVBoxLayout(empty);
    column->addStretch(1);
    column->addWidget(words);
    column->addWidget(demo, 0, Qt::AlignLeft);
    column->addStretch(2);
    connect(demo, &QPushButton::clicked, this, &ShelfPage::demoAsked);
    return empty;
}

std::string ShelfPage::chosen() const {
    return table_->currentIndex().siblingAtColumn(0).data(ShelfModel::IdRole).toString().toStdString();
}

void ShelfPage::refresh() {
    if (!repository_.hasShop()) {
        shelf_.drop();
        model_->show({}, 0);
        return;
    }
    const std::string words = search_->text().toStdString();
    const bool searching = !search_->text().trimmed().isEmpty();
    const auto waits = ShelvesModel::waitsOf(shelves_->currentIndex().row());
    repository_.ask<Result<Shelf>>(
        shelf_,
        [words, searching, waits](JobStore& store) -> Result<Shelf> {
            auto counts = store.counts();
            if (!counts)
                return counts.error();
            auto jobs = searching ? store.search(words, most_shown) : store.shelf(waits, most_shown);
            if (!jobs)
                return jobs.error();
            return Shelf{std::move(counts).value(), std::move(jobs).value()};
        },
        [this, searching](const Result<Shelf>& shelf) { show(shelf, searching); });
}

void ShelfPage::show(const Result<Shelf>& shelf, bool searching) {
    if (!shelf) {
        emit said(format::qt(shelf.error().text()));
        return;
    }
    const std::string before = chosen();
    shelves_model_->show(shelf->counts);
    const bool none = shelf->counts.empty();
    full_->setVisible(!none);
    empty_->setVisible(none);
    const int found = static_cast<int>(shelf->jobs.size());
    found_->setVisible(searching || found == most_shown || found == 0);
    found_->setText(searching && found == 0
                        ? tr("No job has all of these words. Beginnings of words are enough.")
                    : searching  ? tr("%1 found in every shelf, newest first.").arg(found)
                    : found == 0 ? tr("Nothing stands on this shelf.")
                                 : tr("The first %1; a search finds the others.").arg(found));
    model_->show(shelf->jobs, QDateTime::currentMSecsSinceEpoch());
    for (int row = 0; row < sorted_->rowCount(); ++row) {
        if (row == 0 || sorted_->index(row, 0).data(ShelfModel::IdRole).toString().toStdString() == before)
            table_->setCurrentIndex(sorted_->index(row, 0));
    }
    moved_.start();
}

void ShelfPage::showChosen() {
    const std::string id = chosen();
    if (!repository_.hasShop() || id.empty()) {
        chosen_.drop();
        waiting_->show(std::nullopt);
        similar_->clear();
        return;
    }
    // The open job as it stands here, which may be newer than what is in the shop.
    if (session_.hasJob() && session_.job().id == id) {
        compare(session_.job());
        return;
    }
    repository_.ask<Result<Job>>(
        chosen_, [id](JobStore& store) { return store.peek(id); },
        [this, id](const Result<Job>& job) {
            if (!job)
                emit said(format::qt(job.error().text()));
            else if (chosen() == id)
                compare(*job);
        });
}

void ShelfPage::compare(const Job& job) {
    waiting_->show(job.waiting);
    repository_.ask<Result<std::vector<SimilarJob>>>(
        similar_jobs_, [job](JobStore& store) { return store.similar(job, most_similar); },
        [this, job](const Result<std::vector<SimilarJob>>& similar) {
            if (similar && chosen() == job.id)
                similar_->show(job, *similar);
            else
                similar_->clear();
        });
}

void ShelfPage::setWaiting(const Waiting& waiting) {
    const std::string id = chosen();
    if (!repository_.hasShop() || id.empty())
        return;
    if (session_.hasJob() && session_.job().id == id) {
        session_.edit(tr("Waiting"), [&](Job& job) { job.waiting = waiting; });
        refresh();
        return;
    }
    repository_.change(
        id, [waiting](Job& job) { job.waiting = waiting; }, this,
        [this](const Result<Job>& changed) {
            if (!changed)
                emit said(format::qt(changed.error().text()));
            else if (session_.hasJob() && session_.job().id == changed->id)
                session_.takeOver(*changed);  // opened meanwhile
            refresh();
        });
}

}  // namespace eh
