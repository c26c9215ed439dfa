// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/bench/bench_page.h"

#include <QDateTime>
#include <QHBoxLayout>
#include <QStyle>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/screens/bench/live_readout.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr int side_width = 400;
constexpr int roll_height = 158;

QLabel* heading(const QString& text, QWidget* parent) {
    auto* label = new QLabel(text, parent);
    label->setFont(theme::text_font(0.95, true));
    return label;
}

QToolButton* quiet_button(const QString& text, const QString& tip, QWidget* parent) {
    auto* button = new QToolButton(parent);
    button->setText(text);
    button->setToolTip(tip);
    button->setAutoRaise(true);
    return button;
}

// The first takes what room there is.
QHBoxLayout* side_by_side(QWidget* wide, QWidget* beside) {
    auto* row = new QHBoxLayout;
    row->addWidget(wide, 1);
    row->addWidget(beside);
    return row;
}

// Work that is done for a reading's sake is work all the same.
Act record_of(const Handling& work, std::string id, std::int64_t done_ms) {
    Act record;
    record.id = std::move(id);
    record.kind = work.work;
    record.block = work.block;
    record.done_ms = done_ms;
    return record;
}

}  // namespace

BenchPage::BenchPage(JobSession& session, DiagnosisService& diagnosis, MeterRecording& recording,
                     MeterFeed& feed, TraceWatch& watch, const MeterCapture& meter_capture,
                     const Knowledge& knowledge, QWidget* parent)
    : QWidget(parent),
      session_(session),
      diagnosis_(diagnosis),
      feed_(feed),
      meter_capture_(meter_capture),
      knowledge_(knowledge),
      path_(new ChargePathView(this)),
      suspects_(new SuspectsView(this)),
      next_(new NextActsView(this)),
      quick_line_(new QuickLineEdit(session, knowledge, this)),
      roll_(new RollView(recording, feed, watch, this)),
      progress_(form::share_bar(tr("Predictions being computed"), this)),
      next_heading_(heading(tr("Do next"), this)),
      question_(new QuestionBar(session, this)),
      offers_(new OffersView(session, diagnosis, this)),
      dangers_say_(form::wrapped(this, tr("What keeps power away"))),
      out_of_reach_(new QToolButton(this)),
      kinds_say_(form::wrapped(this, tr("How this machine may be built"))) {
    setFocusPolicy(Qt::StrongFocus);
    QWidget* side_box = makeSide();
    auto* upper = new QHBoxLayout;
    upper->addWidget(path_, 1);
    upper->addWidget(side_box);
    auto* lower = new QHBoxLayout;
    lower->addWidget(new LiveReadout(recording, feed, this));
    lower->addWidget(roll_, 1);
    auto* lower_box = new QWidget(this);
    lower_box->setLayout(lower);
    lower_box->setFixedHeight(roll_height);
    lower->setContentsMargins(0, 0, 0, 0);
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(10, 8, 10, 6);
    page->setSpacing(6);
    page->addLayout(upper, 1);
    signs_ = new SignsButton(this);
    page->addLayout(side_by_side(quick_line_, signs_));
    page->addWidget(lower_box);

    connect(signs_, &SignsButton::seen, this, &BenchPage::takeSeen);
    connect(signs_, &SignsButton::typesPage, this, [this] { quick_line_->start(QStringLiteral("says ")); });
    connect(quick_line_, &QuickLineEdit::entered, this, &BenchPage::takeEntry);
    connect(quick_line_, &QuickLineEdit::warned, this, &BenchPage::warned);
    connect(quick_line_, &QuickLineEdit::left, this, [this] { setFocus(); });
    connect(next_, &NextActsView::picked, this, &BenchPage::begin);
    connect(offers_, &OffersView::due, this, &BenchPage::begin);
    connect(offers_, &OffersView::said, this, &BenchPage::said);
    setUpAroundNextActs();
    connect(path_, &ChargePathView::partPicked, this, [this](const std::string& block) {
        const Answer& answer = diagnosis_.answer();
        if (!suspects_->explainPart(answer, block) && answer.engine != nullptr)
            emit said(tr("The catalogue knows no fault of %1.")
                          .arg(format::blockTitle(answer.engine->plan, block)));
    });
    connect(suspects_, &SuspectsView::partChosen, path_, &ChargePathView::select);
    connect(&diagnosis_, &DiagnosisService::answered, this, &BenchPage::showAnswer);
    connect(&diagnosis_, &DiagnosisService::progressed, this, [this](double share) {
        progress_->show();
        form::show_share(*progress_, share);
    });
    connect(&diagnosis_, &DiagnosisService::finished, progress_, &QWidget::hide);
    connect(&diagnosis_, &DiagnosisService::refused, this, &BenchPage::clearAnswer);
    connect(&session_, &JobSession::changed, this, &BenchPage::noteBenchChange);
    connect(&session_, &JobSession::opened, this, [this] {
        path_->select({});
        clearAnswer();
    });
}

