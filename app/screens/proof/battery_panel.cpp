// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/proof/battery_panel.h"

#include <qcustomplot.h>

#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "core/battery/log_course.h"
#include "core/battery/uevent.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr int battery_questions_width = 280;
constexpr int report_width = 330;
constexpr qint64 fresh_ms = 5000;
constexpr qint64 longest_report_bytes = qint64{64} * 1024;

QColor ink_of(ChargingState state) {
    const auto& c = theme::colours();
    switch (state) {
        case ChargingState::charging:
        case ChargingState::full:
        case ChargingState::limited:
            return c.good;
        case ChargingState::not_charging:
            return c.bad;
        default:
            return c.suspicion;
    }
}

}  // namespace

BatteryPanel::BatteryPanel(JobSession& session, const Knowledge& knowledge, MeterFeed& feed,
                           Multimeter& multimeter, QWidget* parent)
    : QWidget(parent),
      session_(session),
      knowledge_(knowledge),
      feed_(feed),
      multimeter_(multimeter),
      cells_(form::choice(tr("Cells"), this)),
      in_series_(form::spin(1, 8, 3, {}, tr("Cells in series"), this, 0)),
      capacity_(form::spin(1, 150, 50, tr(" Wh"), tr("Capacity"), this, 0)),
      digit_(form::spin(0.0001, 0.1, 0.01, tr(" V"), tr("Last digit of the voltmeter"), this, 4)),
      machine_watts_(form::spin(0, 300, 0, tr(" W"), tr("What the machine takes itself"), this, 0)),
      limit_(form::spin(0, 100, 0, tr(" %"), tr("Charge limit by setting"), this, 0)),
      machine_off_(new QCheckBox(tr("machine is off"), this)),
      entry_(new QLineEdit(this)),
      charger_in_(new QCheckBox(tr("charger in"), this)),
      measured_(new QPushButton(tr("From the &multimeter"), this)),
      clear_(new QPushButton(tr("Begin a&new"), this)),
      verdict_(form::wrapped(this, tr("Does it charge"))),
      says_(form::wrapped(this, tr("Why"))),
      split_(form::wrapped(this, tr("Where the watts go"))),
      time_(form::wrapped(this, tr("Time to full"))),
      volts_plot_(new QCustomPlot(this)),
      course_plot_(new QCustomPlot(this)),
      report_(new QPlainTextEdit(this)),
      take_report_(new QPushButton(tr("&Take it over"), this)),
      this_machine_(new QPushButton(tr("Of th&is machine"), this)),
      findings_(form::wrapped(this, tr("What the report says"))) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 10, 14, 8);
    row->setSpacing(16);
    row->addWidget(form::scrolled(makeQuestions()));
    row->addWidget(makeAnswers(), 1);
    row->addWidget(form::scrolled(makeReport()));
    connect(&feed_, &MeterFeed::samplesArrived, this, [this](const std::vector<MeterSample>& samples) {
        live_watts_ = samples.back().volts * samples.back().amps;
        live_age_.start();
    });
    connect(&session_, &JobSession::changed, this, &BatteryPanel::refresh);
    connect(&session_, &JobSession::closed, this, &BatteryPanel::refresh);
    refresh();
}

QWidget* BatteryPanel::makeQuestions() {
    auto* side = new QWidget(this);
    side->setFixedWidth(battery_questions_width);
    for (const Chemistry& cells : knowledge_.chemistries)
        cells_->addItem(format::qt(cells.title), format::qt(cells.id));
    machine_watts_->setSpecialValueText(tr("not known"));
    limit_->setSpecialValueText(tr("none"));
    machine_off_->setAccessibleName(tr("Machine is off"));
    charger_in_->setAccessibleName(tr("Charger in"));
    charger_in_->setChecked(true);
    entry_->setPlaceholderText(tr("7.93   (Enter)"));
    entry_->setAccessibleName(tr("Volts of the battery"));
    auto* fields = new QFormLayout;
    fields->addRow(tr("Cells"), cells_);
    fields->addRow(tr("In series"), in_series_);
    fields->addRow(tr("Capacity"), capacity_);
    fields->addRow(tr("Last digit"), digit_);
    fields->addRow(tr("Machine takes"), machine_watts_);
    fields->addRow(tr("Limit set"), limit_);
    fields->addRow(QString(), machine_off_);
    auto* caution = form::wrapped(side, tr("Caution"));
    caution->setProperty("role", "caution");
    caution->setText(tr(
        "Probe at the connector, one hand; a slip shorts a lithium pack. Swelling or heat: unplug, carry it "
        "outside."));
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form::title(tr("The pack"), side));
    column->addLayout(fields);
    column->addSpacing(8);
    column->addWidget(form::title(tr("Its volts now"), side));
    column->addWidget(entry_);
    column->addWidget(charger_in_);
    column->addWidget(measured_);
    column->addWidget(clear_);
    column->addStretch(1);
    column->addWidget(caution);
    for (QDoubleSpinBox* box : {in_series_, capacity_, digit_, machine_watts_, limit_})
        connect(box, &QDoubleSpinBox::valueChanged, this, &BatteryPanel::takeFields);
    connect(cells_, &QComboBox::currentIndexChanged, this, &BatteryPanel::takeFields);
    connect(machine_off_, &QCheckBox::toggled, this, &BatteryPanel::takeFields);
    connect(entry_, &QLineEdit::returnPressed, this, &BatteryPanel::addTyped);
    connect(measured_, &QPushButton::clicked, this, &BatteryPanel::takeMeasured);
    connect(clear_, &QPushButton::clicked, this,
            [this] { editLog(tr("Battery readings anew"), [](BatteryLog& log) { log.readings.clear(); }); });
    return side;
}

