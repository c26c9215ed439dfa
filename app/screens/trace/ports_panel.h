// SPDX-License-Identifier: GPL-3.0-or-later
// The port table: every port and side measured, and whether they are alike.
#pragma once

#include <QLabel>
#include <QTableWidget>
#include <QWidget>

#include "app/services/job_session.h"
#include "core/machine/model/knowledge.h"
#include "core/readings/port_survey.h"

namespace eh {

class PortsPanel : public QWidget {
    Q_OBJECT
  public:
    PortsPanel(JobSession& session, const Knowledge& knowledge, QWidget* parent = nullptr);

    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    [[nodiscard]] QTableWidget& table() { return *table_; }

  private:
    void refresh();

    JobSession& session_;
    const Knowledge& knowledge_;
    QLabel* verdict_;
    QTableWidget* table_;
    QLabel* pairs_;
};

}  // namespace eh
