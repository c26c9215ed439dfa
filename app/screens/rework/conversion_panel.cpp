// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/rework/conversion_panel.h"

#include <QDateTime>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/screens/rework/room_drawing.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "core/base/text.h"

namespace eh {
namespace {

constexpr int conversion_questions_width = 330;
constexpr int conversion_side_width = 320;
constexpr double usual_stopgap_days = 14.0;
constexpr double ms_a_day = 86400e3;

QString hours(double value) {
    return value > 0.0 ? format::minutes(60.0 * value) : ConversionPanel::tr("not at all");
}

form::Weight weight_of(ConversionWeight weight) {
    return weight == ConversionWeight::problem ? form::Weight::problem
           : weight == ConversionWeight::limit ? form::Weight::note
                                               : form::Weight::fine;
}

}  // namespace

ConversionPanel::ConversionPanel(JobSession& session, const Knowledge& knowledge, ShopParts& parts,
                                 QWidget* parent)
    : QWidget(parent),
      session_(session),
      knowledge_(knowledge),
      parts_(parts),
      adapter_volts_(form::spin(5, 24, 19.0, tr(" V"), tr("Volts of the old adapter"), this, 1)),
      adapter_watts_(form::spin(1, 330, 65, tr(" W"), tr("Watts of the old adapter"), this, 0)),
      input_limit_(form::spin(0, 60, 0, tr(" V"), tr("Over-voltage limit of the input"), this, 1)),
      capacitors_(form::spin(6, 100, 25, tr(" V"), tr("Rating of the input capacitors"), this, 0)),
      idle_(form::spin(1, 200, 12, tr(" W"), tr("Watts when idle"), this, 0)),
      charging_(form::spin(1, 330, 44, tr(" W"), tr("Watts when charging"), this, 0)),
      battery_(form::spin(5, 120, 50, tr(" Wh"), tr("Battery"), this, 0)),
      id_(form::choice(tr("How the adapter is known"), this)),
      id_ohms_(form::spin(1, 1e6, 10000, tr(" Ω"), tr("Ohms of the ID"), this, 0)),
      id_watts_(form::spin(0, 330, 0, tr(" W"), tr("Watts that the ID stands for"), this, 0)),
      source_(new QLineEdit("5V 3A, 9V 3A, 15V 3A, 20V 3.25A", this)),
      source_watts_(form::spin(5, 240, 65, tr(" W"), tr("Watts of the source"), this, 0)),
      bank_(form::spin(0, 300, 0, tr(" Wh"), tr("Power bank"), this, 0)),
      trigger_volts_(form::spin(5, 48, 20, tr(" V"), tr("Volts that the trigger asks for"), this, 0)),
      trigger_amps_(form::spin(0.5, 10, 5, tr(" A"), tr("Amps that the trigger board stands"), this, 1)),
      fallback_(form::choice(tr("What the trigger does without its volts"), this)),
      cable_length_(form::spin(0.1, 10, 1, tr(" m"), tr("Length of the cable"), this, 1)),
      cable_gauge_(form::gauges(tr("Wires of the cable"), 24, this)),
      marked_(new QCheckBox(tr("cable marked for 5 A"), this)),
      lead_gauge_(form::gauges(tr("Wires to the board"), 20, this)),
      lead_length_(form::spin(0, 300, 10, tr(" cm"), tr("Length of the wires to the board"), this, 0)),
      verdict_(form::wrapped(this, tr("Verdict"))),
      expected_(form::wrapped(this, tr("What the meter should show"))),
      notes_(form::wrapped(this, tr("Limits and problems"))),
      checklist_(form::wrapped(this, tr("Check list"))),
      drawing_(new RoomDrawing(this)),
      stopgap_view_(new QListView(this)),
      stopgap_list_(new QStringListModel(this)),
      days_(form::spin(1, 365, usual_stopgap_days, tr(" days"), tr("Due in"), this, 0)),
      add_stopgap_(new QPushButton(tr("&Note a stopgap"), this)),
      end_stopgap_(new QPushButton(tr("Is &gone"), this)) {
    constexpr double usual_room[6] = {4, 16, 10, 6, 20, 12};
    const QString names[6] = {tr("Trigger board, height"), tr("Trigger board, depth"),
                              tr("Trigger board, width"),  tr("Space, height"),
                              tr("Space, depth"),          tr("Space, width")};
    for (int i = 0; i < 6; ++i)
        room_[i] = form::spin(0.5, 100, usual_room[i], tr(" mm"), names[i], this, 1);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 10, 14, 8);
    row->setSpacing(16);
    row->addWidget(makeQuestions());
    row->addWidget(makeAnswers(), 1);
    row->addWidget(makeSide());
    connect(&session_, &JobSession::opened, this, &ConversionPanel::takeMachine);
    connect(&session_, &JobSession::changed, this, &ConversionPanel::takeMachine);
    connect(&parts_, &ShopParts::changed, this, &ConversionPanel::showStopgaps);
    takeMachine();
    workOut();
    showStopgaps();
}

