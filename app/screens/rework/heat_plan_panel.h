// SPDX-License-Identifier: GPL-3.0-or-later
// The plan before the heat: which air, for how long, and what gives way first; a timer that learns.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <QTimer>
#include <QWidget>
#include <vector>

#include "app/services/job_session.h"
#include "app/services/shop_parts.h"
#include "core/rework/heat_plan.h"

class QCustomPlot;
class QCPGraph;
class QCPItemStraightLine;

namespace eh {

class HeatPlanPanel : public QWidget {
    Q_OBJECT
  public:
    HeatPlanPanel(JobSession& session, ShopParts& parts, QWidget* parent = nullptr);

    // The part whose joint is heated (id of heat_parts.json).
    void choosePart(const std::string& id);
    [[nodiscard]] const std::optional<HeatPlan>& plan() const { return plan_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    [[nodiscard]] QString notes() const { return notes_->text(); }
    [[nodiscard]] QSlider& airSlider() { return *air_slider_; }
    [[nodiscard]] QDoubleSpinBox& air() { return *air_; }
    [[nodiscard]] QComboBox& part() { return *part_; }
    [[nodiscard]] QComboBox& oldSolder() { return *old_solder_; }
    [[nodiscard]] QComboBox& newSolder() { return *new_solder_; }
    [[nodiscard]] QDoubleSpinBox& preheat() { return *preheat_; }
    [[nodiscard]] QPushButton& bestButton() { return *best_; }
    [[nodiscard]] QPushButton& airButton() { return *start_; }
    [[nodiscard]] QPushButton& movedButton() { return *moved_; }
    // Works the plan out anew and draws it; what a slider's move costs.
    void workOut();

  signals:
    void said(const QString& sentence);
    // The part moved after so many seconds of air.
    void moved(double seconds);

  private:
    QWidget* makeQuestions();
    QWidget* makePlots();
    QWidget* makeAnswers();
    [[nodiscard]] HeatSetup setup() const;
    void showPlan(const HeatSetup& setup);
    void drawCourse(const HeatSetup& setup);
    void drawWindow(const HeatSetup& setup);
    void refuse(const QString& sentence);
    void takeBest();
    void startAir();
    void stopAir();
    void tick();
    void logMoved();
    [[nodiscard]] double airSeconds() const;

    JobSession& session_;
    ShopParts& parts_;
    QComboBox* part_;
    QComboBox* old_solder_;
    QComboBox* new_solder_;
    QDoubleSpinBox* old_share_;
    QSlider* air_slider_;
    QDoubleSpinBox* air_;
    QDoubleSpinBox* flow_;
    QDoubleSpinBox* nozzle_;
    QDoubleSpinBox* distance_;
    QDoubleSpinBox* preheat_;
    QDoubleSpinBox* board_;
    QDoubleSpinBox* layers_;
    QDoubleSpinBox* neighbour_;
    QCheckBox* shield_;
    QLabel* verdict_;
    QLabel* facts_;
    QLabel* notes_;
    QLabel* solder_;
    QLabel* learned_;
    QLabel* clock_;
    QPushButton* best_;
    QPushButton* start_;
    QPushButton* moved_;
    QCustomPlot* course_plot_ = nullptr;
    QCustomPlot* window_plot_ = nullptr;
    std::vector<QCPGraph*> curves_;
    QCPGraph* limit_line_ = nullptr;
    QCPGraph* liquid_line_ = nullptr;
    QCPItemStraightLine* now_line_ = nullptr;
    QCPGraph* ready_ = nullptr;
    QCPGraph* gives_way_ = nullptr;
    QCPGraph* chosen_ = nullptr;
    std::optional<HeatPlan> plan_;
    HeatSetup planned_;  // what plan_ is of
    QElapsedTimer running_;
    QTimer tick_;
};

}  // namespace eh
