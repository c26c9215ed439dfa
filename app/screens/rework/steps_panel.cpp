// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/rework/steps_panel.h"

#include <QDateTime>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QScrollArea>
#include <algorithm>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/answer_table.h"
#include "app/widgets/form_parts.h"

namespace eh {
namespace {

constexpr int choice_width = 262;
constexpr int opening_width = 286;
constexpr int phase_width = 104;
constexpr int step_tick_ms = 250;

}  // namespace

StepsPanel::StepsPanel(JobSession& session, const Knowledge& knowledge, const ReworkBook& book,
                       QWidget* parent)
    : QWidget(parent),
      session_(session),
      knowledge_(knowledge),
      book_(book),
      repair_(form::choice(tr("Repair"), this)),
      facts_box_(new QWidget(this)),
      facts_column_(new QVBoxLayout(facts_box_)),
      steps_(new QTableView(this)),
      model_(new StepsModel(this)),
      about_(form::wrapped(this, tr("About this step"))),
      cautions_(form::wrapped(this, tr("Cautions of this step"))),
      progress_(new QLabel(this)),
      clock_(new QLabel(this)),
      done_(new QPushButton(tr("&Done, next   Return"), this)),
      timer_button_(new QPushButton(tr("Start the &clock"), this)),
      heat_(new QPushButton(tr("&Heat plan"), this)),
      opening_line_(new QLineEdit(this)),
      opening_table_(new QTableView(this)),
      opening_(new OpeningModel(this)),
      back_(new QPushButton(tr("Bac&k in"), this)),
      out_again_(new QPushButton(tr("&Out again"), this)),
      closing_(form::wrapped(this, tr("What is still out"))),
      photo_(new QPushButton(tr("Attach a &picture …"), this)),
      photo_strip_(form::wrapped(this, tr("Pictures"))) {
    setAcceptDrops(true);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 10, 14, 8);
    row->setSpacing(16);
    row->addWidget(makeChoice());
    row->addWidget(makeList(), 1);
    row->addWidget(form::scrolled(makeOpening()));
    tick_.setInterval(step_tick_ms);
    connect(&tick_, &QTimer::timeout, this, &StepsPanel::tick);
    connect(&session_, &JobSession::changed, this, &StepsPanel::refresh);
    connect(&session_, &JobSession::closed, this, &StepsPanel::refresh);
    refresh();
}

QWidget* StepsPanel::makeChoice() {
    auto* side = new QWidget(this);
    side->setFixedWidth(choice_width);
    repair_->addItem(tr("(choose the repair)"), QString());
    for (const RepairKind& repair : book_.repairs.repairs)
        repair_->addItem(format::qt(repair.title), format::qt(repair.id));
    facts_column_->setContentsMargins(0, 0, 0, 0);
    facts_column_->setSpacing(7);
    QScrollArea* const scroll = form::scrolled(facts_box_);
    scroll->setFocusPolicy(Qt::NoFocus);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form::title(tr("Repair"), side));
    column->addWidget(repair_);
    column->addSpacing(6);
    column->addWidget(form::title(tr("What is so here"), side));
    column->addWidget(scroll, 1);
    connect(repair_, &QComboBox::activated, this, [this] {
        begin(repair_->currentData().toString().toStdString(),
              run() == nullptr ? std::string() : run()->block);
    });
    return side;
}

QWidget* StepsPanel::makeList() {
    auto* middle = new QWidget(this);
    steps_->setModel(model_);
    dress_answer_table(*steps_, tr("Steps"));
    steps_->horizontalHeader()->hide();
    steps_->setWordWrap(true);
    steps_->horizontalHeader()->setSectionResizeMode(StepsModel::StepColumn, QHeaderView::Stretch);
    steps_->setColumnWidth(StepsModel::PhaseColumn, phase_width);
    steps_->verticalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    steps_->installEventFilter(this);
    cautions_->setProperty("role", "caution");
    progress_->setProperty("role", "soft");
    progress_->setWordWrap(true);
    clock_->setFont(theme::number_font(1.6, true));
    clock_->setAccessibleName(tr("Clock of this step"));
    auto* head = new QHBoxLayout;
    head->addWidget(progress_, 1);
    head->addWidget(heat_);
    head->addWidget(clock_);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(done_);
    buttons->addWidget(timer_button_);
    buttons->addStretch(1);
    auto* column = new QVBoxLayout(middle);
    column->setContentsMargins(0, 0, 0, 0);
    column->addLayout(head);
    column->addWidget(steps_, 1);
    column->addWidget(about_);
    column->addWidget(cautions_);
    column->addLayout(buttons);
    connect(steps_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, &StepsPanel::showStep);
    connect(model_, &QAbstractItemModel::modelReset, this, &StepsPanel::showStep);
    connect(done_, &QPushButton::clicked, this, &StepsPanel::tickStep);
    connect(timer_button_, &QPushButton::clicked, this, &StepsPanel::startTimer);
    connect(heat_, &QPushButton::clicked, this, [this] {
        if (const RepairKind* repair = run() == nullptr ? nullptr : book_.repairs.find(run()->repair))
            emit heatAsked(repair->heat_part);
    });
    return middle;
}

