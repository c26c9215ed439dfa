// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/check/check_page.h"

#include <qcustomplot.h>

#include <QFormLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "core/base/text.h"
#include "core/electrics/engineering.h"
#include "core/usbc/cc_line.h"

namespace eh {
namespace {

constexpr int questions_width = 340;
constexpr int label_height = 76;
constexpr int pins_width = 330;
constexpr double allowed_drop_volts = 0.75;  // VBUS and ground together, USB Type-C specification
constexpr int plot_points = 60;
constexpr double least_share_of_watts =
    0.5;  // common practice: about half of its charger is what a machine insists on

form::Weight weight_of(CheckWeight weight) {
    return weight == CheckWeight::problem ? form::Weight::problem
           : weight == CheckWeight::note  ? form::Weight::note
                                          : form::Weight::fine;
}

}  // namespace

CheckPage::CheckPage(JobSession& session, const Knowledge& knowledge, QWidget* parent)
    : QWidget(parent),
      session_(session),
      knowledge_(knowledge),
      label_(new QPlainTextEdit("5V 3A, 9V 3A, 15V 3A, 20V 3.25A", this)),
      length_(form::spin(0.1, 10.0, 1.0, tr(" m"), tr("Length of the cable"), this)),
      power_gauge_(form::gauges(tr("Gauge of the cable's VBUS"), 24, this)),
      ground_gauge_(form::gauges(tr("Gauge of the cable's ground"), 24, this)),
      mark_(new QComboBox(this)),
      volts_(form::spin(5.0, 48.0, 20.0, tr(" V"), tr("Most volts that the machine asks for"), this)),
      watts_(form::spin(5.0, 240.0, 60.0, tr(" W"), tr("Watts that the machine can use"), this)),
      least_watts_(form::spin(0.0, 240.0, 30.0, tr(" W"), tr("Watts below which it does not charge"), this)),
      contract_(form::wrapped(this, tr("Expected contract"))),
      expected_(form::wrapped(this, tr("What the meter should show"))),
      notes_(form::wrapped(this, tr("What does not fit"))),
      cc1_(form::spin(-0.3, 22.0, 0.0, tr(" V"), tr("Volts at CC1"), this)),
      cc2_(form::spin(-0.3, 22.0, 0.0, tr(" V"), tr("Volts at CC2"), this)),
      cc_finding_(form::wrapped(this, tr("What the CC volts mean"))) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 10, 14, 8);
    row->setSpacing(18);
    row->addWidget(makeQuestions());
    row->addWidget(makeAnswers(), 1);
    row->addWidget(makeCcPins());
    connect(&session_, &JobSession::opened, this, &CheckPage::takeMachine);
    connect(&session_, &JobSession::changed, this, &CheckPage::takeMachine);
    takeMachine();
    workOut();
    readCc();
}

QWidget* CheckPage::makeQuestions() {
    auto* side = new QWidget(this);
    side->setFixedWidth(questions_width);
    mark_->addItem(tr("none: 3 A"));
    mark_->addItem(tr("marked for 5 A"));
    mark_->addItem(tr("5 A, more than 20 V"));
    mark_->setAccessibleName(tr("Electronic mark of the cable"));
    mark_->setToolTip(tr("5 A cables carry a chip that says so; the meter or the print on the plug tells"));
    label_->setFixedHeight(label_height);
    label_->setTabChangesFocus(true);
    label_->setAccessibleName(tr("The charger's label"));
    length_->setSingleStep(0.1);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form::title(tr("The charger's label"), side));
    column->addWidget(label_);
    column->addSpacing(6);
    column->addWidget(form::title(tr("The cable"), side));
    auto* wires = new QFormLayout;
    wires->addRow(tr("Length"), length_);
    wires->addRow(tr("VBUS wire"), power_gauge_);
    wires->addRow(tr("Ground wire"), ground_gauge_);
    wires->addRow(tr("Mark"), mark_);
    column->addLayout(wires);
    column->addSpacing(6);
    column->addWidget(form::title(tr("The machine"), side));
    auto* demand = new QFormLayout;
    demand->addRow(tr("Asks for up to"), volts_);
    demand->addRow(tr("Can use"), watts_);
    demand->addRow(tr("Needs at least"), least_watts_);
    column->addLayout(demand);
    column->addStretch(1);
    connect(label_, &QPlainTextEdit::textChanged, this, &CheckPage::workOut);
    for (QDoubleSpinBox* box : {length_, volts_, watts_, least_watts_})
        connect(box, &QDoubleSpinBox::valueChanged, this, &CheckPage::workOut);
    for (QComboBox* box : {power_gauge_, ground_gauge_, mark_})
        connect(box, &QComboBox::currentIndexChanged, this, &CheckPage::workOut);
    return side;
}