QWidget* BatteryPanel::makeAnswers() {
    auto* middle = new QWidget(this);
    verdict_->setFont(theme::text_font(1.5, true));
    form::dress(*volts_plot_, tr("minutes"), tr("volts of the pack"));
    form::dress(*course_plot_, tr("hours"), tr("charge, %"));
    volts_plot_->setMinimumHeight(110);
    course_plot_->setMinimumHeight(110);
    auto* column = new QVBoxLayout(middle);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    column->addWidget(verdict_);
    column->addWidget(says_);
    column->addWidget(split_);
    column->addWidget(volts_plot_, 1);
    column->addWidget(time_);
    column->addWidget(course_plot_, 1);
    return middle;
}

QWidget* BatteryPanel::makeReport() {
    auto* side = new QWidget(this);
    side->setFixedWidth(report_width);
    report_->setAccessibleName(tr("The machine's own report"));
    report_->setTabChangesFocus(true);
    report_->setPlaceholderText(
        tr("Paste the text of\n/sys/class/power_supply/BAT0/uevent\nfrom the machine here."));
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(take_report_);
    buttons->addWidget(this_machine_);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form::title(tr("What the machine says of it"), side));
    column->addWidget(report_, 1);
    column->addLayout(buttons);
    column->addWidget(findings_, 1);
    connect(take_report_, &QPushButton::clicked, this, &BatteryPanel::takeReport);
    connect(this_machine_, &QPushButton::clicked, this, [this] {
        const QDir folder("/sys/class/power_supply");
        for (const QString& name : folder.entryList({"BAT*"}, QDir::AllEntries | QDir::NoDotAndDotDot)) {
            loadReport(folder.filePath(name + "/uevent"));
            return;
        }
        emit said(tr(
            "This machine has no battery that the kernel knows; paste the report of the one on the bench."));
    });
    return side;
}

void BatteryPanel::editLog(const QString& text, const std::function<void(BatteryLog&)>& change,
                           const QString& merge) {
    if (session_.hasJob())
        session_.edit(
            text, [&](Job& job) { change(job.battery); }, merge);
}

void BatteryPanel::takeFields() {
    if (filling_)
        return;
    editLog(
        tr("The pack"),
        [this](BatteryLog& log) {
            log.cells = cells_->currentData().toString().toStdString();
            log.in_series = static_cast<int>(in_series_->value());
            log.capacity_wh = capacity_->value();
            log.resolution_volts = digit_->value();
            log.machine_watts =
                machine_watts_->value() > 0.0 ? std::optional(machine_watts_->value()) : std::nullopt;
            log.limit = limit_->value() > 0.0 ? std::optional(limit_->value() / 100.0) : std::nullopt;
            log.machine_off = machine_off_->isChecked();
        },
        "battery pack");
}

void BatteryPanel::addTyped() {
    const auto volts = parse_quantity_as(entry_->text().toStdString(), Unit::volts);
    if (!volts) {
        emit said(format::qt(volts.error().text()));
        return;
    }
    if (add(volts->value))
        entry_->clear();
}

void BatteryPanel::takeMeasured() {
    const auto volts = multimeter_.value();
    if (multimeter_.function() != MultimeterFunction::volts || !volts || *volts <= 0.0) {
        emit said(
            tr("The multimeter has said nothing for some seconds: connect it, set to volts, probes on the "
               "pack."));
        return;
    }
    add(*volts);
}