QWidget* StepsPanel::makeOpening() {
    auto* side = new QWidget(this);
    side->setFixedWidth(opening_width);
    opening_line_->setPlaceholderText(tr("3 screws 4.5 mm left edge   (Enter)"));
    opening_line_->setAccessibleName(tr("Something that came out"));
    opening_table_->setModel(opening_);
    dress_answer_table(*opening_table_, tr("What came out"));
    opening_table_->horizontalHeader()->setSectionResizeMode(OpeningModel::WhatColumn, QHeaderView::Stretch);
    opening_table_->setColumnWidth(OpeningModel::LengthColumn, 70);
    opening_table_->setColumnWidth(OpeningModel::BackColumn, 80);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(back_);
    buttons->addWidget(out_again_);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form::title(tr("Came out"), side));
    column->addWidget(opening_line_);
    column->addWidget(opening_table_, 1);
    column->addLayout(buttons);
    column->addWidget(closing_);
    column->addSpacing(6);
    column->addWidget(form::title(tr("Pictures"), side));
    column->addWidget(photo_strip_);
    column->addWidget(photo_);
    connect(opening_line_, &QLineEdit::returnPressed, this, &StepsPanel::addOpening);
    connect(back_, &QPushButton::clicked, this, [this] { readBack(+1); });
    connect(out_again_, &QPushButton::clicked, this, [this] { readBack(-1); });
    connect(photo_, &QPushButton::clicked, this, &StepsPanel::choosePhoto);
    return side;
}

const RepairRun* StepsPanel::run() const {
    return session_.hasJob() && !session_.job().rework.runs.empty() ? &session_.job().rework.runs.back()
                                                                    : nullptr;
}

QCheckBox* StepsPanel::factBox(const std::string& id) const {
    const auto found = facts_.find(id);
    return found == facts_.end() ? nullptr : found->second;
}

std::set<std::string> StepsPanel::usualFacts(const RepairKind& repair) const {
    std::set<std::string> facts;
    for (const StepFact& fact : facts_that_matter(book_.repairs, repair))
        if (fact.usual)
            facts.insert(fact.id);
    if (!session_.hasJob())
        return facts;
    // What the intake knows already need not be asked again.
    const auto& known = session_.job().ticket.facts;
    if (std::find(known.begin(), known.end(), "liquid") != known.end())
        facts.insert("liquid");
    return facts;
}

void StepsPanel::begin(const std::string& repair_id, const std::string& block) {
    const RepairKind* repair = book_.repairs.find(repair_id);
    if (repair == nullptr || !session_.hasJob() ||
        (run() != nullptr && run()->repair == repair_id && run()->block == block))
        return;
    const std::set<std::string> facts = usualFacts(*repair);
    session_.edit(tr("Steps: %1").arg(format::qt(repair->title)), [&](Job& job) {
        // A list that nobody has begun makes room for the one that is meant.
        if (!job.rework.runs.empty() && job.rework.runs.back().done.empty())
            job.rework.runs.pop_back();
        job.rework.runs.push_back({repair_id, block, {facts.begin(), facts.end()}, {}});
    });
}

void StepsPanel::propose(const std::string& block, Work remedy) {
    const Topology* topology =
        session_.hasJob() ? knowledge_.find_topology(session_.job().ticket.topology) : nullptr;
    const Block* found = topology == nullptr ? nullptr : topology->find_block(block);
    const RepairKind* repair = found == nullptr ? nullptr : book_.repairs.usual_for(found->kind, remedy);
    if (repair != nullptr)
        begin(repair->id, block);
}

void StepsPanel::editRun(const QString& text, const std::function<void(RepairRun&)>& change) {
    if (run() != nullptr)
        session_.edit(text, [&](Job& job) { change(job.rework.runs.back()); });
}

