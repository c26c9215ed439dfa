// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/rework/heat_plan_panel.h"

#include <qcustomplot.h>

#include <QDateTime>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"

namespace eh {
namespace {

constexpr int heat_questions_width = 316;
constexpr int heat_answers_width = 300;
constexpr int coolest_c = 200;
constexpr int hottest_c = 480;
constexpr int window_columns = 57;
constexpr double drawn_after_s = 60.0;  // cooling that is shown
constexpr int tick_ms = 100;
constexpr double metre_a_mm = 1e-3;

struct Curve {
    HeatLump lump;
    const char* name;
    Qt::PenStyle style;
    double width;
};
// Told apart by stroke as well as by colour.
constexpr std::array<Curve, 4> drawn_curves{
    {{HeatLump::joint, QT_TRANSLATE_NOOP("eh::HeatPlanPanel", "joint"), Qt::SolidLine, 3.0},
     {HeatLump::plastic, QT_TRANSLATE_NOOP("eh::HeatPlanPanel", "plastic or chip"), Qt::DashLine, 2.0},
     {HeatLump::neighbour, QT_TRANSLATE_NOOP("eh::HeatPlanPanel", "neighbour"), Qt::DotLine, 2.0},
     {HeatLump::ring, QT_TRANSLATE_NOOP("eh::HeatPlanPanel", "board around"), Qt::DashDotLine, 1.5}}};

QColor ink_of(HeatLump lump) {
    const auto& c = theme::colours();
    switch (lump) {
        case HeatLump::joint:
            return c.accent;
        case HeatLump::plastic:
            return c.bad;
        case HeatLump::neighbour:
            return c.suspicion;
        default:
            return c.soft_ink;
    }
}

form::Weight weight_of(HeatWeight weight) {
    return weight == HeatWeight::problem ? form::Weight::problem
           : weight == HeatWeight::note  ? form::Weight::note
                                         : form::Weight::fine;
}

QString seconds(const std::optional<double>& value) {
    return value ? HeatPlanPanel::tr("%1 s").arg(format::number(*value, 0)) : HeatPlanPanel::tr("never");
}

}  // namespace

HeatPlanPanel::HeatPlanPanel(JobSession& session, ShopParts& parts, QWidget* parent)
    : QWidget(parent),
      session_(session),
      parts_(parts),
      part_(form::choice(tr("What is heated"), this)),
      old_solder_(form::choice(tr("Solder in the joint"), this)),
      new_solder_(form::choice(tr("Solder brought in"), this)),
      old_share_(form::spin(0, 100, 20, tr(" %"), tr("Share of old solder that is left"), this, 0)),
      air_slider_(new QSlider(Qt::Horizontal, this)),
      air_(form::spin(0, 600, 340, tr(" °C"), tr("Air temperature"), this, 0)),
      flow_(form::spin(1, 200, 40, tr(" l/min"), tr("Air flow"), this, 0)),
      nozzle_(form::spin(2, 25, 8, tr(" mm"), tr("Nozzle"), this, 1)),
      distance_(form::spin(2, 80, 15, tr(" mm"), tr("Distance of the nozzle"), this, 0)),
      preheat_(form::spin(0, 250, 0, tr(" °C"), tr("Board on the preheater"), this, 0)),
      board_(form::spin(0.2, 4, 1.0, tr(" mm"), tr("Thickness of the board"), this, 1)),
      layers_(form::spin(1, 24, 8, {}, tr("Copper layers"), this, 0)),
      neighbour_(form::spin(0, 60, 8, tr(" mm"), tr("Distance of the nearest neighbour"), this, 0)),
      shield_(new QCheckBox(tr("under foil tape"), this)),
      verdict_(form::wrapped(this, tr("When to lift"))),
      facts_(form::wrapped(this, tr("Times and peaks"))),
      notes_(form::wrapped(this, tr("What to mind"))),
      solder_(form::wrapped(this, tr("The joint's solder"))),
      learned_(form::wrapped(this, tr("What this bench's logs say"))),
      clock_(new QLabel(this)),
      best_(new QPushButton(tr("Take the best ai&r"), this)),
      start_(new QPushButton(tr("&Air on"), this)),
      moved_(new QPushButton(tr("It &moved now"), this)) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 10, 14, 8);
    row->setSpacing(16);
    row->addWidget(form::scrolled(makeQuestions()));
    row->addWidget(makePlots(), 1);
    row->addWidget(form::scrolled(makeAnswers()));
    tick_.setInterval(tick_ms);
    connect(&tick_, &QTimer::timeout, this, &HeatPlanPanel::tick);
    connect(best_, &QPushButton::clicked, this, &HeatPlanPanel::takeBest);
    connect(start_, &QPushButton::clicked, this, [this] { running_.isValid() ? stopAir() : startAir(); });
    connect(moved_, &QPushButton::clicked, this, &HeatPlanPanel::logMoved);
    connect(&parts_, &ShopParts::changed, this, &HeatPlanPanel::workOut);
    stopAir();
    workOut();
}

