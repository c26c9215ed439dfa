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

ShelfPage::ShelfPage(JobSession& session, const Knowledge& knowledge, QWidget* parent)
    : QWidget(parent),
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

void ShelfPage::useStore(JobStore* store) {
    store_ = store;
    refresh();
}

std::string ShelfPage::chosen() const {
    return table_->currentIndex().siblingAtColumn(0).data(ShelfModel::IdRole).toString().toStdString();
}

void ShelfPage::refresh() {
    if (store_ == nullptr) {
        model_->show({}, 0);
        return;
    }
    const std::string before = chosen();
    const std::string words = search_->text().toStdString();
    const auto counts = store_->counts();
    const bool searching = !search_->text().trimmed().isEmpty();
    const auto jobs = searching
                          ? store_->search(words, most_shown)
                          : store_->shelf(ShelvesModel::waitsOf(shelves_->currentIndex().row()), most_shown);
    if (!counts || !jobs) {
        emit said(format::qt((counts ? jobs.error() : counts.error()).text()));
        return;
    }
    shelves_model_->show(*counts);
    const bool none = counts->empty();
    full_->setVisible(!none);
    empty_->setVisible(none);
    const int found = static_cast<int>(jobs->size());
    found_->setVisible(searching || found == most_shown || found == 0);
    found_->setText(searching && found == 0
                        ? tr("No job has all of these words. Beginnings of words are enough.")
                    : searching  ? tr("%1 found in every shelf, newest first.").arg(found)
                    : found == 0 ? tr("Nothing stands on this shelf.")
                                 : tr("The first %1; a search finds the others.").arg(found));
    model_->show(*jobs, QDateTime::currentMSecsSinceEpoch());
    for (int row = 0; row < sorted_->rowCount(); ++row) {
        if (row == 0 || sorted_->index(row, 0).data(ShelfModel::IdRole).toString().toStdString() == before)
            table_->setCurrentIndex(sorted_->index(row, 0));
    }
    moved_.start();
}

void ShelfPage::showChosen() {
    const std::string id = chosen();
    if (store_ == nullptr || id.empty()) {
        waiting_->show(std::nullopt);
        similar_->clear();
        return;
    }
    // The open job as it stands here: loading it would hide that another window has changed it.
    const bool open = session_.hasJob() && session_.job().id == id;
    const auto loaded = open ? Result<Job>(session_.job()) : store_->load(id);
    if (!loaded) {
        emit said(format::qt(loaded.error().text()));
        return;
    }
    waiting_->show(loaded->waiting);
    const auto similar = store_->similar(*loaded, most_similar);
    if (similar)
        similar_->show(*loaded, *similar);
    else
        similar_->clear();
}

void ShelfPage::setWaiting(const Waiting& waiting) {
    const std::string id = chosen();
    if (store_ == nullptr || id.empty())
        return;
    if (session_.hasJob() && session_.job().id == id) {
        session_.edit(tr("Waiting"), [&](Job& job) { job.waiting = waiting; });
    } else {
        auto job = store_->load(id);
        if (!job) {
            emit said(format::qt(job.error().text()));
            return;
        }
        Job changed = std::move(job).value();
        changed.waiting = waiting;
        if (auto saved = store_->save(changed); !saved) {
            emit said(format::qt(saved.error().text()));
            return;
        }
    }
    refresh();
}

}  // namespace eh
