// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/shelf/similar_panel.h"

#include <QHeaderView>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/widgets/answer_table.h"
#include "app/widgets/form_parts.h"

namespace eh {
namespace {

// What most of them were cured by, when two or more agree.
QString most_cured(const std::vector<SimilarJob>& jobs,
                   const std::function<QString(const JobSummary&)>& words) {
    std::map<QString, int> counts;
    for (const SimilarJob& similar : jobs)
        ++counts[words(similar.job)];
    const auto most = std::max_element(counts.begin(), counts.end(),
                                       [](const auto& a, const auto& b) { return a.second < b.second; });
    if (most == counts.end() || most->second < 2)
        return {};
    return SimilarPanel::tr("%1 of these %2 were fixed by: %3.")
        .arg(most->second)
        .arg(jobs.size())
        .arg(most->first.toLower());
}

}  // namespace

SimilarPanel::SimilarPanel(const Knowledge& knowledge, QWidget* parent)
    : QWidget(parent),
      knowledge_(knowledge),
      title_(form::title(tr("Earlier jobs like it"), this)),
      says_(form::wrapped(this, tr("What fixed them"))),
      table_(new QTableView(this)),
      rows_(new RowsModel(
          {tr("Alike"), tr("Job"), tr("Machine"), tr("What fixed it"), tr("Readings that agree")}, this)) {
    table_->setModel(rows_);
    dress_answer_table(*table_, tr("Earlier jobs like it"));
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    table_->horizontalHeader()->setSectionResizeMode(3, QHeaderView::Stretch);
    for (const auto& [column, width] : {std::pair{0, 70}, {1, 100}, {2, 180}, {4, 170}})
        table_->setColumnWidth(column, width);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(title_);
    column->addWidget(says_);
    column->addWidget(table_, 1);
    connect(table_, &QTableView::activated, this, [this](const QModelIndex& index) {
        emit jobChosen(ids_[static_cast<std::size_t>(index.row())]);
    });
    clear();
}

void SimilarPanel::clear() {
    ids_.clear();
    rows_->show({});
    says_->setText(
        tr("Choose a job above: proven jobs on machines of the same kind are compared with its readings."));
    table_->hide();
}

void SimilarPanel::show(const Job& asked, const std::vector<SimilarJob>& jobs) {
    ids_.clear();
    std::vector<RowsModel::Row> rows;
    const Topology* topology = knowledge_.find_topology(asked.ticket.topology);
    const auto cure = [topology](const JobSummary& job) {
        const Block* block = topology == nullptr ? nullptr : topology->find_block(job.cure_block);
        return format::workWord(job.cure_work) + ", " +
               format::qt(block == nullptr ? job.cure_block : block->title);
    };
    for (const SimilarJob& similar : jobs) {
        ids_.push_back(similar.job.id);
        rows.push_back(
            {{format::percent(similar.share), format::qt(similar.job.number), format::qt(similar.job.machine),
              cure(similar.job), tr("%1 of %2").arg(similar.alike).arg(similar.compared)},
             RowsModel::Tone::plain});
    }
    title_->setText(tr("Earlier jobs like %1").arg(format::qt(asked.ticket.number)));
    table_->setVisible(!rows.empty());
    if (rows.empty())
        says_->setText(
            asked.readings.empty()
                ? tr("Nothing has been read of this machine yet, so nothing can be compared.")
                : tr("No proven job on a machine of this kind has readings in common with it yet."));
    else
        says_->setText(most_cured(jobs, cure));
    says_->setVisible(!says_->text().isEmpty());
    rows_->show(std::move(rows));
}

}  // namespace eh
