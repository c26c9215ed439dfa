// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/returns/own_hits_panel.h"

#include <qcustomplot.h>

#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>
#include <cmath>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/answer_table.h"
#include "app/widgets/form_parts.h"

namespace eh {

OwnHitsPanel::OwnHitsPanel(const Knowledge& knowledge, QWidget* parent)
    : QWidget(parent),
      knowledge_(knowledge),
      says_(form::wrapped(this, tr("How often it was right"))),
      wrong_title_(form::title(tr("Where another part was the one"), this)),
      table_(new QTableView(this)),
      wrong_(new RowsModel({tr("Job"), tr("It said"), tr("It was")}, this)),
      plot_(new QCustomPlot(this)) {
    table_->setModel(wrong_);
    dress_answer_table(*table_, tr("Jobs in which another part was the one"));
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Fixed);
    table_->setColumnWidth(0, 84);
    form::dress(*plot_, tr("said, %"), tr("came true, %"));
    plot_->setMinimumHeight(320);
    auto* counted = form::softly(tr("Counted are jobs in which a part was named before the first work, and "
                                    "in which the proof tells which "
                                    "part cured. Bars are 95 % intervals (Wilson); on the line, what was "
                                    "said came true as often as said."),
                                 this);
    counted->setWordWrap(true);
    auto* left = new QVBoxLayout;
    left->addWidget(says_);
    left->addWidget(wrong_title_);
    left->addWidget(table_, 1);
    left->addWidget(counted);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 10, 14, 8);
    row->setSpacing(16);
    row->addLayout(left, 1);
    row->addWidget(plot_, 1);
    show({});
}

void OwnHitsPanel::show(const std::vector<Job>& jobs) {
    const OwnHits hits = own_hits(jobs);
    says_->setText(format::qt(describe(hits)));
    std::vector<RowsModel::Row> rows;
    for (const JudgedJob& judged : hits.wrong) {
        const auto job = std::find_if(jobs.begin(), jobs.end(),
                                      [&](const Job& each) { return each.ticket.number == judged.number; });
        const Topology* topology = knowledge_.find_topology(job->ticket.topology);
        const auto title = [topology](const std::string& block) {
            const Block* found = topology == nullptr ? nullptr : topology->find_block(block);
            return format::qt(found == nullptr ? block : found->title);
        };
        rows.push_back({{format::qt(judged.number),
                         tr("%1: %2").arg(format::percent(judged.said.probability), title(judged.said.block)),
                         title(judged.cured_block)},
                        RowsModel::Tone::plain});
    }
    wrong_title_->setVisible(!rows.empty());
    table_->setVisible(!rows.empty());
    wrong_->show(std::move(rows));
    draw(hits);
}

void OwnHitsPanel::draw(const OwnHits& hits) {
    const auto& c = theme::colours();
    plot_->clearPlottables();
    QCPGraph* line = plot_->addGraph();
    line->setPen(QPen(c.soft_ink, 1.5, Qt::DashLine));
    line->setData({0.0, 100.0}, {0.0, 100.0}, true);
    QCPGraph* points = plot_->addGraph();
    points->setLineStyle(QCPGraph::lsNone);
    points->setScatterStyle({QCPScatterStyle::ssDisc, c.accent, 11});
    auto* bars = new QCPErrorBars(plot_->xAxis, plot_->yAxis);
    bars->setDataPlottable(points);
    bars->setPen(QPen(c.accent, 2.0));
    QVector<double> said;
    QVector<double> right;
    QVector<double> below;
    QVector<double> above;
    for (const SaidBin& bin : hits.bins) {
        if (bin.jobs == 0)
            continue;
        const ShareBand band = share_band(static_cast<int>(std::lround(bin.right * bin.jobs)), bin.jobs);
        said << 100.0 * bin.said;
        right << 100.0 * bin.right;
        below << 100.0 * (bin.right - band.low);
        above << 100.0 * (band.high - bin.right);
    }
    points->setData(said, right, true);
    bars->setData(below, above);
    plot_->xAxis->setRange(0.0, 104.0);
    plot_->yAxis->setRange(0.0, 104.0);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

}  // namespace eh