QWidget* HeatPlanPanel::makeQuestions() {
    auto* side = new QWidget(this);
    side->setFixedWidth(heat_questions_width);
    for (const HeatPart& part : parts_.book().heat_parts)
        part_->addItem(format::qt(part.title), format::qt(part.id));
    for (const Alloy& alloy : parts_.book().alloys.alloys)
        for (QComboBox* box : {old_solder_, new_solder_})
            box->addItem(format::qt(alloy.title), format::qt(alloy.id));
    old_solder_->setCurrentIndex(old_solder_->findData("sac305"));
    new_solder_->setCurrentIndex(new_solder_->findData("sn63pb37"));
    air_slider_->setRange(coolest_c, hottest_c);
    air_slider_->setValue(static_cast<int>(air_->value()));
    air_slider_->setAccessibleName(tr("Air temperature, slider"));
    preheat_->setSpecialValueText(tr("no preheater"));
    neighbour_->setSpecialValueText(tr("none near"));
    shield_->setAccessibleName(tr("Neighbour under foil tape"));
    auto* form_layout = new QFormLayout;
    form_layout->setVerticalSpacing(5);
    form_layout->addRow(tr("Part"), part_);
    form_layout->addRow(tr("Solder in it"), old_solder_);
    form_layout->addRow(tr("Brought in"), new_solder_);
    form_layout->addRow(tr("Old one left"), old_share_);
    form_layout->addRow(tr("Air"), air_);
    form_layout->addRow(air_slider_);
    form_layout->addRow(tr("Flow"), flow_);
    form_layout->addRow(tr("Nozzle"), nozzle_);
    form_layout->addRow(tr("Distance"), distance_);
    form_layout->addRow(tr("Board preheated"), preheat_);
    form_layout->addRow(tr("Board, thick"), board_);
    form_layout->addRow(tr("Copper layers"), layers_);
    form_layout->addRow(tr("Neighbour at"), neighbour_);
    form_layout->addRow(QString(), shield_);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form::title(tr("How it is heated"), side));
    column->addLayout(form_layout);
    column->addWidget(best_);
    column->addStretch(1);
    connect(air_slider_, &QSlider::valueChanged, this, [this](int value) { air_->setValue(value); });
    connect(air_, &QDoubleSpinBox::valueChanged, this, [this](double value) {
        const QSignalBlocker quiet(air_slider_);
        air_slider_->setValue(static_cast<int>(value));
        workOut();
    });
    for (QDoubleSpinBox* box : {old_share_, flow_, nozzle_, distance_, preheat_, board_, layers_, neighbour_})
        connect(box, &QDoubleSpinBox::valueChanged, this, &HeatPlanPanel::workOut);
    for (QComboBox* box : {part_, old_solder_, new_solder_})
        connect(box, &QComboBox::currentIndexChanged, this, &HeatPlanPanel::workOut);
    connect(shield_, &QCheckBox::toggled, this, &HeatPlanPanel::workOut);
    return side;
}