QWidget* ConversionPanel::makeQuestions() {
    auto* content = new QWidget(this);
    for (const IdScheme scheme :
         {IdScheme::none, IdScheme::resistor_to_ground, IdScheme::divider, IdScheme::one_wire_data})
        id_->addItem(format::qt(describe(scheme)), static_cast<int>(scheme));
    for (const TriggerFallback fallback :
         {TriggerFallback::next_lower, TriggerFallback::nothing, TriggerFallback::stays_at_5})
        fallback_->addItem(format::qt(describe(fallback)), static_cast<int>(fallback));
    input_limit_->setSpecialValueText(tr("not known"));
    bank_->setSpecialValueText(tr("a charger"));
    id_watts_->setSpecialValueText(tr("as the adapter"));
    source_->setAccessibleName(tr("The source's label"));
    marked_->setAccessibleName(tr("Cable marked for 5 A"));
    auto* column = new QVBoxLayout(content);
    column->setContentsMargins(0, 0, 8, 0);
    // One form, so that all fields stand in one line.
    auto* layout = new QFormLayout;
    layout->setVerticalSpacing(4);
    column->addLayout(layout);
    const auto group = [&](const QString& name, std::initializer_list<std::pair<QString, QWidget*>> rows) {
        layout->addRow(form::title(name, content));
        for (const auto& [label, widget] : rows)
            layout->addRow(label, widget);
    };
    group(tr("The machine"), {{tr("Adapter"), adapter_volts_},
                              {QString(), adapter_watts_},
                              {tr("Input limit"), input_limit_},
                              {tr("Capacitors"), capacitors_},
                              {tr("Idle"), idle_},
                              {tr("Charging"), charging_},
                              {tr("Battery"), battery_},
                              {tr("ID"), id_},
                              {tr("ID ohms"), id_ohms_},
                              {tr("ID stands for"), id_watts_}});
    group(tr("The source"), {{tr("Label"), source_},
                             {tr("Watts"), source_watts_},
                             {tr("Power bank"), bank_},
                             {tr("Trigger asks"), trigger_volts_},
                             {tr("stands"), trigger_amps_},
                             {tr("Without that"), fallback_},
                             {tr("Cable"), cable_length_},
                             {QString(), cable_gauge_},
                             {QString(), marked_}});
    group(tr("Wires and room"), {{tr("Wires"), lead_gauge_},
                                 {tr("Each long"), lead_length_},
                                 {tr("Board high"), room_[0]},
                                 {tr("deep"), room_[1]},
                                 {tr("wide"), room_[2]},
                                 {tr("Space high"), room_[3]},
                                 {tr("deep"), room_[4]},
                                 {tr("wide"), room_[5]}});
    column->addStretch(1);
    content->setFixedWidth(conversion_questions_width);
    QScrollArea* const scroll = form::scrolled(content);
    for (QDoubleSpinBox* box : findChildren<QDoubleSpinBox*>())
        if (box != days_)
            connect(box, &QDoubleSpinBox::valueChanged, this, &ConversionPanel::workOut);
    for (QComboBox* box : {id_, fallback_, cable_gauge_, lead_gauge_})
        connect(box, &QComboBox::currentIndexChanged, this, &ConversionPanel::workOut);
    connect(marked_, &QCheckBox::toggled, this, &ConversionPanel::workOut);
    connect(source_, &QLineEdit::textChanged, this, &ConversionPanel::workOut);
    return scroll;
}

QWidget* ConversionPanel::makeAnswers() {
    auto* middle = new QWidget(this);
    verdict_->setFont(theme::text_font(1.6, true));
    auto* column = new QVBoxLayout(middle);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form::title(tr("Barrel to USB-C"), middle));
    column->addWidget(verdict_);
    column->addWidget(expected_);
    column->addSpacing(4);
    column->addWidget(notes_);
    column->addWidget(drawing_, 1);
    return middle;
}