QWidget* CheckPage::makeAnswers() {
    auto* middle = new QWidget(this);
    contract_->setFont(theme::text_font(1.6, true));
    plot_ = new QCustomPlot(middle);
    form::dress(*plot_, tr("amps"), tr("volts at the machine"));
    const auto& c = theme::colours();
    auto* allowed = plot_->addGraph();
    allowed->setPen(QPen(c.soft_ink, 1, Qt::DotLine));
    plug_ = plot_->addGraph();
    plug_->setPen(QPen(c.volts, 2));
    point_ = plot_->addGraph();
    point_->setLineStyle(QCPGraph::lsNone);
    point_->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, c.suspicion, 10));
    plot_->setMinimumHeight(180);
    auto* column = new QVBoxLayout(middle);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form::title(tr("Expect"), middle));
    column->addWidget(contract_);
    column->addWidget(expected_);
    column->addWidget(plot_, 1);
    column->addWidget(notes_);
    return middle;
}

QWidget* CheckPage::makeCcPins() {
    auto* side = new QWidget(this);
    side->setFixedWidth(pins_width);
    for (QDoubleSpinBox* box : {cc1_, cc2_}) {
        box->setDecimals(3);
        box->setSingleStep(0.05);
        connect(box, &QDoubleSpinBox::valueChanged, this, &CheckPage::readCc);
    }
    auto* pins = new QFormLayout;
    pins->addRow(tr("CC1"), cc1_);
    pins->addRow(tr("CC2"), cc2_);
    QString table = QStringLiteral(
                        "<table cellspacing='0' cellpadding='2'><tr><td><b>%1</b>&nbsp;&nbsp;</td>"
                        "<td><b>%2</b>&nbsp;&nbsp;</td><td><b>%3</b></td></tr>")
                        .arg(tr("offers"), tr("over 5.1 kΩ"), tr("a sink takes"));
    for (const SourceCurrent current :
         {SourceCurrent::usb_default, SourceCurrent::amps_1_5, SourceCurrent::amps_3}) {
        const VoltRange range = sink_range(current);
        table += QStringLiteral("<tr><td>%1</td><td>%2 V</td><td>%3–%4 V</td></tr>")
                     .arg(format::qt(to_text(current)))
                     .arg(format::number(cc_volts(current_source_of(current), rd_ohms), 2))
                     .arg(format::number(range.least, 2))
                     .arg(format::number(range.most, 2));
    }
    auto* known = form::wrapped(side, tr("What CC volts are usual"));
    form::show_html(known, table + QStringLiteral("</table>"));
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form::title(tr("Volts at the CC pins"), side));
    auto* how = form::wrapped(side, tr("How to measure"));
    how->setProperty("role", "soft");
    how->setText(tr("At the machine's receptacle, charger plugged in, black probe on the shell."));
    column->addWidget(how);
    column->addLayout(pins);
    column->addWidget(cc_finding_);
    column->addSpacing(12);
    column->addWidget(known);
    column->addStretch(1);
    return side;
}

void CheckPage::takeMachine() {
    const Topology* topology =
        session_.hasJob() ? knowledge_.find_topology(session_.job().ticket.topology) : nullptr;
    if (topology == nullptr || topology->id == taken_from_)
        return;
    taken_from_ = topology->id;
    volts_->setValue(topology->wanted_volts);
    const auto& ports = topology->ports;
    const auto port =
        std::find_if(ports.begin(), ports.end(), [](const Port& p) { return p.family == "usb-c"; });
    if (port == ports.end())
        return;
    const auto own = std::find_if(topology->chargers.begin(), topology->chargers.end(),
                                  [&](const ChargerSpec& charger) { return charger.id == port->charger; });
    const ChargerSpec* charger =
        own != topology->chargers.end() ? &*own : knowledge_.kit.find_charger(port->charger);
    if (charger == nullptr || charger->offers.empty())
        return;
    const double watts = charger->offers.back().volts * charger->offers.back().amps;
    watts_->setValue(watts);
    least_watts_->setValue(least_share_of_watts * watts);
    QStringList label;
    for (const ChargerOffer& offer : charger->offers)
        label += format::qt(machine_number("%gV ", offer.volts) + machine_number("%gA", offer.amps));
    label_->setPlainText(label.join(", "));
}