bool BatteryPanel::add(double volts) {
    if (!session_.hasJob())
        return false;
    BatteryVolts reading;
    reading.t_s = static_cast<double>(QDateTime::currentMSecsSinceEpoch()) / 1000.0;
    reading.volts = volts;
    reading.charger_in = charger_in_->isChecked();
    // The meter at the plug says what goes in, if it says anything now.
    if (reading.charger_in && live_age_.isValid() && live_age_.elapsed() < fresh_ms)
        reading.input_watts = live_watts_;
    BatteryLog longer = session_.job().battery;
    if (const Outcome added = add_volts(longer, reading); !added) {
        emit said(tr("Not taken: %1.").arg(format::qt(added.error().message)));
        return false;
    }
    editLog(tr("Battery volts"), [&](BatteryLog& log) { log = longer; });
    return true;
}

void BatteryPanel::loadReport(const QString& path) {
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly)) {
        emit said(tr("%1 cannot be read: %2.").arg(path, file.errorString()));
        return;
    }
    report_->setPlainText(QString::fromUtf8(file.read(longest_report_bytes)));
    takeReport();
}

void BatteryPanel::takeReport() {
    const std::string text = report_->toPlainText().toStdString();
    const auto report = parse_uevent(text);
    if (!report) {
        emit said(format::qt(report.error().text()));
        form::show_html(findings_, form::paragraph(form::Weight::problem, format::qt(report.error().text())));
        return;
    }
    editLog(tr("The machine's report"),
            [&](BatteryLog& log) { take_report(log, text, *report, knowledge_.chemistries); });
    emit said(tr("Taken over: capacity, limit and cells as far as the report tells them."));
}

void BatteryPanel::refresh() {
    setEnabled(session_.hasJob());
    const BatteryLog log = session_.hasJob() ? session_.job().battery : BatteryLog{};
    filling_ = true;
    cells_->setCurrentIndex(std::max(0, cells_->findData(format::qt(log.cells))));
    in_series_->setValue(log.in_series);
    capacity_->setValue(log.capacity_wh);
    digit_->setValue(log.resolution_volts);
    machine_watts_->setValue(log.machine_watts.value_or(0.0));
    limit_->setValue(100.0 * log.limit.value_or(0.0));
    machine_off_->setChecked(log.machine_off);
    if (!log.report.empty() && report_->toPlainText().toStdString() != log.report)
        report_->setPlainText(format::qt(log.report));
    filling_ = false;
    const ChargingVerdict verdict = judge_charging(facts_of(log, knowledge_.chemistries), log.readings);
    QString word = format::qt(describe(verdict.state));
    word[0] = word[0].toUpper();
    verdict_->setText(word);
    verdict_->setStyleSheet(QStringLiteral("color: %1").arg(ink_of(verdict.state).name()));
    says_->setText(format::qt(verdict.says));
    split_->setText(
        verdict.pack_watts
            ? tr("Of the watts that go in the machine takes <b>%1 W</b>, the pack <b>%2 W</b>.")
                  .arg(format::number(*log.machine_watts, 0))
                  .arg(format::number(*verdict.pack_watts, 0))
            : tr("With the meter at the plug and what the machine takes itself, the watts are split here."));
    drawVolts(log, verdict);
    drawCourse(log, verdict);
    const auto report =
        log.report.empty() ? Result<BatteryReport>(refused("none")) : parse_uevent(log.report);
    if (!report)
        return;
    QString text = form::paragraph(
        form::Weight::fine,
        tr("%1%2, %3")
            .arg(report->percent ? tr("%1 %, ").arg(format::number(*report->percent, 0)) : QString(),
                 format::qt(describe(report->status)),
                 report->watts ? tr("%1 W").arg(format::number(*report->watts, 1)) : tr("watts not said")));
    for (const std::string& finding : findings(*report))
        text += form::paragraph(form::Weight::note, format::qt(finding));
    for (const std::string& remark : report->remarks)
        text += form::paragraph(form::Weight::problem, format::qt(remark));
    form::show_html(findings_, text);
}