QWidget* ConversionPanel::makeSide() {
    auto* side = new QWidget(this);
    side->setFixedWidth(conversion_side_width);
    auto* caution = form::wrapped(side, tr("Caution"));
    caution->setProperty("role", "caution");
    caution->setText(
        tr("A conversion stands for the maker's adapter: a short behind it has only the source's limit "
           "against fire. Insulate, relieve the strain, test under load before the case is closed. Local "
           "rules come first."));
    stopgap_view_->setModel(stopgap_list_);
    stopgap_view_->setAccessibleName(tr("Stopgaps that must come back"));
    stopgap_view_->setWordWrap(true);
    stopgap_view_->setMaximumHeight(120);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(add_stopgap_);
    buttons->addWidget(days_);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form::title(tr("Before it is closed"), side));
    column->addWidget(checklist_);
    column->addStretch(1);
    column->addWidget(form::title(tr("Stopgaps that must come back"), side));
    column->addWidget(stopgap_view_);
    column->addLayout(buttons);
    column->addWidget(end_stopgap_, 0, Qt::AlignLeft);
    column->addWidget(caution);
    connect(add_stopgap_, &QPushButton::clicked, this, &ConversionPanel::addStopgap);
    connect(end_stopgap_, &QPushButton::clicked, this, &ConversionPanel::endStopgap);
    return side;
}

void ConversionPanel::takeMachine() {
    const Topology* topology =
        session_.hasJob() ? knowledge_.find_topology(session_.job().ticket.topology) : nullptr;
    if (topology == nullptr || topology->id == taken_from_)
        return;
    taken_from_ = topology->id;
    for (const Port& port : topology->ports) {
        if (port.family == "usb-c")
            continue;
        const ChargerSpec* charger = find_charger(knowledge_.kit, *topology, port.charger);
        if (charger == nullptr || charger->offers.empty())
            continue;
        const ChargerOffer& offer = charger->offers.back();
        adapter_volts_->setValue(offer.volts);
        adapter_watts_->setValue(offer.volts * offer.amps);
        // A centre pin to ground is what the barrel machines of the kit have.
        id_->setCurrentIndex(id_->findData(
            static_cast<int>(port.family == "barrel" ? IdScheme::resistor_to_ground : IdScheme::none)));
    }
}

ConvertedMachine ConversionPanel::machine() const {
    ConvertedMachine machine;
    machine.adapter_volts = adapter_volts_->value();
    machine.adapter_watts = adapter_watts_->value();
    if (input_limit_->value() > 0.0)
        machine.input_limit_volts = input_limit_->value();
    machine.capacitor_rating_volts = capacitors_->value();
    machine.idle_watts = idle_->value();
    machine.charging_watts = charging_->value();
    machine.battery_wh = battery_->value();
    machine.id = static_cast<IdScheme>(id_->currentData().toInt());
    machine.id_ohms = id_ohms_->value();
    machine.id_watts_step = id_watts_->value();
    return machine;
}

ConversionParts ConversionPanel::conversionParts() const {
    ConversionParts parts;
    parts.source_watts = source_watts_->value();
    parts.bank_wh = bank_->value();
    parts.trigger_volts = trigger_volts_->value();
    parts.trigger_amps = trigger_amps_->value();
    parts.cable.length_m = cable_length_->value();
    parts.cable.power_gauge = parts.cable.ground_gauge = cable_gauge_->currentData().toDouble();
    parts.cable.marked_5_amps = marked_->isChecked();
    parts.fallback = static_cast<TriggerFallback>(fallback_->currentData().toInt());
    parts.lead_gauge = lead_gauge_->currentData().toDouble();
    parts.lead_length_m = lead_length_->value() / 100.0;
    parts.board_height_mm = room_[0]->value();
    parts.board_depth_mm = room_[1]->value();
    parts.board_width_mm = room_[2]->value();
    parts.space_height_mm = room_[3]->value();
    parts.space_depth_mm = room_[4]->value();
    parts.space_width_mm = room_[5]->value();
    return parts;
}

void ConversionPanel::workOut() {
    ConversionParts parts = conversionParts();
    drawing_->show(parts);
    const auto label = parse_label(source_->text().toStdString());
    const auto refuse = [this](const std::string& sentence) {
        verdict_->setText(tr("Not like this"));
        verdict_->setStyleSheet(QStringLiteral("color: %1").arg(theme::colours().bad.name()));
        expected_->clear();
        checklist_->clear();
        form::show_html(notes_, form::paragraph(form::Weight::problem, format::qt(sentence)));
    };
    if (!label)
        return refuse(label.error().text());
    parts.source = *label;
    const auto plan = plan_conversion(machine(), parts);
    if (!plan)
        return refuse(plan.error().text());
    show(*plan);
}

