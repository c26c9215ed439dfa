// SPDX-License-Identifier: GPL-3.0-or-later
// The work on the board: its steps, the heat, and conversions.
#pragma once

#include <QTabWidget>

#include "app/services/job_session.h"
#include "app/services/shop_parts.h"
#include "core/machine/model/knowledge.h"

namespace eh {

class ConversionPanel;
class HeatPlanPanel;
class StepsPanel;

class ReworkPage : public QTabWidget {
    Q_OBJECT
  public:
    ReworkPage(JobSession& session, const Knowledge& knowledge, ShopParts& parts, QWidget* parent = nullptr);

    [[nodiscard]] StepsPanel& steps() { return *steps_; }
    [[nodiscard]] HeatPlanPanel& heat() { return *heat_; }
    [[nodiscard]] ConversionPanel& conversion() { return *conversion_; }

  signals:
    void said(const QString& sentence);

  private:
    StepsPanel* steps_;
    HeatPlanPanel* heat_;
    ConversionPanel* conversion_;
};

}  // namespace eh
