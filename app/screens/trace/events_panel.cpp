// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/trace/events_panel.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "core/readings/trace_capture.h"

namespace eh {
namespace {

constexpr int levels_width = 330;
constexpr std::size_t most_levels = 9;
constexpr double least_level_s = 0.5;

}  // namespace

EventsPanel::EventsPanel(QWidget* parent)
    : QWidget(parent),
      table_(new QTableWidget(0, 2, this)),
      levels_(new QLabel(this)),
      take_(new QPushButton(tr("&Take as a reading"), this)) {
    table_->setHorizontalHeaderLabels({tr("When"), tr("What")});
    table_->horizontalHeader()->setStretchLastSection(true);
    table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table_->verticalHeader()->hide();
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setAccessibleName(tr("Events of the shown stretch"));
    levels_->setWordWrap(true);
    levels_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    levels_->setFixedWidth(levels_width);
    levels_->setAccessibleName(tr("Levels of the shown stretch"));
    take_->setEnabled(false);
    take_->setToolTip(tr("Let the suspects know what the meter showed there (Return)"));
    auto* side = new QVBoxLayout;
    side->addWidget(levels_, 1);
    side->addWidget(take_);
    auto* columns = new QHBoxLayout(this);
    columns->addWidget(table_, 1);
    columns->addLayout(side);
    connect(take_, &QPushButton::clicked, this, &EventsPanel::takePicked);
    connect(table_, &QTableWidget::itemActivated, this, &EventsPanel::takePicked);
    connect(table_, &QTableWidget::currentCellChanged, this, [this](int row) {
        const bool some = row >= 0 && row < static_cast<int>(events_.size());
        take_->setEnabled(some && is_evidence(events_[static_cast<std::size_t>(row)].kind));
        if (some)
            emit picked(events_[static_cast<std::size_t>(row)]);
    });
}

void EventsPanel::show(const TraceReading& reading, const std::function<QString(double)>& when) {
    const int row = table_->currentRow();
    events_ = outline_of(reading.events);
    const QSignalBlocker quiet(table_);
    table_->setRowCount(static_cast<int>(events_.size()));
    for (std::size_t i = 0; i < events_.size(); ++i) {
        auto* moment = new QTableWidgetItem(when(events_[i].t_s));
        moment->setFont(theme::number_font(0.9));
        table_->setItem(static_cast<int>(i), 0, moment);
        table_->setItem(static_cast<int>(i), 1, new QTableWidgetItem(format::qt(describe(events_[i]))));
    }
    table_->resizeColumnToContents(0);
    if (row >= 0 && row < table_->rowCount())
        table_->setCurrentCell(row, 0);
    take_->setEnabled(table_->currentRow() >= 0 &&
                      is_evidence(events_[static_cast<std::size_t>(table_->currentRow())].kind));
    QString text = tr("<b>Levels</b><br>");
    std::size_t shown = 0;
    for (auto span = reading.spans.rbegin(); span != reading.spans.rend() && shown < most_levels; ++span) {
        const bool of_a_rhythm = std::any_of(events_.begin(), events_.end(), [&](const TraceEvent& event) {
            return event.kind == TraceEventKind::retry_cycle && span->from_s >= event.t_s &&
                   span->to_s <= event.until_s;
        });
        if (of_a_rhythm || span->to_s - span->from_s < least_level_s)
            continue;
        text += format::qt(describe(*span)).toHtmlEscaped() + "<br>";
        ++shown;
    }
    if (shown == 0)
        text += events_.empty() ? tr("Nothing was seen in this stretch. Connect a meter, or open a file.")
                                : tr("No level that lasts.");
    form::show_html(levels_, text);
}

void EventsPanel::takePicked() {
    const int row = table_->currentRow();
    if (row >= 0 && row < static_cast<int>(events_.size()) && take_->isEnabled())
        emit taken(events_[static_cast<std::size_t>(row)]);
}

}  // namespace eh