void ConversionPanel::show(const ConversionPlan& plan) {
    const auto& c = theme::colours();
    const QColor ink = plan.verdict == Conversion::works               ? c.good
                       : plan.verdict == Conversion::works_with_limits ? c.suspicion
                                                                       : c.bad;
    QString verdict = format::qt(describe(plan.verdict));
    verdict[0] = verdict[0].toUpper();
    verdict_->setText(verdict);
    verdict_->setStyleSheet(QStringLiteral("color: %1").arg(ink.name()));
    form::show_html(
        expected_,
        plan.contract_volts == 0.0
            ? tr("No volts arrive at the machine.")
            : tr("The meter should show <b>%1 V, %2 A</b> idle and <b>%3 V, %4 A</b> (%5 W) charging. The "
                 "contract is "
                 "%6 V, %7 % against the adapter; at its upper limit the source holds %8 V, %9 % above.")
                      .arg(format::number(plan.idle_volts, 1))
                      .arg(format::number(plan.idle_amps, 2))
                      .arg(format::number(plan.charging_volts, 1))
                      .arg(format::number(plan.charging_amps, 2))
                      .arg(format::number(plan.charging_watts, 0))
                      .arg(format::number(plan.contract_volts, 0))
                      .arg((plan.above_adapter < 0 ? QString() : QStringLiteral("+")) +
                           format::number(100.0 * plan.above_adapter, 1))
                      .arg(format::number(plan.highest_volts, 1))
                      .arg(format::number(100.0 * plan.highest_above_adapter, 1)) +
                  tr(" Charged from empty in <b>%1</b> when off, %2 when running.")
                      .arg(hours(plan.charge_hours_off), hours(plan.charge_hours_running)) +
                  (plan.bank_hours > 0.0 ? tr(" The power bank runs it for %1.").arg(hours(plan.bank_hours))
                                         : QString()));
    QString notes;
    for (const ConversionNote& note : plan.notes)
        notes += form::paragraph(weight_of(note.weight), format::qt(note.says));
    notes += form::paragraph(form::Weight::fine, tr("ID: %1").arg(format::qt(plan.id_how)));
    notes += form::paragraph(form::Weight::fine, tr("Label for the case: “%1”").arg(format::qt(plan.label)));
    form::show_html(notes_, notes);
    QStringList list;
    for (const std::string& item : plan.checklist)
        list << QStringLiteral("☐ ") + format::qt(item);
    form::show_html(checklist_, form::paragraphs(list));
}

void ConversionPanel::showStopgaps() {
    open_ = open_stopgaps(parts_.stopgaps());
    const qint64 now = QDateTime::currentMSecsSinceEpoch();
    QStringList lines;
    for (const Stopgap& stopgap : open_)
        lines << (stopgap.due_ms < now ? tr("overdue since %1: %2 (%3)") : tr("by %1: %2 (%3)"))
                     .arg(format::dateTime(stopgap.due_ms), format::qt(stopgap.what),
                          format::qt(stopgap.job));
    stopgap_list_->setStringList(lines);
    end_stopgap_->setEnabled(!lines.isEmpty());
}

void ConversionPanel::addStopgap() {
    if (!session_.hasJob()) {
        emit said(tr("Open the job that the stopgap belongs to first."));
        return;
    }
    Stopgap stopgap;
    stopgap.job = session_.job().ticket.number;
    stopgap.what =
        tr("conversion or lead on %1").arg(format::qt(session_.job().ticket.machine)).toStdString();
    stopgap.made_ms = QDateTime::currentMSecsSinceEpoch();
    stopgap.due_ms = stopgap.made_ms + static_cast<std::int64_t>(days_->value() * ms_a_day);
    parts_.editStopgaps(tr("Stopgap"), [&](std::vector<Stopgap>& list) {
        stopgap.id = "g" + integer_text(list.size() + 1);
        list.push_back(stopgap);
    });
    emit said(tr("Noted: due %1.").arg(format::dateTime(stopgap.due_ms)));
}

void ConversionPanel::endStopgap() {
    const int row = std::max(0, stopgap_view_->currentIndex().row());
    if (row >= static_cast<int>(open_.size()))
        return;
    const std::string id = open_[static_cast<std::size_t>(row)].id;
    parts_.editStopgaps(tr("Stopgap gone"), [&](std::vector<Stopgap>& list) {
        for (Stopgap& stopgap : list)
            if (stopgap.id == id)
                stopgap.done = true;
    });
}

}  // namespace eh