// What stands above and below the list of acts.
void BenchPage::setUpAroundNextActs() {
    dangers_say_->setObjectName("dangers");
    dangers_say_->setProperty("role", "caution");
    dangers_say_->hide();
    out_of_reach_->setObjectName("out_of_reach");
    out_of_reach_->setAutoRaise(true);
    out_of_reach_->hide();
    connect(next_, &NextActsView::outOfReach, this, &BenchPage::giveUp);
    connect(out_of_reach_, &QToolButton::clicked, this, [this] {
        session_.edit(tr("Propose all nets again"), [](Job& job) { job.out_of_reach.clear(); });
    });
    for (const auto change : {&JobSession::opened, &JobSession::changed, &JobSession::closed})
        connect(&session_, change, this, &BenchPage::showOutOfReach);
}

QWidget* BenchPage::makeSide() {
    auto* side = new QVBoxLayout;
    side->setSpacing(4);
    auto* design = quiet_button(
        tr("Its desi&gn …"), tr("What is known of how this machine is made, and since which reading"), this);
    side->addLayout(side_by_side(heading(tr("Suspects"), this), design));
    kinds_say_->hide();
    side->addWidget(kinds_say_);
    side->addWidget(suspects_, 8);
    side->addWidget(progress_);
    auto* hour =
        quiet_button(tr("Plan of the &hour …"),
                     tr("What would be done in the next hour, and where what is seen forks the way"), this);
    side->addLayout(side_by_side(next_heading_, hour));
    side->addWidget(question_);
    side->addWidget(offers_);
    side->addWidget(dangers_say_);
    side->addWidget(next_, 12);
    side->addWidget(out_of_reach_);
    auto* side_box = new QWidget(this);
    side_box->setLayout(side);
    side_box->setFixedWidth(side_width);
    side->setContentsMargins(0, 0, 0, 0);
    connect(design, &QToolButton::clicked, this, &BenchPage::designAsked);
    connect(hour, &QToolButton::clicked, this, &BenchPage::hourAsked);
    return side_box;
}

void BenchPage::clearAnswer() {
    path_->clear();
    path_->setUnsure({});
    kinds_say_->hide();
    dangers_say_->hide();
    suspects_->clear();
    next_->clear();
    question_->show({});
    offers_->clear();
    progress_->hide();
}

void BenchPage::noteBenchChange() {
    if (session_.hasJob() && electrical_part(session_.job().bench) != electrical_part(last_bench_)) {
        last_bench_ = session_.job().bench;
        emit warned({});
    }
}

void BenchPage::showAnswer() {
    if (!session_.hasJob())
        return;
    signs_->showMachine(knowledge_, knowledge_.find_topology(session_.job().ticket.topology));
    const Answer& answer = diagnosis_.answer();
    if (answer.engine == nullptr) {
        clearAnswer();
        return;
    }
    path_->show(answer, session_.job().bench);
    suspects_->show(answer);
    next_->show(answer);
    question_->show(answer.next.question);
    offers_->refresh();
    showDangers(answer);
    next_heading_->setText(answer.next.all_put_right ? tr("Put right: show it, then prove it")
                           : answer.next_complete    ? tr("Do next")
                                                     : tr("Do next (still weighing)"));
}

void BenchPage::showDangers(const Answer& answer) {
    QStringList lines;
    for (const DangerFound& found : answer.next.dangers) {
        const Topology& topology = answer.engine->plan.topology();
        const Port* port = topology.find_port(found.port);
        const QString where = port != nullptr ? tr("%1: plug nothing in.").arg(format::qt(port->title))
                              : found.danger->keeps_power_from == KeepsPowerFrom::source
                                  ? tr("Not the customer's charger or lead.")
                                  : tr("No power.");
        lines << where + QLatin1Char(' ') + format::qt(found.danger->reason) + QLatin1Char(' ') +
                     format::qt(found.danger->instead);
    }
    lines.removeDuplicates();
    form::show_plain(dangers_say_, lines.join(QLatin1Char('\n')));
    dangers_say_->setVisible(!lines.isEmpty());
}

