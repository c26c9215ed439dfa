// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/bench/hour_dialog.h"

#include <QClipboard>
#include <QDialogButtonBox>
#include <QGuiApplication>
#include <QHeaderView>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QShortcut>
#include <QVBoxLayout>

#include "app/format/act_words.h"
#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"

namespace eh {
namespace {

enum Column { StepColumn, ChanceColumn, BeginsColumn, TakesColumn };

QString end_text(HourEnd end) {
    switch (end) {
        case HourEnd::goes_on:
        case HourEnd::not_followed:
            break;
        case HourEnd::hour_over:
            return HourDialog::tr("; the hour is over");
        case HourEnd::nothing_left:
            return HourDialog::tr("; nothing is left to read");
        case HourEnd::all_put_right:
            return HourDialog::tr("; time to prove it");
    }
    return {};
}

QString fork_text(const HourFork& fork, const MachinePlan& plan) {
    if (fork.shows.empty())
        return HourDialog::tr("Anything else: then plan anew");
    QStringList shows;
    for (const std::string& one : fork.shows)
        shows << format::qt(one);
    return HourDialog::tr("%1 → %2 %3%4")
        .arg(shows.join(HourDialog::tr(", or ")), format::leaderText(fork.kind, fork.block, plan),
             format::percent(fork.leading_probability), end_text(fork.end));
}

QString begins_text(double minutes) {
    return minutes > 0.0 ? HourDialog::tr("after %1").arg(format::minutes(minutes)) : HourDialog::tr("now");
}

void align_numbers(QTreeWidgetItem* row) {
    for (const int column : {ChanceColumn, BeginsColumn, TakesColumn})
        row->setTextAlignment(column, Qt::AlignRight | Qt::AlignVCenter);
}

void add_step(QTreeWidgetItem* above, const HourStep& step, const MachinePlan& plan);

void add_fork(QTreeWidgetItem* above, const HourFork& fork, const MachinePlan& plan) {
    auto* row = new QTreeWidgetItem(above, {fork_text(fork, plan), format::percent(fork.probability)});
    row->setForeground(StepColumn, theme::colours().soft_ink);
    align_numbers(row);
    row->setToolTip(StepColumn, row->text(StepColumn));
    for (const HourStep& next : fork.then)
        add_step(row, next, plan);
}

void add_step(QTreeWidgetItem* above, const HourStep& step, const MachinePlan& plan) {
    auto* row =
        new QTreeWidgetItem(above, {format::actText(step.act, plan), QString(),
                                    begins_text(step.begins_minutes), format::minutes(step.act.minutes)});
    align_numbers(row);
    row->setFont(StepColumn, theme::text_font(1.0, true));
    row->setToolTip(StepColumn, row->text(StepColumn));
    if (step.act.repair)
        row->setForeground(StepColumn, theme::colours().suspicion);
    for (const HourFork& fork : step.forks)
        add_fork(row, fork, plan);
}

void append_text(const QTreeWidgetItem& row, int depth, QString& text) {
    QStringList cells;
    for (int column = 0; column < row.columnCount(); ++column) {
        if (!row.text(column).isEmpty())
            cells << row.text(column);
    }
    text +=
        QString(depth, QLatin1Char(' ')).repeated(2) + cells.join(QStringLiteral(" · ")) + QLatin1Char('\n');
    for (int child = 0; child < row.childCount(); ++child)
        append_text(*row.child(child), depth + 1, text);
}

}  // namespace

HourDialog::HourDialog(JobSession& session, DiagnosisService& diagnosis, QWidget* parent)
    : QDialog(parent),
      hours_(session, diagnosis),
      says_(form::wrapped(this, tr("What this plan is"))),
      tree_(new QTreeWidget(this)),
      busy_(form::share_bar(tr("Being worked out"), this)),
      begin_(new QPushButton(tr("&Begin with the first"), this)) {
    setObjectName("hour");
    setWindowTitle(tr("Plan of the next hour"));
    resize(1120, 680);
    layOut();
    connect(&hours_, &HourService::progressed, this,
            [this](double share) { form::show_share(*busy_, share); });
    connect(&hours_, &HourService::planned, this, &HourDialog::showHour);
    connect(&diagnosis, &DiagnosisService::finished, this, [this] {
        if (isVisible())
            ask();
    });
    connect(&session, &JobSession::closed, this, &QDialog::reject);
    connect(begin_, &QPushButton::clicked, this, [this] {
        if (!first_)
            return;
        const NextAct act = *first_;
        accept();
        emit begun(act);
    });
}

void HourDialog::layOut() {
    tree_->setColumnCount(4);
    tree_->setHeaderLabels(
        {tr("What is done, and what it may show"), tr("Chance"), tr("Begins"), tr("Takes")});
    tree_->setAccessibleName(tr("Plan of the next hour"));
    tree_->setUniformRowHeights(true);
    tree_->setRootIsDecorated(false);
    tree_->setIndentation(22);
    for (const int column : {ChanceColumn, BeginsColumn, TakesColumn})  // as their numbers stand
        tree_->headerItem()->setTextAlignment(column, Qt::AlignRight | Qt::AlignVCenter);
    tree_->header()->setStretchLastSection(false);
    tree_->header()->setSectionResizeMode(QHeaderView::ResizeToContents);
    tree_->header()->setSectionResizeMode(StepColumn, QHeaderView::Stretch);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
    buttons->addButton(begin_, QDialogButtonBox::AcceptRole);
    auto* copy = buttons->addButton(tr("&Copy as text"), QDialogButtonBox::ActionRole);
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(16, 14, 16, 14);
    page->setSpacing(10);
    page->addWidget(says_);
    page->addWidget(tree_, 1);
    page->addWidget(busy_);
    page->addWidget(buttons);
    const auto copy_text = [this] { QGuiApplication::clipboard()->setText(text()); };
    connect(copy, &QPushButton::clicked, this, copy_text);
    connect(new QShortcut(QKeySequence::Copy, this), &QShortcut::activated, this, copy_text);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
}

void HourDialog::present() {
    ask();
    show();
    raise();
}

void HourDialog::done(int result) {
    hours_.cancel();
    QDialog::done(result);
}

void HourDialog::ask() {
    // What was planned for other readings, or another job, goes at once.
    tree_->clear();
    first_.reset();
    const bool asked = hours_.ask();
    busy_->setVisible(asked);
    busy_->setValue(0);
    begin_->setEnabled(false);
    form::show_plain(says_, asked ? tr("Being worked out: each way is followed as far as it is likely …")
                                  : tr("Nothing yet: choose the kind of machine at intake."));
}

void HourDialog::showHour(const PlannedHour& hour) {
    busy_->hide();
    tree_->clear();
    first_.reset();
    const MachinePlan& plan = hour.engine->plan;
    for (const HourStep& step : hour.plan.first) {
        add_step(tree_->invisibleRootItem(), step, plan);
        first_ = step.act;
    }
    tree_->expandAll();
    begin_->setEnabled(first_.has_value());
    if (first_)
        form::show_plain(says_,
                         tr("What would be done one after another, and where what is seen forks the way. "
                            "Ways that are hardly likely are not followed; each reading makes the plan "
                            "anew."));
    else
        form::show_plain(says_, hour.plan.end == HourEnd::all_put_right
                                    ? tr("All that was suspected has been put right: time to prove it.")
                                    : tr("Nothing is left that would tell more."));
}

QString HourDialog::text() const {
    QString text;
    for (int row = 0; row < tree_->topLevelItemCount(); ++row)
        append_text(*tree_->topLevelItem(row), 0, text);
    return text;
}

}  // namespace eh
