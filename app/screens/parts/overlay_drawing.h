// SPDX-License-Identifier: GPL-3.0-or-later
// Two footprints laid on one another, to scale: the board's pads as outlines, the part's pins hatched.
#pragma once

#include <QWidget>
#include <map>
#include <set>

#include "core/parts/footprint.h"

namespace eh {

class OverlayDrawing : public QWidget {
    Q_OBJECT
  public:
    explicit OverlayDrawing(QWidget* parent = nullptr);

    void show(const Footprint& board, const Footprint& part, const FootprintComparison& comparison);
    // What is said of a pad under the pointer, by its name.
    void setWords(std::map<std::string, QString> words) { words_ = std::move(words); }
    // Pads of the board that are torn: crossed out.
    void setTorn(const std::set<std::string>& torn);
    // Where a pad of the board is drawn.
    [[nodiscard]] QPointF at(const std::string& pad) const;

  signals:
    void padClicked(const QString& name);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

  private:
    [[nodiscard]] QRectF rectOf(const FootprintPad& pad, double dx, double dy) const;
    [[nodiscard]] const FootprintPad* padAt(const QPointF& place) const;
    void fit();

    Footprint board_;
    Footprint part_;
    FootprintComparison comparison_;
    std::set<std::string> torn_;
    std::map<std::string, QString> words_;
    std::string under_;  // the pointer
    double scale_ = 1.0;
    QPointF origin_;
};

}  // namespace eh
