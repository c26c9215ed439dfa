// SPDX-License-Identifier: GPL-3.0-or-later
// The machine as lanes: one lane per inlet, from the wall into the shared charger, rail and battery.
//
// A lane's thickness is the power that most likely flows there; where it goes thin, power stops. Each stretch
// shows what was measured over what a sound machine has. Parts stand at their stretch; how much each is
// suspected shows as a filling bar and a number.
#pragma once

#include <QWidget>
#include <memory>
#include <vector>

#include "app/services/diagnosis_service.h"

namespace eh {

class ChargePathView : public QWidget {
    Q_OBJECT
  public:
    explicit ChargePathView(QWidget* parent = nullptr);

    void show(const Answer& answer, const BenchConfiguration& bench);
    void clear();
    // Parts that it may not have: drawn thinly, where the others stand firm.
    void setUnsure(std::vector<std::string> blocks);

    // Part under a point, or "".
    [[nodiscard]] std::string partAt(const QPoint& point) const;
    void select(const std::string& block);

    [[nodiscard]] QSize minimumSizeHint() const override { return {490, 260}; }

  signals:
    void partPicked(const std::string& block);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

  private:
    struct Plate {
        std::string block;
        QRectF box;
        double suspicion = 0.0;
    };
    struct Stretch {
        QPointF from, to;
        int net = -1;  // index of the topology's net; -1: the lead, whose volts are the meter's
        bool plugged = false;
        bool on_lane = false;  // belongs to one port
    };

    void layOut();
    void layOutLane(const Port& port, double top, double height, double trunk_y);
    void layOutTrunk(double trunk_y);
    [[nodiscard]] double columnEdge(std::size_t column) const;
    [[nodiscard]] bool touches(const PlanBlock& block, int net) const;
    void layOutColumn(std::vector<std::string> blocks, const QRectF& room);
    [[nodiscard]] std::vector<double> laneHeights(double room, std::size_t fullest) const;
    [[nodiscard]] int netOfStage(const std::string& stage, const std::string& port) const;
    [[nodiscard]] const Reading* measured(int net) const;
    [[nodiscard]] const Reading* measuredAtPlug(const std::string& port) const;
    void paintStretch(QPainter& painter, const Stretch& stretch) const;
    void paintValues(QPainter& painter, const Stretch& stretch) const;
    void paintPlate(QPainter& painter, const Plate& plate) const;

    Answer answer_;
    BenchConfiguration bench_;
    bool has_answer_ = false;
    std::vector<Plate> plates_;
    std::vector<Stretch> stretches_;
    std::vector<std::pair<QPointF, QString>> labels_;  // heads of columns and lanes
    std::vector<std::pair<QRectF, QString>> notes_;    // how many parts had no room
    double plate_height_ = 0.0;                        // as large as the fullest column allows
    std::string selected_;
    std::vector<std::string> unsure_;
};

}  // namespace eh
