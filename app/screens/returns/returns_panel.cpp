// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/returns/returns_panel.h"

#include <qcustomplot.h>

#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/answer_table.h"
#include "app/widgets/form_parts.h"

namespace eh {
namespace {

constexpr double quarter_days = 90.0;
constexpr std::size_t shown_work = 6;

// The band at that day, from the last step before it.
QString band_at(const std::vector<SurvivalStep>& curve, double days) {
    const SurvivalStep* last = nullptr;
    for (const SurvivalStep& step : curve)
        if (step.days <= days)
            last = &step;
    return last == nullptr ? ReturnsPanel::tr("100 %")
                           : ReturnsPanel::tr("%1 (%2 to %3)")
                                 .arg(format::percent(last->holds), format::percent(last->low),
                                      format::percent(last->high));
}

}  // namespace

ReturnsPanel::ReturnsPanel(const Knowledge& knowledge, const ReworkBook& rework, QWidget* parent)
    : QWidget(parent),
      knowledge_(knowledge),
      rework_(rework),
      grouping_(form::choice(tr("Group by"), this)),
      table_(new QTableView(this)),
      rows_(new RowsModel({tr("Group"), tr("Cases"), tr("Came back"), tr("Holds 90 days")}, this)),
      comparison_(form::wrapped(this, tr("Comparison"))),
      plot_(new QCustomPlot(this)),
      minutes_(form::wrapped(this, tr("Minutes of work"))) {
    for (const auto& [name, grouping] : {std::pair{tr("kind of repair"), ReturnGrouping::work},
                                         {tr("school"), ReturnGrouping::school},
                                         {tr("solder"), ReturnGrouping::solder},
                                         {tr("where the part came from"), ReturnGrouping::origin},
                                         {tr("who did it"), ReturnGrouping::technician}})
        grouping_->addItem(name, static_cast<int>(grouping));
    table_->setModel(rows_);
    dress_answer_table(*table_, tr("Groups of repairs"));
    table_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    table_->setColumnWidth(1, 60);
    table_->setColumnWidth(2, 92);
    table_->setColumnWidth(3, 180);
    form::dress(*plot_, tr("days since it left"), tr("still hold, %"));
    plot_->setMinimumHeight(240);
    plot_->legend->setFont(theme::text_font(0.8));
    plot_->legend->setBorderPen(Qt::NoPen);
    plot_->axisRect()->insetLayout()->setInsetAlignment(0, Qt::AlignBottom | Qt::AlignLeft);
    auto* choice = new QHBoxLayout;
    choice->addWidget(new QLabel(tr("Group by"), this));
    choice->addWidget(grouping_, 1);
    auto* left = new QVBoxLayout;
    left->addLayout(choice);
    left->addWidget(table_, 1);
    left->addWidget(form::title(tr("Minutes that work took"), this));
    left->addWidget(minutes_);
    auto* right = new QVBoxLayout;
    right->addWidget(plot_, 1);
    right->addWidget(comparison_);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 10, 14, 8);
    row->setSpacing(16);
    row->addLayout(left, 1);
    row->addLayout(right, 1);
    connect(grouping_, &QComboBox::currentIndexChanged, this, &ReturnsPanel::regroup);
    connect(table_->selectionModel(), &QItemSelectionModel::selectionChanged, this, &ReturnsPanel::compare);
    regroup();
}

void ReturnsPanel::show(const std::vector<Job>& jobs, std::int64_t now_ms) {
    repairs_ = handed_repairs(knowledge_, jobs, now_ms);
    QStringList lines;
    const auto add = [&lines](const std::vector<WorkMinutes>& list, const auto& name_of) {
        for (std::size_t i = 0; i < list.size() && i < shown_work; ++i) {
            const WorkMinutes& work = list[i];
            lines << (work.count == 1
                          ? tr("%1: %2, once").arg(name_of(work.work), format::minutes(work.median_minutes))
                          : tr("%1: %2 in the middle of %3, longest %4")
                                .arg(name_of(work.work), format::minutes(work.median_minutes))
                                .arg(work.count)
                                .arg(format::minutes(work.longest_minutes)));
        }
    };
    add(minutes_of_work(knowledge_, jobs), [](const std::string& work) { return format::qt(work); });
    add(minutes_of_steps(jobs), [this](const std::string& id) {
        const RepairStep* step = rework_.repairs.find_step(id);
        return step == nullptr ? format::qt(id) : format::qt(step->says);
    });
    form::show_html(minutes_, lines.isEmpty()
                                  ? tr("None yet: write the minutes down on the repair page, or let the "
                                       "timers of the step lists run.")
                                  : form::paragraphs(lines));
    regroup();
}