CableFacts CheckPage::cable() const {
    CableFacts facts;
    facts.length_m = length_->value();
    facts.power_gauge = power_gauge_->currentData().toDouble();
    facts.ground_gauge = ground_gauge_->currentData().toDouble();
    facts.marked_5_amps = mark_->currentIndex() >= 1;
    facts.extended = mark_->currentIndex() >= 2;
    return facts;
}

MachineDemand CheckPage::machine() const {
    MachineDemand demand;
    demand.most_volts = volts_->value();
    demand.watts = watts_->value();
    demand.least_watts = least_watts_->value();
    return demand;
}

void CheckPage::workOut() {
    const auto offers = parse_label(label_->toPlainText().toStdString());
    const auto check =
        offers ? check_supply(*offers, cable(), machine()) : Result<SupplyCheck>(offers.error());
    if (check) {
        show(*check);
        return;
    }
    contract_->setText(tr("–"));
    form::show_plain(expected_, format::qt(check.error().text()));
    notes_->clear();
    for (int g = 0; g < plot_->graphCount(); ++g)
        plot_->graph(g)->data()->clear();
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

void CheckPage::show(const SupplyCheck& check) {
    const double volts = check.contract.most_volts;
    contract_->setText(
        tr("%1: %2 W").arg(format::qt(describe(check.contract))).arg(format::figures(check.watts, 3)));
    form::show_html(expected_,
                    tr("Meter at the charger: <b>%1 V</b>, within 5 %. Meter at the machine, charging "
                       "hard: <b>%2 V, %3 A</b> "
                       "(%4 W). The cable takes %5 V on VBUS and %6 V on ground, %7 W; its loop has %8.")
                        .arg(format::number(volts, 1))
                        .arg(format::number(check.plug_volts, 2))
                        .arg(format::number(check.load_amps, 2))
                        .arg(format::number(check.load_watts, 0))
                        .arg(format::number(check.power_drop_volts, 2))
                        .arg(format::number(check.ground_drop_volts, 2))
                        .arg(format::number(check.cable_watts, 1))
                        .arg(format::qt(format_quantity(check.loop_ohms, Unit::ohms))));
    QString notes;
    for (const CheckNote& note : check.notes)
        notes += form::paragraph(weight_of(note.weight), format::qt(note.says));
    form::show_html(notes_, notes);
    QVector<double> amps;
    QVector<double> at_plug;
    for (int i = 0; i <= plot_points; ++i) {
        amps << check.contract.amps * i / plot_points;
        at_plug << volts - check.loop_ohms * amps.back();
    }
    plug_->setData(amps, at_plug, true);
    point_->setData({check.load_amps}, {check.plug_volts}, true);
    plot_->graph(0)->setData({0.0, check.contract.amps},
                             {volts - allowed_drop_volts, volts - allowed_drop_volts}, true);
    plot_->xAxis->setRange(0.0, check.contract.amps * 1.02);
    const double lowest = std::min(at_plug.back(), volts - allowed_drop_volts);
    plot_->yAxis->setRange(lowest - 0.15 * (volts - lowest), volts + 0.15 * (volts - lowest));
    plot_->clearItems();
    auto* word = new QCPItemText(plot_);
    word->setText(tr("as far as a cable may drop"));
    word->setFont(theme::text_font(0.82));
    word->setColor(theme::colours().soft_ink);
    word->setPositionAlignment(Qt::AlignLeft | Qt::AlignBottom);
    word->position->setCoords(0.02 * check.contract.amps, volts - allowed_drop_volts);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

void CheckPage::readCc() {
    form::show_html(cc_finding_,
                    QStringLiteral("<b>%1</b>")
                        .arg(format::qt(read_cc(cc1_->value(), cc2_->value()).says).toHtmlEscaped()));
}

}  // namespace eh
