// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/rework/rework_page.h"

#include "app/screens/rework/conversion_panel.h"
#include "app/screens/rework/heat_plan_panel.h"
#include "app/screens/rework/steps_panel.h"

namespace eh {

ReworkPage::ReworkPage(JobSession& session, const Knowledge& knowledge, ShopParts& parts, QWidget* parent)
    : QTabWidget(parent),
      steps_(new StepsPanel(session, knowledge, parts.book(), this)),
      heat_(new HeatPlanPanel(session, parts, this)),
      conversion_(new ConversionPanel(session, knowledge, parts, this)) {
    setDocumentMode(true);
    addTab(steps_, tr("&Steps"));
    addTab(heat_, tr("Hea&t plan"));
    addTab(conversion_, tr("Con&version"));
    connect(steps_, &StepsPanel::said, this, &ReworkPage::said);
    connect(heat_, &HeatPlanPanel::said, this, &ReworkPage::said);
    connect(conversion_, &ConversionPanel::said, this, &ReworkPage::said);
    connect(heat_, &HeatPlanPanel::moved, steps_, &StepsPanel::tickHeat);
    connect(steps_, &StepsPanel::heatAsked, this, [this](const std::string& part) {
        heat_->choosePart(part);
        setCurrentWidget(heat_);
    });
}

}  // namespace eh