QWidget* HeatPlanPanel::makePlots() {
    auto* middle = new QWidget(this);
    const auto& c = theme::colours();
    verdict_->setFont(theme::text_font(1.5, true));
    course_plot_ = new QCustomPlot(middle);
    form::dress(*course_plot_, tr("seconds of air"), tr("°C"));
    for (const Curve& curve : drawn_curves) {
        curves_.push_back(course_plot_->addGraph());
        curves_.back()->setName(tr(curve.name));
        curves_.back()->setPen(QPen(ink_of(curve.lump), curve.width, curve.style));
    }
    liquid_line_ = course_plot_->addGraph();
    liquid_line_->setPen(QPen(c.accent, 1, Qt::DotLine));
    liquid_line_->removeFromLegend();
    limit_line_ = course_plot_->addGraph();
    limit_line_->setPen(QPen(c.bad, 1, Qt::DotLine));
    limit_line_->removeFromLegend();
    now_line_ = new QCPItemStraightLine(course_plot_);
    now_line_->setPen(QPen(c.ink, 2));
    now_line_->setVisible(false);
    course_plot_->legend->setVisible(true);
    course_plot_->legend->setFont(theme::text_font(0.8));
    course_plot_->legend->setBorderPen(Qt::NoPen);
    // In one row along the bottom, where no curve runs.
    course_plot_->legend->setFillOrder(QCPLayoutGrid::foColumnsFirst);
    course_plot_->legend->setWrap(static_cast<int>(drawn_curves.size()));
    course_plot_->legend->setBrush(Qt::NoBrush);
    course_plot_->axisRect()->insetLayout()->setInsetAlignment(0, Qt::AlignBottom | Qt::AlignHCenter);
    course_plot_->setMinimumHeight(140);
    window_plot_ = new QCustomPlot(middle);
    form::dress(*window_plot_, tr("air, °C"), tr("seconds"));
    ready_ = window_plot_->addGraph();
    ready_->setName(tr("joint ready"));
    ready_->setPen(QPen(c.accent, 3));
    gives_way_ = window_plot_->addGraph();
    gives_way_->setName(tr("something gives way"));
    gives_way_->setPen(QPen(c.bad, 2, Qt::DashLine));
    // The window lies between them.
    ready_->setBrush(QBrush(c.good_wash));
    ready_->setChannelFillGraph(gives_way_);
    chosen_ = window_plot_->addGraph();
    chosen_->setName(tr("this air"));
    chosen_->setPen(QPen(c.ink, 1, Qt::DotLine));
    chosen_->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, c.ink, 9));
    window_plot_->legend->setVisible(true);
    window_plot_->legend->setFont(theme::text_font(0.8));
    window_plot_->legend->setBorderPen(Qt::NoPen);
    window_plot_->axisRect()->insetLayout()->setInsetAlignment(0, Qt::AlignTop | Qt::AlignRight);
    window_plot_->xAxis->setRange(coolest_c, hottest_c);
    window_plot_->yAxis->setRange(0, longest_air_s);
    window_plot_->setMinimumHeight(110);
    auto* column = new QVBoxLayout(middle);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    column->addWidget(verdict_);
    column->addWidget(facts_);
    column->addWidget(course_plot_, 3);
    column->addWidget(form::softly(tr("The window: lift between the line and the dashes."), middle));
    column->addWidget(window_plot_, 2);
    return middle;
}

QWidget* HeatPlanPanel::makeAnswers() {
    auto* side = new QWidget(this);
    side->setFixedWidth(heat_answers_width);
    clock_->setFont(theme::number_font(2.0, true));
    clock_->setAccessibleName(tr("Seconds of air"));
    auto* caution = form::wrapped(side, tr("Caution"));
    caution->setProperty("role", "caution");
    caution->setText(
        tr("Hot air burns and flux smokes: extraction on, battery off the board, foil over plastic."));
    learned_->setProperty("role", "soft");
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(start_);
    buttons->addWidget(moved_);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form::title(tr("Mind"), side));
    column->addWidget(notes_);
    column->addSpacing(6);
    column->addWidget(form::title(tr("The solder"), side));
    column->addWidget(solder_);
    column->addStretch(1);
    column->addWidget(clock_);
    column->addLayout(buttons);
    column->addWidget(learned_);
    column->addWidget(caution);
    return side;
}

HeatSetup HeatPlanPanel::setup() const {
    HeatSetup setup;
    if (const HeatPart* part = parts_.book().find_heat_part(part_->currentData().toString().toStdString()))
        setup.part = *part;
    setup.air.set_c = air_->value();
    setup.air.litres_a_minute = flow_->value();
    setup.air.diameter_m = nozzle_->value() * metre_a_mm;
    setup.air.distance_m = distance_->value() * metre_a_mm;
    setup.board.thickness_mm = board_->value();
    setup.board.copper_layers = static_cast<int>(layers_->value());
    if (preheat_->value() > setup.room_c)
        setup.preheat_c = preheat_->value();
    if (neighbour_->value() >= 1.0)
        setup.neighbour = HeatNeighbour{neighbour_->value(), HeatNeighbour{}.solidus_c,
                                        HeatNeighbour{}.liquidus_c, shield_->isChecked()};
    setup.calibration = parts_.calibration();
    return setup;
}

void HeatPlanPanel::choosePart(const std::string& id) {
    if (const int index = part_->findData(format::qt(id)); index >= 0)
        part_->setCurrentIndex(index);
}