void StepsPanel::refresh() {
    setEnabled(session_.hasJob());
    const RepairRun* now = run();
    const RepairKind* repair = now == nullptr ? nullptr : book_.repairs.find(now->repair);
    repair_->setCurrentIndex(repair == nullptr ? 0 : repair_->findData(format::qt(repair->id)));
    const int row = steps_->currentIndex().row();
    if (repair == nullptr) {
        showFacts(RepairKind{}, {});
        model_->show({}, {});
        progress_->setText(tr("Choose the repair at the left; a due repair on the bench page chooses it."));
    } else {
        const std::set<std::string> facts(now->facts.begin(), now->facts.end());
        std::set<std::string> done;
        for (const StepDone& step : now->done)
            done.insert(step.step);
        showFacts(*repair, facts);
        auto steps = make_steps(book_.repairs, *repair, facts);
        const auto ticked = std::count_if(steps.begin(), steps.end(),
                                          [&](const RepairStep& step) { return done.count(step.id) != 0; });
        progress_->setText(tr("%1 of %2 steps done").arg(ticked).arg(steps.size()));
        model_->show(std::move(steps), std::move(done));
        const int next = model_->nextRow();
        steps_->selectRow(row >= 0 && row < model_->rowCount() && !model_->isDone(row) ? row
                                                                                       : std::max(0, next));
    }
    showOpening();
    showPhotos();
}

void StepsPanel::showFacts(const RepairKind& repair, const std::set<std::string>& facts) {
    if (repair.id != facts_of_) {
        facts_of_ = repair.id;
        for (const auto& [id, box] : facts_)
            delete box;
        facts_.clear();
        while (QLayoutItem* item = facts_column_->takeAt(0))
            delete item;
        for (const StepFact& fact :
             repair.id.empty() ? std::vector<StepFact>{} : facts_that_matter(book_.repairs, repair)) {
            auto* box = new QCheckBox(format::qt(fact.title), facts_box_);
            box->setAccessibleName(format::qt(fact.title));
            facts_column_->addWidget(box);
            facts_[fact.id] = box;
            connect(box, &QCheckBox::toggled, this, [this, id = fact.id](bool on) {
                editRun(tr("What is so here"), [&](RepairRun& changed) {
                    auto& list = changed.facts;
                    list.erase(std::remove(list.begin(), list.end(), id), list.end());
                    if (on)
                        list.push_back(id);
                });
            });
        }
        facts_column_->addStretch(1);
    }
    for (const auto& [id, box] : facts_) {
        const QSignalBlocker quiet(box);
        box->setChecked(facts.count(id) != 0);
    }
}

void StepsPanel::showStep() {
    const int row = steps_->currentIndex().row();
    const RepairStep* step = model_->step(row);
    done_->setEnabled(step != nullptr);
    done_->setText(model_->isDone(row) ? tr("Not &done after all   Return") : tr("&Done, next   Return"));
    const bool timed = step != nullptr && step->needs == StepNeeds::timer;
    timer_button_->setVisible(timed);
    clock_->setVisible(timed || running_.isValid());
    heat_->setVisible(step != nullptr && step->needs == StepNeeds::heat_timer);
    form::show_html(about_, step == nullptr ? QString()
                                            : QStringLiteral("<b>%1</b> %2")
                                                  .arg(format::qt(step->says).toHtmlEscaped(),
                                                       format::qt(step->why).toHtmlEscaped()));
    QStringList cautions;
    if (step != nullptr)
        for (const std::string& id : step->cautions)
            cautions << format::qt(book_.repairs.find_caution(id)->says).toHtmlEscaped();
    // The bench knows better than the list whether the battery is off.
    if (step != nullptr && session_.job().bench.battery_in && step->phase > StepPhase::open &&
        step->phase < StepPhase::close)
        cautions.prepend(tr("The bench says the battery is in: disconnect it first."));
    form::show_html(cautions_, cautions.join(QStringLiteral("<br/>")));
    cautions_->setVisible(!cautions.isEmpty());
    if (timed && !running_.isValid())
        clock_->setText(format::duration(step->timer_s));
}

std::string StepsPanel::stillOut(StepNeeds needs) const {
    if (needs != StepNeeds::closing_list && needs != StepNeeds::closing_connectors)
        return {};
    std::vector<OpeningItem> items = session_.job().rework.opening;
    if (needs == StepNeeds::closing_connectors)
        items.erase(
            std::remove_if(items.begin(), items.end(),
                           [](const OpeningItem& item) { return item.kind != OpeningKind::connector; }),
            items.end());
    const ClosingCheck check = check_closing(items);
    return check.missing.empty() ? std::string() : check.missing.front();
}

