// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/trace/ohms_panel.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <cmath>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "core/electrics/engineering.h"
#include "core/readings/port_ohms.h"
#include "instruments/multimeter.h"

namespace eh {
namespace {

constexpr double looked_back_s = 2.0;

QLabel* paragraph_of(QWidget* parent, const QString& name) {
    auto* label = new QLabel(parent);
    label->setWordWrap(true);
    label->setAccessibleName(name);
    return label;
}

QLabel* heading_of(const QString& text, QWidget* parent) {
    auto* label = new QLabel(text, parent);
    label->setFont(theme::text_font(1.0, true));
    return label;
}

QString ohms_text(double ohms) {
    return format::qt(format_quantity(ohms, Unit::ohms));
}

QString words_of(SourceOhms verdict) {
    switch (verdict) {
        case SourceOhms::high:
            return OhmsPanel::tr(
                "More than a charger's droop and a cable within its allowed drop: try another cable, then "
                "another charger.");
        case SourceOhms::rising:
            return OhmsPanel::tr("The volts rise with the load: this charger makes up for its cable.");
        case SourceOhms::usual:
            break;
    }
    return OhmsPanel::tr(
        "A charger's droop and its cable; some chargers make up for their cable. The contact of the inlet is "
        "not in it.");
}

QString words_of(ContactOhms verdict) {
    switch (verdict) {
        case ContactOhms::hot:
            return OhmsPanel::tr(
                "The plug gets warm: do not leave it charging unattended; the contact is worn or burnt.");
        case ContactOhms::above_new:
            return OhmsPanel::tr("More than a new contact has (%1).").arg(ohms_text(new_contact_ohms));
        case ContactOhms::cannot_tell:
            break;
    }
    return OhmsPanel::tr("Within what the two instruments can tell: more current makes it sharper.");
}

}  // namespace

OhmsPanel::OhmsPanel(JobSession& session, const MeterRecording& recording, const MeterFeed& feed,
                     Multimeter& multimeter, const Knowledge& knowledge, QWidget* parent)
    : QWidget(parent),
      session_(session),
      recording_(recording),
      feed_(feed),
      multimeter_(multimeter),
      knowledge_(knowledge),
      source_(paragraph_of(this, tr("Ohms upstream of the meter"))),
      need_(paragraph_of(this, tr("Which reading is needed"))),
      contact_(paragraph_of(this, tr("Ohms of the contact"))),
      board_volts_(new QDoubleSpinBox(this)),
      from_multimeter_(new QPushButton(tr("From the &multimeter"), this)) {
    board_volts_->setRange(0.0, 60.0);
    board_volts_->setDecimals(3);
    board_volts_->setSuffix(tr(" V"));
    board_volts_->setSpecialValueText(tr("not measured"));
    board_volts_->setAccessibleName(tr("Volts on the board behind the inlet"));
    auto* left = new QVBoxLayout;
    left->addWidget(heading_of(tr("Upstream of the meter: charger and cable"), this));
    left->addWidget(source_);
    left->addStretch(1);
    auto* entry = new QHBoxLayout;
    entry->addWidget(board_volts_);
    entry->addWidget(from_multimeter_);
    entry->addStretch(1);
    auto* right = new QVBoxLayout;
    right->addWidget(heading_of(tr("Downstream: the inlet's contact"), this));
    right->addWidget(need_);
    right->addLayout(entry);
    right->addWidget(contact_);
    right->addStretch(1);
    auto* row = new QHBoxLayout(this);
    row->setSpacing(24);
    row->addLayout(left, 1);
    row->addLayout(right, 1);
    connect(board_volts_, &QDoubleSpinBox::valueChanged, this, &OhmsPanel::workOut);
    connect(from_multimeter_, &QPushButton::clicked, this, &OhmsPanel::takeMultimeter);
    connect(&session_, &JobSession::opened, this, [this] { board_volts_->setValue(0.0); });
    show({});
}

void OhmsPanel::show(const TraceReading& reading) {
    if (!reading.source) {
        form::show_plain(
            source_,
            tr("Not enough to tell: within one contract the machine's current has to move by 0.2 A or more. "
               "Start "
               "the machine, or let it begin to charge, while the meter records."));
    } else {
        const ResistanceEstimate& found = *reading.source;
        QString text = tr("<b>%1</b> (95 %: %2 to %3), from %4 A of movement; %5 without load.")
                           .arg(ohms_text(found.ohms), ohms_text(found.low_ohms), ohms_text(found.high_ohms))
                           .arg(format::number(found.amps_span, 2))
                           .arg(format::qt(format_quantity(found.volts_at_no_load, Unit::volts)));
        text += QStringLiteral("<br>");
        text += words_of(judge_source(found));
        form::show_html(source_, text);
    }
    const Topology* topology =
        session_.hasJob() ? knowledge_.find_topology(session_.job().ticket.topology) : nullptr;
    const Port* port = topology == nullptr ? nullptr : topology->find_port(session_.job().bench.port);
    const Net* net = port == nullptr ? nullptr : topology->find_net(port->vbus);
    need_->setText(
        net == nullptr
            ? tr("Measure the volts on the board behind the inlet while the machine draws current.")
            : tr("Measure the volts of “%1” on the board, while the machine draws current at %2, and "
                 "write them here.")
                  .arg(format::qt(net->title), format::qt(port->title)));
    from_multimeter_->setVisible(multimeter_.line().ready());
    workOut();
}

void OhmsPanel::takeMultimeter() {
    const auto value = multimeter_.value();
    if (multimeter_.function() == MultimeterFunction::volts && value && std::isfinite(*value))
        board_volts_->setValue(*value);
    else
        form::show_plain(
            contact_, tr("Set the multimeter to volts on the page of instruments, and put its probe there."));
}

void OhmsPanel::workOut() {
    if (board_volts_->value() <= 0.0) {
        contact_->clear();
        return;
    }
    const MeterSummary live = recording_.lastSeconds(feed_.now_s(), looked_back_s);
    const auto found = judge_contact(live, board_volts_->value());
    if (!found) {
        form::show_plain(contact_,
                         tr("The meter has to show a steady level and at least 0.1 A at the same time."));
        return;
    }
    const ContactResistance& contact = found->contact;
    QString text = tr("<b>%1</b> ± %2 at %3, %4 of heat in the contact.")
                       .arg(ohms_text(contact.ohms), ohms_text(found->margin_ohms),
                            format::qt(format_quantity(live.amps, Unit::amps)),
                            format::qt(format_quantity(std::max(0.0, contact.heat_watts), Unit::watts, 2)));
    text += QStringLiteral("<br>") + words_of(found->verdict);
    form::show_html(contact_, text);
}

}  // namespace eh