void HeatPlanPanel::workOut() {
    HeatSetup now = setup();
    const AlloyBook& alloys = parts_.book().alloys;
    const Alloy* left = alloys.find(old_solder_->currentData().toString().toStdString());
    const Alloy* added = alloys.find(new_solder_->currentData().toString().toStdString());
    if (left == nullptr || added == nullptr)
        return refuse(tr("Choose the solder in the joint and the one that is brought in."));
    const auto joint = mix(alloys, *left, *added, old_share_->value() / 100.0);
    if (!joint)
        return refuse(format::qt(joint.error().text()));
    now.solidus_c = joint->solidus_c;
    now.liquidus_c = joint->liquidus_c;
    form::show_html(solder_,
                    form::paragraphs({format::qt(joint->says),
                                      tr("%1. %2").arg(format::qt(added->title), format::qt(added->gains)),
                                      tr("But: %1").arg(format::qt(added->costs))}));
    const auto plan = plan_heat(now);
    if (!plan)
        return refuse(format::qt(plan.error().text()));
    plan_ = *plan;
    planned_ = now;
    showPlan(now);
    drawCourse(now);
    drawWindow(now);
}

void HeatPlanPanel::refuse(const QString& sentence) {
    plan_.reset();
    verdict_->setText(tr("Not like this"));
    form::show_plain(facts_, QString());
    form::show_html(notes_, form::paragraph(form::Weight::problem, sentence));
    for (QCustomPlot* plot : {course_plot_, window_plot_}) {
        for (int g = 0; g < plot->graphCount(); ++g)
            plot->graph(g)->data()->clear();
        plot->replot(QCustomPlot::rpQueuedReplot);
    }
}

void HeatPlanPanel::showPlan(const HeatSetup& now) {
    const HeatPlan& plan = *plan_;
    const auto& c = theme::colours();
    verdict_->setText(!plan.lift_s    ? tr("The joint does not melt")
                      : plan.possible ? tr("Lift after %1 s of air").arg(format::number(*plan.lift_s, 0))
                                      : tr("Not with this air"));
    verdict_->setStyleSheet(QStringLiteral("color: %1").arg((plan.possible ? c.good : c.bad).name()));
    form::show_html(
        facts_, tr("Moves from <b>%1</b>, liquid from %2, plastic gives way: %3. Peaks: joint <b>%4 °C</b>, "
                   "%5 %6 °C of %7%8. Liquid for %9 s.")
                    .arg(seconds(plan.melts_s), seconds(plan.liquid_s), seconds(plan.plastic_softens_s))
                    .arg(format::number(plan.peak_joint_c, 0))
                    .arg(format::qt(now.part.plastic_name))
                    .arg(format::number(plan.peak_plastic_c, 0))
                    .arg(format::number(now.part.plastic_limit_c, 0))
                    .arg(now.neighbour ? tr(", neighbour %1 °C of %2")
                                             .arg(format::number(plan.peak_neighbour_c, 0))
                                             .arg(format::number(now.neighbour->solidus_c, 0))
                                       : QString())
                    .arg(format::number(plan.above_liquidus_s, 0)));
    QString notes;
    for (const HeatNote& note : plan.notes)
        notes += form::paragraph(weight_of(note.weight), format::qt(note.says));
    if (notes.isEmpty())
        notes = form::paragraph(form::Weight::fine, tr("The joint is ready before anything else gives way."));
    form::show_html(notes_, notes);
    const HeatCalibration& learned = parts_.calibration();
    learned_->setText(
        learned.logs == 0
            ? tr("Start the clock with the air and press “It moved now”: the bench's own air and "
                 "boards are learned from it.")
            : tr("From %1 logged by this bench: air %2 times, board %3 times what is computed.")
                  .arg(learned.logs)
                  .arg(format::number(learned.air, 2))
                  .arg(format::number(learned.sink, 2)));
}

void HeatPlanPanel::drawCourse(const HeatSetup& now) {
    const HeatCourse course(now, plan_->air_s);
    const double from = -std::min(30.0, course.preheat_s());
    const double to = plan_->air_s + drawn_after_s;
    constexpr int points = 160;
    double highest = now.liquidus_c + 20.0;
    for (std::size_t k = 0; k < drawn_curves.size(); ++k) {
        QVector<double> t(points + 1);
        QVector<double> celsius(points + 1);
        const bool shown = drawn_curves[k].lump != HeatLump::neighbour || now.neighbour.has_value();
        for (int i = 0; i <= points; ++i) {
            t[i] = from + (to - from) * i / points;
            celsius[i] = course.celsius(drawn_curves[k].lump, t[i]);
            highest = shown ? std::max(highest, celsius[i]) : highest;
        }
        curves_[k]->setVisible(shown);
        curves_[k]->setData(t, celsius, true);
    }
    liquid_line_->setData({from, to}, {now.liquidus_c, now.liquidus_c}, true);
    limit_line_->setData({from, to}, {now.part.plastic_limit_c, now.part.plastic_limit_c}, true);
    course_plot_->xAxis->setRange(from, to);
    course_plot_->yAxis->setRange(0.0, std::max(highest, now.part.plastic_limit_c) * 1.08);
    course_plot_->clearItems();
    now_line_ = new QCPItemStraightLine(course_plot_);
    now_line_->setPen(QPen(theme::colours().ink, 2));
    now_line_->setVisible(running_.isValid());
    const auto word = [&](double celsius, const QString& text, const QColor& ink) {
        auto* item = new QCPItemText(course_plot_);
        item->setText(text);
        item->setFont(theme::text_font(0.8));
        item->setColor(ink);
        item->setPositionAlignment(Qt::AlignLeft | Qt::AlignBottom);
        item->position->setCoords(from + 0.01 * (to - from), celsius);
    };
    word(now.liquidus_c, tr("solder liquid"), theme::colours().accent);
    word(now.part.plastic_limit_c, tr("%1 gives way").arg(format::qt(now.part.plastic_name)),
         theme::colours().bad);
    course_plot_->replot(QCustomPlot::rpQueuedReplot);
}

