// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/trace/trace_page.h"

#include <QDateTime>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QShortcut>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <fstream>

#include "app/format/text.h"
#include "app/screens/trace/events_panel.h"
#include "app/screens/trace/ohms_panel.h"
#include "app/screens/trace/ports_panel.h"
#include "app/screens/trace/push_panel.h"
#include "app/services/trace_import.h"
#include "app/style/theme.h"
#include "core/readings/trace_capture.h"
#include "core/trace/trace_csv.h"

namespace eh {
namespace {

constexpr int page_refresh_ms = 200;
constexpr int read_after_ms = 250;  // once nobody moves the stretch any more
constexpr int tabs_height = 280;
constexpr double page_least_span_s = 5.0;
constexpr double page_shortest_whole_s = 60.0;
constexpr double page_usual_span_s = 600.0;
constexpr double page_end_s = 0.5;
constexpr double most_read_samples = 1'000'000.0;
constexpr double clock_times_from_s = 1e8;  // times since 1970, against those of a file that begin at nothing
constexpr int share_steps = 1000;

}  // namespace

TracePage::TracePage(JobSession& session, MeterRecording& recording, MeterFeed& feed,
                     const MeterCapture& capture, Multimeter& multimeter, const Knowledge& knowledge,
                     QWidget* parent)
    : QWidget(parent),
      session_(session),
      recording_(recording),
      feed_(feed),
      capture_(capture),
      knowledge_(knowledge),
      plot_(new TracePlot(this)),
      tabs_(new QTabWidget(this)),
      events_(new EventsPanel(this)),
      ports_(new PortsPanel(session, knowledge, this)),
      push_(new PushPanel(session, recording, feed, this)),
      ohms_(new OhmsPanel(session, recording, feed, multimeter, knowledge, this)),
      origin_(new QLabel(this)),
      empty_(new QLabel(this)),
      progress_(new QProgressBar(this)),
      cancel_(new QPushButton(tr("Stop"), this)),
      back_(new QPushButton(tr("Bac&k to the job"), this)) {
    tabs_->addTab(events_, tr("E&vents"));
    tabs_->addTab(ports_, tr("&Port table"));
    tabs_->addTab(push_, tr("P&ush test"));
    tabs_->addTab(ohms_, tr("Oh&ms"));
    tabs_->setFixedHeight(tabs_height);
    empty_->setText(
        tr("Nothing has been recorded in this job yet. Connect a meter (Ctrl+M); its stream is kept from "
           "the first line on. Or open a recording: lines of t_s,volts,amps."));
    empty_->setWordWrap(true);
    empty_->setAlignment(Qt::AlignCenter);
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(14, 10, 14, 8);
    page->addWidget(makeHead());
    page->addWidget(plot_, 1);
    page->addWidget(empty_, 1);
    page->addWidget(tabs_);

    connect(plot_, &TracePlot::zoomAsked, this, [this](double factor, double around_s) {
        const double from_s = around_s - (around_s - (end_s_ - span_s_)) * factor;
        showStretch(from_s, from_s + span_s_ * factor);
    });
    connect(plot_, &TracePlot::moveAsked, this,
            [this](double seconds) { showStretch(end_s_ - span_s_ + seconds, end_s_ + seconds); });
    connect(events_, &EventsPanel::taken, this, &TracePage::takeEvent);
    connect(events_, &EventsPanel::picked, this, [this](const TraceEvent& event) {
        if (event.t_s < end_s_ - span_s_ || event.t_s > end_s_)
            showStretch(event.t_s - 0.5 * span_s_, event.t_s + 0.5 * span_s_);
    });
    connect(push_, &PushPanel::said, this, &TracePage::said);
    connect(&recording_, &MeterRecording::opened, this, [this] {
        span_chosen_ = false;
        showJob();
    });
    connect(&session_, &JobSession::changed, this, [this] { ohms_->show(reading_); });
    connect(&refresh_, &QTimer::timeout, this, [this] {
        if (isVisible() && following_ && !showsFile() && feed_.state() != MeterFeed::State::idle)
            refresh();
    });
    refresh_.start(page_refresh_ms);
    read_soon_.setSingleShot(true);
    read_soon_.setInterval(read_after_ms);
    connect(&read_soon_, &QTimer::timeout, this, &TracePage::readShown);
    for (const auto& [key, factor] : {std::pair{Qt::Key_Plus, 1.0 / 1.5}, {Qt::Key_Minus, 1.5}}) {
        auto* zoom = new QShortcut(QKeySequence(key), this);
        zoom->setContext(Qt::WidgetWithChildrenShortcut);
        connect(zoom, &QShortcut::activated, this, [this, factor = factor] {
            const double middle_s = following_ ? end_s_ : end_s_ - 0.5 * span_s_;
            showStretch(middle_s - (following_ ? 1.0 : 0.5) * span_s_ * factor,
                        middle_s + (following_ ? 0.0 : 0.5) * span_s_ * factor);
        });
    }
    refresh();
}

QWidget* TracePage::makeHead() {
    auto* head = new QWidget(this);
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(0, 0, 0, 0);
    auto* title = new QLabel(tr("What the meter saw"), head);
    title->setFont(theme::text_font(1.25, true));
    origin_->setProperty("role", "soft");
    progress_->setRange(0, share_steps);
    progress_->setTextVisible(false);
    progress_->setFixedWidth(160);
    progress_->hide();
    cancel_->hide();
    back_->hide();
    row->addWidget(title);
    row->addWidget(origin_, 1);
    row->addWidget(progress_);
    row->addWidget(cancel_);
    row->addWidget(back_);
    const auto add = [&](const QString& text, const QString& tip, auto act) {
        auto* button = new QPushButton(text, head);
        button->setToolTip(tip);
        connect(button, &QPushButton::clicked, this, act);
        row->addWidget(button);
    };
    add(tr("&Whole"), tr("The whole recording at once"), [this] { showAll(); });
    add(tr("&Now"), tr("Follow the meter again"), [this] {
        showJob();
        following_ = true;
        refresh();
    });
    add(tr("&Open …"), tr("Look at a recording from a file"), [this] { importAsked(); });
    add(tr("E&xport …"), tr("Write what is recorded as CSV"), [this] { exportAsked(); });
    connect(cancel_, &QPushButton::clicked, this, [this] {
        if (import_ != nullptr)
            import_->cancel();
    });
    connect(back_, &QPushButton::clicked, this, &TracePage::showJob);
    return head;
}

const TraceRecord& TracePage::record() const {
    return file_ != nullptr ? *file_ : recording_.record();
}

bool TracePage::importing() const {
    return import_ != nullptr && import_->running();
}

void TracePage::showStretch(double from_s, double to_s) {
    const double last_s = showsFile() ? record().last_s() : feed_.now_s();
    const double first_s = record().empty() ? last_s - page_shortest_whole_s : record().first_s();
    span_s_ = std::clamp(to_s - from_s, page_least_span_s, std::max(page_shortest_whole_s, last_s - first_s));
    end_s_ = std::clamp(to_s, std::min(first_s + span_s_, last_s), last_s);
    following_ = !showsFile() && end_s_ >= last_s - page_end_s;
    span_chosen_ = true;
    refresh();
}

void TracePage::showAll() {
    showStretch(record().first_s(), showsFile() ? record().last_s() + 1e-3 : feed_.now_s());
}

void TracePage::showJob() {
    work_.forget();
    file_.reset();
    back_->hide();
    following_ = true;
    read_samples_ = 0;
    reading_ = {};
    refresh();
}

void TracePage::refresh() {
    const TraceRecord& shown = record();
    const double now_s = feed_.now_s();
    if (following_ && !showsFile()) {
        end_s_ = now_s;
        if (!span_chosen_ && !shown.empty())
            span_s_ = std::clamp(now_s - shown.first_s(), page_shortest_whole_s, page_usual_span_s);
    }
    empty_->setVisible(shown.empty());
    plot_->setVisible(!shown.empty());
    if (showsFile())
        origin_->setText(tr("%1: %2 samples over %3")
                             .arg(file_name_)
                             .arg(shown.samples())
                             .arg(format::duration(shown.last_s() - shown.first_s())));
    else if (!shown.empty())
        origin_->setText(tr("this job: %1 samples since %2")
                             .arg(shown.samples())
                             .arg(QDateTime::fromMSecsSinceEpoch(static_cast<qint64>(shown.first_s() * 1e3))
                                      .toString("d MMM, HH:mm")));
    else
        origin_->clear();
    std::vector<TraceMark> marks;
    for (const TraceEvent& event : outline_of(reading_.events))
        marks.push_back({event.t_s, format::qt(short_name(event)), false});
    plot_->setMarks(std::move(marks));
    plot_->setDarkAfter(showsFile() ? 0.5 : feed_.dark_after_s());
    const bool connected = feed_.state() == MeterFeed::State::lit || feed_.state() == MeterFeed::State::dark;
    plot_->setKnown(shown.first_s(), connected && !showsFile() ? now_s : shown.last_s());
    const bool from_start = showsFile();
    plot_->setReference(from_start ? shown.first_s() : now_s,
                        from_start ? tr("%1 from the start of the file") : tr("%1 before now"));
    plot_->draw(shown, end_s_ - span_s_, end_s_ + 1e-3);
    if (!read_soon_.isActive() && (!following_ || shown.samples() != read_samples_))
        read_soon_.start();
}

void TracePage::readShown() {
    const TraceRecord& shown = record();
    const double whole_s = std::max(1e-3, shown.last_s() - shown.first_s());
    const double about = static_cast<double>(shown.samples()) * std::min(1.0, span_s_ / whole_s);
    const std::pair<double, double> stretch{end_s_ - span_s_, end_s_ + 1e-3};
    const bool same = read_samples_ == shown.samples() && stretch == read_stretch_;
    if (work_.running() || !isVisible() || same || shown.empty() || about > 2.0 * most_read_samples)
        return;
    read_samples_ = shown.samples();
    read_stretch_ = stretch;
    work_.start([samples = shown.between(stretch.first, stretch.second)](
                    const TaskControl&) { return samples.empty() ? TraceReading{} : read_trace(samples); },
                [this](TraceReading reading) { showReading(std::move(reading)); });
}

void TracePage::showReading(TraceReading reading) {
    reading_ = std::move(reading);
    const bool clock = record().first_s() > clock_times_from_s;
    events_->show(reading_, [clock](double t_s) {
        if (!clock)
            return QStringLiteral("%1 s").arg(format::number(t_s, 1));
        return QDateTime::fromMSecsSinceEpoch(static_cast<qint64>(t_s * 1e3)).toString("HH:mm:ss.z").left(10);
    });
    ohms_->show(reading_);
    refresh();
}

void TracePage::takeEvent(const TraceEvent& event) {
    const Topology* topology =
        session_.hasJob() ? knowledge_.find_topology(session_.job().ticket.topology) : nullptr;
    if (topology == nullptr) {
        emit said(tr("Open a job and choose the machine's kind first."));
        return;
    }
    const auto bench = showsFile() ? std::optional(session_.job().bench) : capture_.benchAt(event.t_s);
    if (!bench) {
        emit said(tr(
            "How the bench stood then is not known: it was before this job was opened here. Take the event "
            "again, or type the reading."));
        return;
    }
    const TraceStretch stretch = stretch_of(event, reading_);
    auto taken = reading_of(event, reading_, record().between(stretch.from_s, stretch.to_s), *bench);
    if (!taken) {
        emit said(format::qt(taken.error().text()));
        return;
    }
    Reading reading = std::move(taken).value();
    reading.taken_ms = event.t_s > clock_times_from_s ? static_cast<std::int64_t>(event.t_s * 1e3)
                                                      : QDateTime::currentMSecsSinceEpoch();
    const QString text = format::qt(describe(reading, *topology));
    session_.addReading(std::move(reading));
    emit said(tr("Taken: %1").arg(text));
}

void TracePage::importAsked() {
    const QString file = QFileDialog::getOpenFileName(this, tr("Open a recording"), {},
                                                      tr("Recordings (*.csv);;All files (*)"));
    if (!file.isEmpty())
        importFile(file);
}

void TracePage::importFile(const QString& file) {
    showJob();
    if (import_ == nullptr) {
        import_ = std::make_unique<TraceImport>();
        connect(import_.get(), &TraceImport::progressed, this,
                [this](double share) { progress_->setValue(static_cast<int>(share_steps * share)); });
        connect(import_.get(), &TraceImport::finished, this, [this](quint64 odd) {
            imported();
            if (odd > 0)
                emit said(tr("%1 lines of %2 made no sense and were left out.").arg(odd).arg(file_name_));
        });
        connect(import_.get(), &TraceImport::failed, this, [this](const QString& sentence) {
            progress_->hide();
            cancel_->hide();
            emit said(sentence);
        });
    }
    progress_->setValue(0);
    progress_->show();
    cancel_->show();
    import_->start(file);
}

void TracePage::imported() {
    progress_->hide();
    cancel_->hide();
    work_.forget();
    file_ = import_->take();
    file_name_ = import_->fileName();
    back_->show();
    read_samples_ = 0;
    reading_ = {};
    showAll();
}

Outcome TracePage::exportTo(const QString& file) const {
    std::ofstream stream(file.toStdString(), std::ios::binary);
    write_trace_header(stream);
    record().visit(-1e300, 1e300, [&](std::span<const MeterSample> samples) {
        write_trace_lines(stream, samples);
        return static_cast<bool>(stream);
    });
    stream.flush();
    if (!stream)
        return Error{ErrorKind::unavailable,
                     "the recording cannot be written here; check the folder and the free space",
                     file.toStdString()};
    return Done{};
}

void TracePage::exportAsked() {
    const QString file = QFileDialog::getSaveFileName(this, tr("Export the recording"), "recording.csv",
                                                      tr("Recordings (*.csv)"));
    if (file.isEmpty())
        return;
    if (const auto done = exportTo(file); !done)
        emit said(format::qt(done.error().text()));
    else
        emit said(tr("Written: %1").arg(file));
}

}  // namespace eh
