// SPDX-License-Identifier: GPL-3.0-or-later
// What happened in the shown stretch, one row an event; each can be taken as a reading.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QWidget>
#include <functional>

#include "core/trace/trace_events.h"

namespace eh {

class EventsPanel : public QWidget {
    Q_OBJECT
  public:
    explicit EventsPanel(QWidget* parent = nullptr);

    // `when` writes a moment for people.
    void show(const TraceReading& reading, const std::function<QString(double t_s)>& when);
    [[nodiscard]] QTableWidget& table() { return *table_; }
    [[nodiscard]] QPushButton& takeButton() { return *take_; }

  signals:
    void taken(const eh::TraceEvent& event);
    void picked(const eh::TraceEvent& event);

  private:
    void takePicked();

    std::vector<TraceEvent> events_;
    QTableWidget* table_;
    QLabel* levels_;
    QPushButton* take_;
};

}  // namespace eh