void HeatPlanPanel::drawWindow(const HeatSetup& now) {
    QVector<double> ready_x;
    QVector<double> ready_y;
    QVector<double> limit_x;
    QVector<double> limit_y;
    for (const HeatWindowPoint& point : heat_window(now, coolest_c, hottest_c, window_columns)) {
        if (point.ready_s) {
            ready_x << point.set_c;
            ready_y << *point.ready_s;
        }
        limit_x << point.set_c;
        // Above the drawn range nothing gives way.
        limit_y << point.limit_s.value_or(1.5 * longest_air_s);
    }
    ready_->setData(ready_x, ready_y, true);
    gives_way_->setData(limit_x, limit_y, true);
    chosen_->setData({air_->value(), air_->value()}, {0.0, plan_->lift_s.value_or(longest_air_s)}, true);
    window_plot_->replot(QCustomPlot::rpQueuedReplot);
}

void HeatPlanPanel::takeBest() {
    if (!plan_)
        return;
    const auto best = best_air_c(heat_window(planned_, coolest_c, hottest_c, window_columns));
    if (best)
        air_->setValue(*best);
    emit said(best ? tr("Air set to %1 °C: the coolest that is quick enough and leaves time.")
                         .arg(format::number(*best, 0))
                   : tr("No air up to %1 °C does it safely: preheat, bring leaded solder in, or shield.")
                         .arg(hottest_c));
}

double HeatPlanPanel::airSeconds() const {
    return running_.isValid() ? static_cast<double>(running_.elapsed()) / 1000.0 : 0.0;
}

void HeatPlanPanel::startAir() {
    running_.start();
    tick_.start();
    start_->setText(tr("&Air off"));
    moved_->setEnabled(true);
    tick();
}

void HeatPlanPanel::stopAir() {
    running_.invalidate();
    tick_.stop();
    start_->setText(tr("&Air on"));
    moved_->setEnabled(false);
    clock_->setText(tr("0 s"));
    if (now_line_ != nullptr) {
        now_line_->setVisible(false);
        course_plot_->replot(QCustomPlot::rpQueuedReplot);
    }
}

void HeatPlanPanel::tick() {
    const double t = airSeconds();
    const bool past = plan_ && plan_->lift_s && t >= *plan_->lift_s;
    clock_->setText(past ? tr("%1 s   lift").arg(format::number(t, 0))
                         : tr("%1 s").arg(format::number(t, 0)));
    now_line_->setVisible(true);
    now_line_->point1->setCoords(t, 0.0);
    now_line_->point2->setCoords(t, 1.0);
    course_plot_->replot(QCustomPlot::rpQueuedReplot);
}

void HeatPlanPanel::logMoved() {
    if (!running_.isValid() || !plan_)
        return;
    KeptHeatLog kept;
    kept.part = part_->currentData().toString().toStdString();
    kept.job = session_.hasJob() ? session_.job().ticket.number : std::string();
    kept.when_ms = QDateTime::currentMSecsSinceEpoch();
    kept.log.setup = planned_;
    kept.log.setup.calibration = {};
    kept.log.moved_after_s = airSeconds();
    stopAir();
    if (kept.log.moved_after_s < 1.0) {
        emit said(tr("Nothing moves within a second: the clock was started too late. Not logged."));
        return;
    }
    parts_.addHeatLog(kept);
    emit moved(kept.log.moved_after_s);
    emit said(tr("Logged: moved after %1 s. The plan has learned from it (Ctrl+Z takes it back).")
                  .arg(format::number(kept.log.moved_after_s, 0)));
}

}  // namespace eh
