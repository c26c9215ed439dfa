// SPDX-License-Identifier: GPL-3.0-or-later
// A board drawn from its map: pads, parts and what is picked. Drag moves it, the wheel magnifies.
#pragma once

#include <QImage>
#include <QPixmap>
#include <QTransform>
#include <QWidget>
#include <vector>

#include "app/screens/board/board_mark.h"
#include "core/board/board_map.h"
#include "core/board/net_paths.h"
#include "core/board/plane_map.h"

namespace eh {

class BoardView : public QWidget {
    Q_OBJECT
  public:
    explicit BoardView(QWidget* parent = nullptr);

    // The map must outlive the view or the next map; nullptr: none.
    // `stay`: the same board with other pads; what is shown of it stays.
    void setMap(const BoardMap* map, bool stay = false);
    void setSide(BoardSide side);
    [[nodiscard]] BoardSide side() const { return side_; }
    // Nets and part that stand out: the net itself, those that it goes on to, one part; no_index for none.
    void pick(int net, int part, const std::vector<NetReach>& reached);
    // What searches point out; they stand above everything.
    void setMarks(std::vector<BoardMark> marks);
    [[nodiscard]] const std::vector<BoardMark>& marks() const { return marks_; }
    // A picture that lies under the pads; a null image takes it away.
    void setPicture(const QImage& picture, const PlaneMap& where);
    // Without them a picture that does not lie on the board yet is seen alone.
    void showPads(bool shown);
    // The whole board, or what is picked.
    void showAll();
    void showPicked();
    void zoom(double factor, const QPointF& around);
    void moveBy(const QPointF& pixels);

    // Where a point of the board stands in the widget, and back.
    [[nodiscard]] QPointF at(const Point& place) const;
    [[nodiscard]] Point placeAt(const QPointF& pixels) const;

  signals:
    void padPicked(int pad);                   // no_index: nothing was there
    void placePicked(const eh::Point& place);  // the same click

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

  private:
    enum class PadLook { plain, other_net_reached, of_net, of_part };

    void fit(const Point& least, const Point& most);
    void fitPicture();
    [[nodiscard]] QRectF rectOf(const Pad& pad) const;
    [[nodiscard]] PadLook lookOf(int pad) const;
    // The board without its marks is painted into a picture that reaches beyond the window, so that moving it
    // paints nothing anew.
    void paintAnew();
    void changeLook();
    void paintBoard(QPainter& painter) const;
    void paintPicture(QPainter& painter) const;
    void paintParts(QPainter& painter, const QRectF& window) const;
    void paintPads(QPainter& painter, const QRectF& window) const;
    void paintMarks(QPainter& painter) const;

    const BoardMap* map_ = nullptr;
    BoardSide side_ = BoardSide::top;
    int net_ = no_index;
    int part_ = no_index;
    std::vector<char> reached_;       // by net
    std::vector<QRectF> part_boxes_;  // in millimetres, by part
    std::vector<BoardMark> marks_;
    QImage picture_;
    PlaneMap picture_place_;
    bool pads_shown_ = true;
    QPixmap painted_;
    QPointF painted_at_;  // where the painted centre was, in pixels of this scale
    bool stale_ = true;
    double pixels_a_mm_ = 4.0;
    Point centre_;
    bool fitted_ = true;  // the whole board is shown, and goes on being when the window grows
    QPointF pressed_;
    bool dragged_ = false;
};

}  // namespace eh
