#include "app/screens/shelf/shelf_page.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/format/text.h"
#include "app/style/theme.h"

namespace eh {

namespace {
constexpr int job_row_height = 40;
}

void ShelfModel::show(std::vector<JobSummary> jobs) {
    beginResetModel();
    jobs_ = std::move(jobs);
    endResetModel();
}

int ShelfModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(jobs_.size());
}
int ShelfModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : ColumnCount;
}

QVariant ShelfModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid())
        return {};
    const JobSummary& job = jobs_[static_cast<std::size_t>(index.row())];
    if (role == IdRole)
        return format::qt(job.id);
    if (role == Qt::FontRole && index.column() == NumberColumn)
        return theme::number_font(1.0, true);
    if (role != Qt::DisplayRole && role != SortRole)
        return {};
    switch (index.column()) {
        case NumberColumn:
            return format::qt(job.number);
        case CustomerColumn:
            return format::qt(job.customer);
        case MachineColumn:
            return format::qt(job.machine);
        case StageColumn:
            return role == SortRole ? QVariant(static_cast<int>(job.stage))
                                    : QVariant(format::stage(job.stage));
        case WaitsColumn:
            return format::waitsFor(job.stage);
        case ChangedColumn:
            return role == SortRole ? QVariant(static_cast<qlonglong>(job.updated_ms))
                                    : QVariant(format::dateTime(job.updated_ms));
        default:
            return {};
    }
}

QVariant ShelfModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole)
        return {};
    switch (section) {
        case NumberColumn:
            return tr("Job");
        case CustomerColumn:
            return tr("Customer");
        case MachineColumn:
            return tr("Machine");
        case StageColumn:
            return tr("Stage");
        case WaitsColumn:
            return tr("Waits for");
        case ChangedColumn:
            return tr("Last changed");
        default:
            return {};
    }
}

ShelfPage::ShelfPage(QWidget* parent)
    : QWidget(parent),
      model_(new ShelfModel(this)),
      sorted_(new QSortFilterProxyModel(this)),
      table_(new QTableView(this)),
      empty_(new QWidget(this)) {
    sorted_->setSourceModel(model_);
    sorted_->setSortRole(ShelfModel::SortRole);
    sorted_->setFilterCaseSensitivity(Qt::CaseInsensitive);
    sorted_->setFilterKeyColumn(-1);
    auto* title = new QLabel(tr("Shelf"), this);
    title->setProperty("role", "heading");
    auto* search = new QLineEdit(this);
    search->setPlaceholderText(tr("Find: job, customer, machine   (Ctrl+F)"));
    search->setAccessibleName(tr("Find on the shelf"));
    search->setClearButtonEnabled(true);
    search->setMinimumWidth(300);
    auto* find = new QAction(this);
    find->setShortcut(QKeySequence::Find);
    find->setShortcutContext(Qt::WidgetWithChildrenShortcut);
    addAction(find);
    connect(find, &QAction::triggered, search, [search] { search->setFocus(); });
    connect(search, &QLineEdit::textChanged, sorted_, &QSortFilterProxyModel::setFilterFixedString);
    auto* fresh = new QPushButton(tr("New ticket   Ctrl+N"), this);
    fresh->setDefault(true);
    auto* import = new QPushButton(tr("Import a job file …"), this);
    auto* head = new QHBoxLayout;
    head->addWidget(title);
    head->addStretch(1);
    head->addWidget(search);
    head->addWidget(import);
    head->addWidget(fresh);

    table_->setModel(sorted_);
    table_->setSortingEnabled(true);
    table_->sortByColumn(ShelfModel::ChangedColumn, Qt::DescendingOrder);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setShowGrid(false);
    table_->setAlternatingRowColors(true);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(job_row_height);
    table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->setTabKeyNavigation(false);
    table_->setAccessibleName(tr("Jobs"));

    auto* words = new QLabel(
        tr("No job is on the shelf yet.\n\nWrite a ticket for the machine in front of you: only its kind "
           "must "
           "be chosen, everything else can follow.\nOr look around first in the demo shop, which keeps its "
           "jobs in a file of its own."),
        empty_);
    words->setWordWrap(true);
    auto* demo = new QPushButton(tr("Open the demo shop"), empty_);
    auto* column = new QVBoxLayout(empty_);
    column->addStretch(1);
    column->addWidget(words);
    column->addWidget(demo, 0, Qt::AlignLeft);
    column->addStretch(2);

    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(16, 12, 16, 12);
    page->addLayout(head);
    page->addWidget(table_, 1);
    page->addWidget(empty_, 1);
    empty_->hide();

    connect(table_, &QTableView::activated, this, [this](const QModelIndex& index) {
        emit jobChosen(index.data(ShelfModel::IdRole).toString().toStdString());
    });
    connect(fresh, &QPushButton::clicked, this, &ShelfPage::newTicketAsked);
    connect(import, &QPushButton::clicked, this, &ShelfPage::importAsked);
    connect(demo, &QPushButton::clicked, this, &ShelfPage::demoAsked);
}

void ShelfPage::show(std::vector<JobSummary> jobs) {
    const bool none = jobs.empty();
    const QString selected = table_->currentIndex().data(ShelfModel::IdRole).toString();
    model_->show(std::move(jobs));
    table_->setVisible(!none);
    empty_->setVisible(none);
    for (int row = 0; row < sorted_->rowCount(); ++row) {
        if (row == 0 || sorted_->index(row, 0).data(ShelfModel::IdRole).toString() == selected)
            table_->setCurrentIndex(sorted_->index(row, 0));
    }
}

}  // namespace eh