void BenchPage::giveUp(const std::string& net) {
    const Topology* topology =
        session_.hasJob() ? knowledge_.find_topology(session_.job().ticket.topology) : nullptr;
    const Net* known = topology == nullptr ? nullptr : topology->find_net(net);
    if (known == nullptr)
        return;
    session_.edit(tr("Net out of reach"), [&](Job& job) {
        if (std::find(job.out_of_reach.begin(), job.out_of_reach.end(), net) == job.out_of_reach.end())
            job.out_of_reach.push_back(net);
    });
    emit said(tr("%1 is proposed no more.").arg(format::qt(known->title)));
}

void BenchPage::showOutOfReach() {
    const std::size_t count = session_.hasJob() ? session_.job().out_of_reach.size() : 0;
    out_of_reach_->setText(count == 1 ? tr("One net is out of reach: propose it again")
                                      : tr("%1 nets are out of reach: propose them again").arg(count));
    out_of_reach_->setVisible(count > 0);
}

void BenchPage::showKinds(const KnownDesign& design) {
    if (!session_.hasJob())
        return;
    const Ticket& ticket = session_.job().ticket;
    path_->setUnsure(design.unsure_parts);
    const auto title = [this](const std::string& id) {
        const Topology* topology = knowledge_.find_topology(id);
        return format::qt(topology == nullptr ? id : topology->title);
    };
    QString says;
    bool speaks_against = false;
    if (!ticket.kind_seen && !design.architectures.empty()) {
        const ArchitectureShare& likeliest = design.architectures.front();
        says = tr("Nobody has looked inside. Likeliest, %1: %2.")
                   .arg(format::percent(likeliest.now), title(likeliest.topology));
        if (likeliest.topology != ticket.topology)
            says += tr(" Drawn is: %1.").arg(title(ticket.topology));
        says += tr(" Dotted parts are not in all that it may be.");
    } else if (const auto* better = contradicting(design.architectures, ticket.topology)) {
        speaks_against = true;
        says = tr("The readings speak against the kind of machine that the ticket names. %1 likely: %2. Look "
                  "inside, or see “Its design”.")
                   .arg(format::percent(better->now), title(better->topology));
    }
    kinds_say_->setProperty("role", speaks_against ? "caution" : "soft");
    kinds_say_->style()->unpolish(kinds_say_);
    kinds_say_->style()->polish(kinds_say_);
    form::show_plain(kinds_say_, says);
    kinds_say_->setVisible(!says.isEmpty());
}

void BenchPage::capture() {
    if (!session_.hasJob() || knowledge_.find_topology(session_.job().ticket.topology) == nullptr) {
        emit said(tr("Open a job and choose the machine's kind first."));
        return;
    }
    const auto taken = meter_capture_.take();
    if (const auto* why_not = std::get_if<QString>(&taken)) {
        emit said(*why_not);
        return;
    }
    const Capture& seen = std::get<Capture>(taken);
    Reading reading;
    reading.configuration = session_.job().bench;
    reading.value = MeterReading{seen.summary, true};
    reading.taken_ms = QDateTime::currentMSecsSinceEpoch();
    reading.source = "captured";
    const Topology& topology = *knowledge_.find_topology(session_.job().ticket.topology);
    QString text = format::qt(describe(reading, topology));
    if (seen.summary.pattern == MeterPattern::steady)
        text += tr("; spread %1 and %2 over %3 s")
                    .arg(format::qt(format_quantity(seen.summary.volts_spread, Unit::volts, 2)),
                         format::qt(format_quantity(seen.summary.amps_spread, Unit::amps, 2)))
                    .arg(format::number(seen.seconds, 0));
    roll_->mark(feed_.now_s(), QStringLiteral("%1").arg(format::qt(describe_value(reading, topology))));
    session_.addReading(std::move(reading), [this](Job& job, const std::string& id) {
        keep_sheet_trace(job, id, meter_capture_.trace());
    });
    emit said(tr("Captured: %1").arg(text));
}

void BenchPage::takeEntry(const QuickEntry& entry) {
    Reading reading = entry.reading;
    reading.taken_ms = QDateTime::currentMSecsSinceEpoch();
    reading.source = "typed";
    session_.addReading(std::move(reading));
    emit said(tr("Taken: %1").arg(format::qt(entry.echo)));
    if (!entry.warning.empty())
        emit warned(format::qt(entry.warning));
}