void BatteryPanel::drawVolts(const BatteryLog& log, const ChargingVerdict& verdict) {
    const auto& c = theme::colours();
    volts_plot_->clearGraphs();
    volts_plot_->clearItems();
    if (!log.readings.empty()) {
        const double zero = log.readings.front().t_s;
        QVector<double> in_t;
        QVector<double> in_v;
        QVector<double> out_t;
        QVector<double> out_v;
        for (const BatteryVolts& reading : log.readings) {
            (reading.charger_in ? in_t : out_t) << (reading.t_s - zero) / 60.0;
            (reading.charger_in ? in_v : out_v) << reading.volts;
        }
        const auto dots = [&](const QVector<double>& t, const QVector<double>& v,
                              QCPScatterStyle::ScatterShape shape, const QColor& ink) {
            QCPGraph* graph = volts_plot_->addGraph();
            graph->setLineStyle(QCPGraph::lsNone);
            graph->setScatterStyle(QCPScatterStyle(shape, ink, 8));
            graph->setData(t, v);
        };
        dots(in_t, in_v, QCPScatterStyle::ssDisc, c.accent);
        dots(out_t, out_v, QCPScatterStyle::ssCross, c.suspicion);
        if (in_t.size() >= 2) {
            QCPGraph* line = volts_plot_->addGraph();
            line->setPen(QPen(c.accent, 2));
            const double middle_t = 0.5 * (in_t.front() + in_t.back());
            double mean = 0.0;
            for (const double v : in_v)
                mean += v / static_cast<double>(in_v.size());
            line->setData({in_t.front(), in_t.back()},
                          {mean + verdict.slope_v_a_min * (in_t.front() - middle_t),
                           mean + verdict.slope_v_a_min * (in_t.back() - middle_t)},
                          true);
        }
        volts_plot_->rescaleAxes();
        volts_plot_->xAxis->scaleRange(1.1);
        const double margin = std::max(log.resolution_volts * 2.0, 0.1 * volts_plot_->yAxis->range().size());
        volts_plot_->yAxis->setRange(volts_plot_->yAxis->range().lower - margin,
                                     volts_plot_->yAxis->range().upper + margin);
    } else {
        auto* word = new QCPItemText(volts_plot_);
        word->setText(tr("Type the volts of the pack every ten seconds or so, for some minutes"));
        word->setFont(theme::text_font(0.9));
        word->setColor(c.soft_ink);
        word->position->setType(QCPItemPosition::ptAxisRectRatio);
        word->position->setCoords(0.5, 0.5);
    }
    volts_plot_->replot(QCustomPlot::rpQueuedReplot);
}

void BatteryPanel::drawCourse(const BatteryLog& log, const ChargingVerdict& verdict) {
    const auto& c = theme::colours();
    course_plot_->clearGraphs();
    const auto found = log_course(log, verdict, knowledge_.chemistries);
    if (!found) {
        form::show_plain(time_, tr("No time to full: nothing goes into the pack."));
        course_plot_->replot(QCustomPlot::rpQueuedReplot);
        return;
    }
    const ChargeCourse& course = found->course;
    const ChargeTime& time = found->time;
    QString drift;
    if (found->behind_s)
        drift = tr(" The real course is %1 %2 the estimate.")
                    .arg(format::duration(std::abs(*found->behind_s)),
                         *found->behind_s > 0.0 ? tr("behind") : tr("ahead of"));
    form::show_html(time_, tr("%1 in <b>%2</b> (%3 to %4) with %5 W into the pack, %6 of it at held volts.%7")
                               .arg(found->setup.stop_at < 1.0 ? tr("To the limit") : tr("Full"),
                                    format::minutes(time.expected_s / 60.0),
                                    format::minutes(time.least_s / 60.0), format::minutes(time.most_s / 60.0))
                               .arg(format::number(found->setup.watts, 0))
                               .arg(format::minutes(course.constant_volts_s / 60.0), drift));
    QCPGraph* estimate = course_plot_->addGraph();
    estimate->setPen(QPen(c.accent, 2));
    QVector<double> hours;
    QVector<double> percent;
    for (const ChargePoint& point : course.points) {
        hours << point.t_s / hour_s;
        percent << 100.0 * point.charge_state;
    }
    estimate->setData(hours, percent, true);
    QCPGraph* real = course_plot_->addGraph();
    real->setLineStyle(QCPGraph::lsNone);
    real->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, c.suspicion, 7));
    for (std::size_t r = 0; r < log.readings.size(); ++r)
        real->addData((log.readings[r].t_s - log.readings.front().t_s) / hour_s, 100.0 * found->states[r]);
    course_plot_->xAxis->setRange(0.0, course.total_s / hour_s * 1.05 + 0.01);
    course_plot_->yAxis->setRange(0.0, 105.0);
    course_plot_->replot(QCustomPlot::rpQueuedReplot);
}

}  // namespace eh