void StepsPanel::tickStep() {
    const int row = steps_->currentIndex().row();
    const RepairStep* step = model_->step(row);
    if (step == nullptr)
        return;
    const std::string id = step->id;
    const bool was_done = model_->isDone(row);
    const bool timed = running_.isValid() && timed_step_ == id;
    const double seconds = timed ? static_cast<double>(running_.elapsed()) / 1000.0 : 0.0;
    if (timed) {
        running_.invalidate();
        tick_.stop();
    }
    const std::string out = was_done ? std::string() : stillOut(step->needs);
    if (!out.empty()) {
        emit said(tr("Not yet: %1 still out.").arg(format::qt(out)));
        return;
    }
    setDone(id, !was_done, seconds);
}

void StepsPanel::setDone(const std::string& id, bool now_done, double seconds) {
    editRun(now_done ? tr("Step done") : tr("Step not done"), [&](RepairRun& changed) {
        auto& done = changed.done;
        done.erase(std::remove_if(done.begin(), done.end(), [&](const StepDone& d) { return d.step == id; }),
                   done.end());
        if (now_done)
            done.push_back({id, QDateTime::currentMSecsSinceEpoch(), seconds});
    });
    const int next = model_->nextRow();
    if (now_done && next >= 0) {
        steps_->selectRow(next);
        steps_->scrollTo(model_->index(next, StepsModel::StepColumn), QAbstractItemView::PositionAtCenter);
    }
}

void StepsPanel::tickHeat(double seconds) {
    const int row = steps_->currentIndex().row();
    const RepairStep* step = model_->step(row);
    if (step != nullptr && step->needs == StepNeeds::heat_timer && !model_->isDone(row))
        setDone(step->id, true, seconds);
}

void StepsPanel::startTimer() {
    const RepairStep* step = model_->step(steps_->currentIndex().row());
    if (step == nullptr)
        return;
    timed_step_ = step->id;
    running_.start();
    tick_.start();
    tick();
}

void StepsPanel::tick() {
    double wanted = 0.0;
    for (int row = 0; row < model_->rowCount(); ++row)
        if (model_->step(row)->id == timed_step_)
            wanted = model_->step(row)->timer_s;
    const double left = wanted - static_cast<double>(running_.elapsed()) / 1000.0;
    clock_->setText(left > 0.0 ? tr("%1 left").arg(format::duration(left)) : tr("time is up"));
    if (left <= 0.0 && tick_.isActive()) {
        tick_.stop();
        emit said(tr("The time of this step is up."));
    }
}

void StepsPanel::addOpening() {
    const QString line = opening_line_->text().trimmed();
    if (line.isEmpty() || !session_.hasJob())
        return;
    OpeningItem item = parse_opening_line(line.toStdString());
    session_.edit(tr("Came out: %1").arg(line), [&](Job& job) {
        item.id = fresh_id(job, "o");
        job.rework.opening.push_back(item);
    });
    opening_line_->clear();
}

void StepsPanel::readBack(int pieces) {
    const int row = opening_table_->currentIndex().isValid() ? opening_table_->currentIndex().row() : 0;
    const OpeningItem* item = opening_->item(row);
    if (item == nullptr)
        return;
    const std::string id = item->id;
    session_.edit(pieces > 0 ? tr("Back in") : tr("Out again"), [&](Job& job) {
        for (OpeningItem& each : job.rework.opening)
            if (each.id == id)
                each.back = pieces > 0 ? each.count : 0;
    });
    // On to the next that is out.
    int next = row;
    while (pieces > 0 && next + 1 < opening_->rowCount() &&
           opening_->item(next)->back == opening_->item(next)->count)
        ++next;
    opening_table_->selectRow(next);
}

void StepsPanel::showOpening() {
    const std::vector<OpeningItem> items =
        session_.hasJob() ? session_.job().rework.opening : std::vector<OpeningItem>{};
    const int row = opening_table_->currentIndex().row();
    const ClosingCheck check = check_closing(items);
    opening_->show(items);
    if (row >= 0 && row < opening_->rowCount())
        opening_table_->selectRow(row);
    back_->setEnabled(!items.empty());
    out_again_->setEnabled(!items.empty());
    QStringList lines;
    if (items.empty())
        lines << tr("Type each thing as it comes out; it is read back when the case is closed.");
    else if (check.missing.empty())
        lines << tr("All %1 pieces are back.").arg(check.out);
    else
        lines << tr("%1 of %2 pieces are still out.").arg(check.out - check.back).arg(check.out);
    for (const std::string& mind : check.mind)
        lines << format::qt(mind);
    form::show_html(closing_, form::paragraphs(lines));
}

bool StepsPanel::eventFilter(QObject* watched, QEvent* event) {
    if (watched == steps_ && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Return || key == Qt::Key_Enter || key == Qt::Key_Space) {
            tickStep();
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

}  // namespace eh
