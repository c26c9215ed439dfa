// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/trace/ports_panel.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr int pairs_width = 430;

QString mark_of(Likeness likeness) {
    switch (likeness) {
        case Likeness::alike:
            return PortsPanel::tr("alike");
        case Likeness::different:
            return PortsPanel::tr("<b>different</b>");
        case Likeness::cannot_tell:
            break;
    }
    return PortsPanel::tr("cannot tell");
}

}  // namespace

PortsPanel::PortsPanel(JobSession& session, const Knowledge& knowledge, QWidget* parent)
    : QWidget(parent),
      session_(session),
      knowledge_(knowledge),
      verdict_(new QLabel(this)),
      table_(new QTableWidget(0, 6, this)),
      pairs_(new QLabel(this)) {
    verdict_->setWordWrap(true);
    verdict_->setFont(theme::text_font(1.05, true));
    verdict_->setAccessibleName(tr("Whether the ports are alike"));
    table_->setHorizontalHeaderLabels(
        {tr("Port"), tr("Battery"), tr("Charger"), tr("Volts"), tr("Amps"), tr("Readings")});
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    table_->verticalHeader()->hide();
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionMode(QAbstractItemView::NoSelection);
    table_->setFocusPolicy(Qt::NoFocus);
    table_->setAccessibleName(tr("Ports as measured"));
    pairs_->setWordWrap(true);
    pairs_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    pairs_->setFixedWidth(pairs_width);
    pairs_->setAccessibleName(tr("Ports, sides and battery compared"));
    auto* row = new QHBoxLayout;
    row->addWidget(table_, 1);
    row->addWidget(pairs_);
    auto* column = new QVBoxLayout(this);
    column->addWidget(verdict_);
    column->addLayout(row, 1);
    connect(&session_, &JobSession::changed, this, &PortsPanel::refresh);
    connect(&session_, &JobSession::opened, this, &PortsPanel::refresh);
    refresh();
}

void PortsPanel::refresh() {
    const Topology* topology =
        session_.hasJob() ? knowledge_.find_topology(session_.job().ticket.topology) : nullptr;
    table_->setRowCount(0);
    pairs_->clear();
    if (topology == nullptr) {
        verdict_->setText(tr("Open a job and choose the machine's kind: its ports are compared here."));
        return;
    }
    const PortSurvey survey = survey_ports(session_.job().readings, *topology);
    verdict_->setText(format::qt(survey.says));
    table_->setRowCount(static_cast<int>(survey.rows.size()));
    const auto name = [&](const PortRow& row) {
        const Port* port = topology->find_port(row.port);
        const QString title = format::qt(port == nullptr ? row.port : port->title);
        const bool turns = port != nullptr && port->family == "usb-c";
        return turns ? tr("%1, side %2").arg(title, row.side == PlugSide::a ? "A" : "B") : title;
    };
    for (std::size_t i = 0; i < survey.rows.size(); ++i) {
        const PortRow& row = survey.rows[i];
        const bool numbers = row.pattern == MeterPattern::steady || row.pattern == MeterPattern::cycling;
        const QString pattern = format::qt(to_text(row.pattern));
        const QString volts = numbers ? format::qt(format_quantity(row.volts, Unit::volts)) : pattern;
        const QString amps =
            row.amps_known ? QStringLiteral("%1 A").arg(format::number(row.amps, 3)) : tr("–");
        const QStringList cells{name(row),
                                row.battery_in ? tr("in") : tr("out"),
                                row.charger == Owner::bench ? tr("ours") : tr("theirs"),
                                row.pattern == MeterPattern::cycling ? tr("%1, cycling").arg(volts) : volts,
                                amps,
                                QString::number(row.readings)};
        for (int c = 0; c < cells.size(); ++c) {
            auto* cell = new QTableWidgetItem(cells[c]);
            if (c >= 3) {
                cell->setFont(theme::number_font(0.95));
                cell->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            }
            table_->setItem(static_cast<int>(i), c, cell);
        }
    }
    for (int c = 1; c < table_->columnCount(); ++c)
        table_->resizeColumnToContents(c);
    QString text;
    const auto list = [&](const QString& heading, const std::vector<PortComparison>& pairs, auto&& names) {
        if (pairs.empty())
            return;
        text += QStringLiteral("<b>%1</b><br>").arg(heading);
        for (const PortComparison& pair : pairs)
            text += QStringLiteral("%1: %2, %3<br>")
                        .arg(names(pair).toHtmlEscaped(), mark_of(pair.likeness),
                             format::qt(pair.why).toHtmlEscaped());
    };
    const auto first = [&](const PortComparison& pair) { return name(survey.rows[pair.first]); };
    list(tr("Port against port"), survey.of_ports, [&](const PortComparison& pair) {
        return tr("%1 and %2").arg(first(pair), name(survey.rows[pair.second]));
    });
    list(tr("Side against side"), survey.of_sides,
         [&](const PortComparison& pair) { return tr("%1 and the other").arg(first(pair)); });
    list(tr("Battery in and out"), survey.of_batteries, first);
    if (!survey.missing.empty()) {
        QStringList missing;
        for (const std::string& one : survey.missing)
            missing += format::qt(one);
        text += tr("<b>Not measured yet</b><br>%1").arg(missing.join("; ").toHtmlEscaped());
    }
    form::show_html(pairs_, text);
}

}  // namespace eh