void ReturnsPanel::regroup() {
    groups_ = group_returns(repairs_, static_cast<ReturnGrouping>(grouping_->currentData().toInt()));
    // Names that people read.
    for (ReturnGroup& group : groups_) {
        if (const Alloy* alloy = rework_.alloys.find(group.name))
            group.name = alloy->title;
        std::replace(group.name.begin(), group.name.end(), '_', ' ');
    }
    std::vector<RowsModel::Row> rows;
    for (const ReturnGroup& group : groups_) {
        const auto curve = kaplan_meier(group.cases);
        rows.push_back({{group.name.empty() ? tr("(not said)") : format::qt(group.name),
                         QString::number(group.cases.size()), QString::number(group.returns()),
                         too_few(group.cases) ? tr("too few to say") : band_at(*curve, quarter_days)},
                        too_few(group.cases) ? RowsModel::Tone::soft : RowsModel::Tone::plain});
    }
    rows_->show(std::move(rows));
    compare();
}

void ReturnsPanel::compare() {
    std::vector<int> shown;
    for (const QModelIndex& index : table_->selectionModel()->selectedRows())
        shown.push_back(index.row());
    // Unasked, the two largest.
    for (int row = 0;
         table_->selectionModel()->selectedRows().isEmpty() && row < 2 && row < rows_->rowCount(); ++row)
        shown.push_back(row);
    if (groups_.empty())
        comparison_->setText(
            tr("Nothing has left the shop yet. When a machine comes back, write the number of its earlier "
               "job at intake: how long repairs hold is counted from that."));
    else if (shown.size() == 2)
        comparison_->setText(format::qt(compare_returns(groups_[static_cast<std::size_t>(shown[0])],
                                                        groups_[static_cast<std::size_t>(shown[1])])));
    else
        comparison_->setText(tr("Pick two groups (Ctrl+click) to compare them."));
    draw(shown);
}

void ReturnsPanel::draw(const std::vector<int>& shown) {
    const auto& c = theme::colours();
    plot_->clearGraphs();
    const QColor inks[] = {c.accent, c.suspicion, c.bad, c.soft_ink};
    const Qt::PenStyle styles[] = {Qt::SolidLine, Qt::DashLine, Qt::DotLine, Qt::DashDotLine};
    double last = 30.0;
    for (std::size_t k = 0; k < shown.size() && k < 4; ++k) {
        const ReturnGroup& group = groups_[static_cast<std::size_t>(shown[k])];
        const auto curve = kaplan_meier(group.cases);
        if (!curve)
            continue;
        double end = 0.0;
        for (const SurvivalCase& each : group.cases)
            end = std::max(end, each.days);
        last = std::max(last, end);
        QVector<double> days{0.0};
        QVector<double> holds{100.0};
        QVector<double> low{100.0};
        QVector<double> high{100.0};
        for (const SurvivalStep& step : *curve) {
            days << step.days;
            holds << 100.0 * step.holds;
            low << 100.0 * step.low;
            high << 100.0 * step.high;
        }
        days << end;
        holds << holds.back();
        low << low.back();
        high << high.back();
        const auto add = [&](const QVector<double>& values, double width, int alpha) {
            QCPGraph* graph = plot_->addGraph();
            graph->setLineStyle(QCPGraph::lsStepLeft);
            QColor ink = inks[k];
            ink.setAlpha(alpha);
            graph->setPen(QPen(ink, width, styles[k]));
            graph->setData(days, values, true);
            return graph;
        };
        add(low, 1.0, 130)->removeFromLegend();
        add(high, 1.0, 130)->removeFromLegend();
        add(holds, 3.0, 255)->setName(group.name.empty() ? tr("(not said)") : format::qt(group.name));
    }
    plot_->legend->setVisible(!shown.empty());
    plot_->xAxis->setRange(0.0, last * 1.02);
    plot_->yAxis->setRange(0.0, 105.0);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

}  // namespace eh
