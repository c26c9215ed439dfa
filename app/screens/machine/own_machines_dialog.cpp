// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/machine/own_machines_dialog.h"

#include <QAction>
#include <QDialogButtonBox>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QHeaderView>
#include <QLabel>
#include <QMimeData>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/format/text.h"
#include "app/widgets/answer_table.h"
#include "app/widgets/form_parts.h"
#include "core/base/text.h"

namespace eh {
namespace {

constexpr int name_column = 0;
constexpr int jobs_column = 3;

QString usual_words() {
    return OwnMachinesDialog::tr(
        "A kind that jobs are on cannot be deleted: their readings would speak of a machine that nobody "
        "knows. "
        "What is changed counts for all jobs on it from then on.");
}

}  // namespace

OwnMachinesDialog::OwnMachinesDialog(MachineLibrary& library, CountJobs count_jobs, QWidget* parent)
    : QDialog(parent),
      library_(library),
      count_jobs_(std::move(count_jobs)),
      rows_(new RowsModel({tr("Kind of machine"), tr("Built like"), tr("Ports"), tr("Jobs")}, this)),
      table_(new QTableView(this)),
      says_(form::wrapped(this, tr("What can be done"))) {
    setWindowTitle(tr("The shop's own kinds of machine"));
    setAcceptDrops(true);
    resize(860, 440);
    table_->setModel(rows_);
    dress_answer_table(*table_, tr("The shop's own kinds of machine"));
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(name_column, QHeaderView::Stretch);
    says_->setMinimumHeight(44);
    auto* buttons = new QDialogButtonBox(this);
    auto* describe = buttons->addButton(tr("&Describe another …"), QDialogButtonBox::ActionRole);
    change_ = buttons->addButton(tr("C&hange …"), QDialogButtonBox::ActionRole);
    remove_ = buttons->addButton(tr("De&lete"), QDialogButtonBox::ActionRole);
    auto* take_in = buttons->addButton(tr("Take in a &file …"), QDialogButtonBox::ActionRole);
    buttons->addButton(QDialogButtonBox::Close);
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(16, 14, 16, 14);
    page->setSpacing(10);
    page->addWidget(table_, 1);
    page->addWidget(says_);
    page->addWidget(buttons);

    auto* del = new QAction(table_);
    del->setShortcut(QKeySequence::Delete);
    del->setShortcutContext(Qt::WidgetShortcut);
    table_->addAction(del);
    connect(del, &QAction::triggered, this, &OwnMachinesDialog::removeChosen);
    connect(describe, &QPushButton::clicked, this, &OwnMachinesDialog::describeAsked);
    connect(change_, &QPushButton::clicked, this, [this] { emit changeAsked(chosen()); });
    connect(table_, &QTableView::doubleClicked, this, [this] { emit changeAsked(chosen()); });
    connect(remove_, &QPushButton::clicked, this, &OwnMachinesDialog::removeChosen);
    connect(take_in, &QPushButton::clicked, this, [this] {
        const QString file =
            QFileDialog::getOpenFileName(this, tr("Take in a kind of machine"), {}, tr("Machine (*.json)"));
        if (!file.isEmpty())
            takeIn(file);
    });
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
            &OwnMachinesDialog::choose);
    for (const auto signal : {&MachineLibrary::added, &MachineLibrary::changed, &MachineLibrary::removed})
        connect(&library_, signal, this, &OwnMachinesDialog::refresh);
    refresh();
}

void OwnMachinesDialog::refresh() {
    const std::string before = chosen();
    const Knowledge& knowledge = library_.knowledge();
    std::vector<RowsModel::Row> rows;
    ids_.clear();
    int row_before = 0;
    for (const Topology& machine : knowledge.topologies) {
        if (!library_.isOwn(machine.id))
            continue;
        if (machine.id == before)
            row_before = static_cast<int>(ids_.size());
        ids_.push_back(machine.id);
        const Topology* base = knowledge.find_topology(profile_of(machine, knowledge).base);
        rows.push_back({{format::qt(machine.title), base == nullptr ? QString() : format::qt(base->title),
                         QString::number(machine.ports.size()), QString()}});
    }
    rows_->show(std::move(rows));
    count_jobs_(ids_, [this, ids = ids_](const Counts& counts) { showJobs(ids, counts); });
    if (!ids_.empty())
        table_->selectRow(row_before);
    choose();
    form::show_html(says_,
                    ids_.empty()
                        ? tr("None yet. Describe one that the shop sees often: like a known kind, with its "
                             "own ports, charger, cells and resistances known from sound ones. Or drop "
                             "the file of one from another bench here.")
                        : usual_words());
}

void OwnMachinesDialog::showJobs(const std::vector<std::string>& ids, const Counts& counts) {
    if (ids != ids_)
        return;
    for (std::size_t row = 0; row < counts.size(); ++row)
        rows_->setCell(static_cast<int>(row), jobs_column,
                       counts[row] ? QString::number(*counts[row]) : tr("unknown"));
}

std::string OwnMachinesDialog::chosen() const {
    const auto row = static_cast<std::size_t>(table_->currentIndex().row());
    return table_->currentIndex().isValid() && row < ids_.size() ? ids_[row] : std::string();
}

void OwnMachinesDialog::choose() {
    change_->setEnabled(!chosen().empty());
    remove_->setEnabled(!chosen().empty());
}

QString OwnMachinesDialog::problem() const {
    return says_->text();
}

void OwnMachinesDialog::removeChosen() {
    const std::string id = chosen();
    if (id.empty())
        return;
    count_jobs_({id}, [this, id](const Counts& counts) {
        if (library_.isOwn(id))
            remove(id, counts.front());
    });
}

void OwnMachinesDialog::remove(const std::string& id, const Result<int>& jobs) {
    const std::string title = library_.knowledge().find_topology(id)->title;
    if (!jobs)
        tell(jobs.error());
    else if (*jobs > 0)
        tell(refused((*jobs == 1 ? "one job of the shop is" : integer_text(*jobs) + " jobs of the shop are") +
                         std::string(" on it; choose another kind at their intake first"),
                     title));
    else
        tell(library_.remove(id));
}

void OwnMachinesDialog::takeIn(const QString& file) {
    tell(library_.addFile(file.toStdString()));
}

void OwnMachinesDialog::tell(const Outcome& outcome) {
    if (outcome)
        refresh();
    else
        form::show_html(says_, form::paragraph(form::Weight::problem, format::qt(outcome.error().text())));
}

void OwnMachinesDialog::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls())
        event->acceptProposedAction();
}

void OwnMachinesDialog::dropEvent(QDropEvent* event) {
    for (const QUrl& url : event->mimeData()->urls())
        takeIn(url.toLocalFile());
}

}  // namespace eh