void BenchPage::takeSeen(const ReadingValue& value) {
    const Topology* machine =
        session_.hasJob() ? knowledge_.find_topology(session_.job().ticket.topology) : nullptr;
    if (machine == nullptr) {
        emit said(tr("Open a job and choose the machine's kind first."));
        return;
    }
    QuickEntry entry;
    entry.reading.configuration = session_.job().bench;
    entry.reading.value = value;
    entry.echo = describe(entry.reading, *machine);
    entry.warning = bench_conflict(entry.reading.kind(), entry.reading.configuration);
    takeEntry(entry);
}

void BenchPage::setBenchUp(const NextAct& act) {
    // The bench supply is stated with its reading, so that it is never left on by a later one.
    session_.edit(tr("Set the bench up"), [&](Job& job) {
        job.bench = act.configuration;
        job.bench.injection.reset();
        const auto done_ms = QDateTime::currentMSecsSinceEpoch();
        for (const Handling& work : act.work_first) {
            if (job.acts.empty())
                job.said = diagnosis_.saidOf(job, done_ms);
            job.acts.push_back(record_of(work, fresh_id(job, "a"), done_ms));
        }
    });
    if (act.cut_power_first)
        emit said(
            tr("Charger out, battery out or its switch held, and the power button for half a minute. "
               "Then plug in as the strip says, and read again."));
    for (const Handling& work : act.work_first)
        emit said(work.work == Work::reset
                      ? tr("Writing firmware anew can wipe data: ask the customer first. Then read again.")
                      : tr("The work is noted under Repair; undo takes it back. Do it, then read again."));
}

void BenchPage::begin(const NextAct& act) {
    if (!session_.hasJob())
        return;
    if (act.repair) {
        emit repairAsked(act.fault.block, act.remedy);
        return;
    }
    setBenchUp(act);
    const Topology& topology = *knowledge_.find_topology(session_.job().ticket.topology);
    const Net* net = topology.find_net(act.place);
    const QString name =
        net == nullptr ? QString() : format::qt(net->names.empty() ? net->id : net->names.front());
    switch (act.reading) {
        case ReadingKind::meter:
            if (!act.cut_power_first && act.work_first.empty())
                emit said(tr(
                    "The bench is set: plug in as the strip says, watch half a minute, then press Space."));
            setFocus();
            break;
        case ReadingKind::net_volts:
        case ReadingKind::net_ohms:
            quick_line_->start(name + QLatin1Char(' '));
            break;
        case ReadingKind::hot_part:
            quick_line_->start("hot ");
            break;
        case ReadingKind::injection: {
            const Injection& supply = *act.configuration.injection;
            quick_line_->start(QStringLiteral("inject %1 %2v %3a ")
                                   .arg(format::qt(supply.net))
                                   .arg(format::figures(supply.volts, 6))
                                   .arg(format::figures(supply.limit_amps, 6)));
            emit said(
                tr("Eyes protected; start at 0 V and raise slowly, never above %1 V. Type the volts and amps "
                   "of the supply, then the hottest part and its rise, or none.")
                    .arg(format::figures(supply.volts, 6)));
            break;
        }
        case ReadingKind::look:
            quick_line_->start(QStringLiteral("look %1 ").arg(format::qt(act.place)));
            break;
        case ReadingKind::board_look:
            quick_line_->start("board ");
            break;
        case ReadingKind::through:
            quick_line_->start(QStringLiteral("through %1 ").arg(format::qt(act.place)));
            break;
        case ReadingKind::between: {
            const auto nets = Traits<BetweenReading>::at(act.place);
            quick_line_->start(
                QStringLiteral("between %1 %2 ").arg(format::qt(nets.net), format::qt(nets.other)));
            break;
        }
        case ReadingKind::pack:
            quick_line_->start("pack ");
            break;
        case ReadingKind::diode:
            quick_line_->start(QStringLiteral("diode %1 ").arg(name));
            break;
        case ReadingKind::firmware:
            quick_line_->start("says ");
            break;
        case ReadingKind::sign:
            quick_line_->start("sign ");
            break;
        case ReadingKind::talk:
            emit talkAsked();
            break;
        case ReadingKind::wiggle:
            quick_line_->start(QStringLiteral("wiggle %1 ").arg(format::qt(act.configuration.port)));
            break;
    }
}

}  // namespace eh
