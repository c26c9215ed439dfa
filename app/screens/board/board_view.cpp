// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/board/board_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <algorithm>
#include <array>
#include <cmath>

#include "app/format/text.h"
#include "app/style/theme.h"

namespace eh {
namespace {

constexpr double margin_mm = 3.0;
constexpr double unknown_pad_mm = 0.6;
constexpr double least_pad_pixels = 2.0;
constexpr double named_from_pixels = 26.0;  // a part's box must be so wide to carry its name
constexpr double least_scale = 0.5;
constexpr double most_scale = 200.0;
constexpr double wheel_step = 1.2;
constexpr double picked_within_pixels = 12.0;
constexpr double drag_from_pixels = 4.0;
constexpr double beyond_share = 0.3;  // of the window, that is painted beyond it to each side
constexpr double closest_mm = 12.0;   // showing one pad shows its surroundings

}  // namespace

BoardView::BoardView(QWidget* parent) : QWidget(parent) {
    setMinimumSize(300, 150);
    setCursor(Qt::OpenHandCursor);
    setAccessibleName(tr("Board"));
}

void BoardView::setMap(const BoardMap* map, bool stay) {
    map_ = map;
    net_ = part_ = no_index;
    reached_.clear();
    part_boxes_.clear();
    if (map_ != nullptr) {
        for (const BoardPart& part : map_->parts()) {
            QRectF box;
            for (const int pad : part.pads) {
                const Pad& own = map_->pad(pad);
                if (!own.place)
                    continue;
                const double width = std::max(own.width_mm, 0.5 * unknown_pad_mm);
                const double height = std::max(own.height_mm, 0.5 * unknown_pad_mm);
                const QRectF one(own.place->x_mm - 0.5 * width, own.place->y_mm - 0.5 * height, width,
                                 height);
                box = box.isNull() ? one : box.united(one);
            }
            part_boxes_.push_back(box);
        }
    }
    if (stay)
        changeLook();
    else
        showAll();
}

void BoardView::setSide(BoardSide side) {
    side_ = side;
    changeLook();
}

void BoardView::pick(int net, int part, const std::vector<NetReach>& reached) {
    net_ = net;
    part_ = part;
    reached_.assign(map_ == nullptr ? 0 : map_->nets().size(), 0);
    for (const NetReach& reach : reached) {
        if (reach.hops > 0)
            reached_[static_cast<std::size_t>(reach.net)] = 1;
    }
    changeLook();
}

void BoardView::setMarks(std::vector<BoardMark> marks) {
    marks_ = std::move(marks);
    update();
}

void BoardView::setPicture(const QImage& picture, const PlaneMap& where) {
    picture_ = picture;
    picture_place_ = where;
    changeLook();
}

void BoardView::showPads(bool shown) {
    pads_shown_ = shown;
    changeLook();
}

void BoardView::changeLook() {
    stale_ = true;
    update();
}

void BoardView::fit(const Point& least, const Point& most) {
    const double wide_mm = std::max(most.x_mm - least.x_mm, 1.0) + 2.0 * margin_mm;
    const double high_mm = std::max(most.y_mm - least.y_mm, 1.0) + 2.0 * margin_mm;
    pixels_a_mm_ = std::clamp(std::min(width() / wide_mm, height() / high_mm), least_scale, most_scale);
    centre_ = {0.5 * (least.x_mm + most.x_mm), 0.5 * (least.y_mm + most.y_mm)};
    changeLook();
}

void BoardView::showAll() {
    fitted_ = true;
    if (map_ != nullptr && map_->extent())
        fit(map_->extent()->least, map_->extent()->most);
    else if (!picture_.isNull())
        fitPicture();
    changeLook();
}

void BoardView::fitPicture() {
    Point least = picture_place_.place_of({0.0, 0.0});
    Point most = least;
    for (const double x : {0.0, double(picture_.width())})
        for (const double y : {0.0, double(picture_.height())}) {
            const Point corner = picture_place_.place_of({x, y});
            least = {std::min(least.x_mm, corner.x_mm), std::min(least.y_mm, corner.y_mm)};
            most = {std::max(most.x_mm, corner.x_mm), std::max(most.y_mm, corner.y_mm)};
        }
    fit(least, most);
}

void BoardView::showPicked() {
    if (map_ == nullptr)
        return;
    std::optional<Point> least;
    Point most;
    for (std::size_t p = 0; p < map_->pads().size(); ++p) {
        const Pad& pad = map_->pads()[p];
        const bool wanted = part_ != no_index ? pad.part == part_ : net_ != no_index && pad.net == net_;
        if (!wanted || !pad.place)
            continue;
        if (!least)
            least = most = *pad.place;
        least = Point{std::min(least->x_mm, pad.place->x_mm), std::min(least->y_mm, pad.place->y_mm)};
        most = {std::max(most.x_mm, pad.place->x_mm), std::max(most.y_mm, pad.place->y_mm)};
    }
    if (!least)
        return;
    const double lacking_x = std::max(0.0, closest_mm - (most.x_mm - least->x_mm));
    const double lacking_y = std::max(0.0, closest_mm - (most.y_mm - least->y_mm));
    fitted_ = false;
    fit({least->x_mm - 0.5 * lacking_x, least->y_mm - 0.5 * lacking_y},
        {most.x_mm + 0.5 * lacking_x, most.y_mm + 0.5 * lacking_y});
}

// The other side is seen as it is when the board is turned over: left and right change places.
QPointF BoardView::at(const Point& place) const {
    const double mirror = side_ == BoardSide::bottom ? -1.0 : 1.0;
    return {0.5 * width() + mirror * pixels_a_mm_ * (place.x_mm - centre_.x_mm),
            0.5 * height() - pixels_a_mm_ * (place.y_mm - centre_.y_mm)};
}

Point BoardView::placeAt(const QPointF& pixels) const {
    const double mirror = side_ == BoardSide::bottom ? -1.0 : 1.0;
    return {centre_.x_mm + mirror * (pixels.x() - 0.5 * width()) / pixels_a_mm_,
            centre_.y_mm - (pixels.y() - 0.5 * height()) / pixels_a_mm_};
}

void BoardView::zoom(double factor, const QPointF& around) {
    const Point held = placeAt(around);
    pixels_a_mm_ = std::clamp(pixels_a_mm_ * factor, least_scale, most_scale);
    const Point now = placeAt(around);
    centre_.x_mm += held.x_mm - now.x_mm;
    centre_.y_mm += held.y_mm - now.y_mm;
    fitted_ = false;
    changeLook();
}

void BoardView::moveBy(const QPointF& pixels) {
    const double mirror = side_ == BoardSide::bottom ? -1.0 : 1.0;
    centre_.x_mm -= mirror * pixels.x() / pixels_a_mm_;
    centre_.y_mm += pixels.y() / pixels_a_mm_;
    fitted_ = false;
    update();
}

QRectF BoardView::rectOf(const Pad& pad) const {
    const double width =
        std::max(least_pad_pixels, pixels_a_mm_ * (pad.width_mm > 0 ? pad.width_mm : unknown_pad_mm));
    const double height =
        std::max(least_pad_pixels, pixels_a_mm_ * (pad.height_mm > 0 ? pad.height_mm : unknown_pad_mm));
    const QPointF middle = at(*pad.place);
    return {middle.x() - 0.5 * width, middle.y() - 0.5 * height, width, height};
}

BoardView::PadLook BoardView::lookOf(int pad) const {
    const Pad& own = map_->pad(pad);
    if (net_ != no_index && own.net == net_)
        return PadLook::of_net;
    if (part_ != no_index && own.part == part_)
        return PadLook::of_part;
    if (own.net != no_index && !reached_.empty() && reached_[static_cast<std::size_t>(own.net)] != 0)
        return PadLook::other_net_reached;
    return PadLook::plain;
}

void BoardView::paintBoard(QPainter& painter) const {
    if (!map_->extent())
        return;
    const auto& extent = *map_->extent();
    QRectF board(at({extent.least.x_mm - margin_mm, extent.most.y_mm + margin_mm}),
                 at({extent.most.x_mm + margin_mm, extent.least.y_mm - margin_mm}));
    painter.setPen(QPen(theme::colours().rule, 1.5));
    painter.setBrush(theme::colours().surface);
    painter.drawRoundedRect(board.normalized(), 6, 6);
}

void BoardView::paintParts(QPainter& painter, const QRectF& window) const {
    const auto& c = theme::colours();
    // Whole pixels: many thousand rectangles are painted several times as fast.
    QVector<QRect> fitted;
    QVector<QRect> unfitted;
    std::vector<std::pair<std::size_t, QRectF>> named;
    for (std::size_t p = 0; p < map_->parts().size(); ++p) {
        const BoardPart& part = map_->parts()[p];
        if (!part.placed || !reachable(part.side, side_))
            continue;
        const QRectF& box = part_boxes_[p];
        const QRectF shown =
            QRectF(at({box.left(), box.bottom()}), at({box.right(), box.top()})).normalized();
        if (!shown.intersects(window))
            continue;
        const bool picked = static_cast<int>(p) == part_;
        if (!picked)
            (part.fitted ? fitted : unfitted) << shown.adjusted(-1, -1, 1, 1).toRect();
        if (picked || shown.width() >= named_from_pixels)
            named.emplace_back(p, shown);
    }
    // On a picture, which is dark where it is cold, lines are light.
    const QColor line = picture_.isNull() ? c.soft_ink : c.rule;
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(line, 1.0));
    painter.drawRects(fitted);
    painter.setPen(QPen(line, 1.0, Qt::DotLine));
    painter.drawRects(unfitted);
    painter.setFont(theme::text_font(0.8));
    for (const auto& [p, shown] : named) {
        const bool picked = static_cast<int>(p) == part_;
        if (picked) {
            painter.setPen(QPen(c.suspicion, 2.0, map_->parts()[p].fitted ? Qt::SolidLine : Qt::DotLine));
            painter.setBrush(c.suspicion_wash);
            painter.drawRect(shown.adjusted(-1, -1, 1, 1));
        }
        painter.setPen(!picture_.isNull() ? c.surface : picked ? c.suspicion : c.ink);
        painter.drawText(shown.adjusted(-40, -16, 40, -shown.height()), Qt::AlignHCenter | Qt::AlignBottom,
                         format::qt(map_->parts()[p].name));
    }
}

void BoardView::paintPads(QPainter& painter, const QRectF& window) const {
    const auto& c = theme::colours();
    std::array<QVector<QRect>, 4> rects;
    for (std::size_t p = 0; p < map_->pads().size(); ++p) {
        const Pad& pad = map_->pads()[p];
        if (!pad.place || !reachable(pad.side, side_))
            continue;
        const QRectF own = rectOf(pad);
        if (own.intersects(window))
            rects[static_cast<std::size_t>(lookOf(static_cast<int>(p)))] << own.toRect();
    }
    if (!picture_.isNull()) {
        // Outlines alone: what is warm must be seen through them.
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(c.rule, 1));
        for (const PadLook look : {PadLook::plain, PadLook::other_net_reached, PadLook::of_part})
            painter.drawRects(rects[static_cast<std::size_t>(look)]);
        painter.setPen(QPen(c.accent_wash, 2));
        painter.drawRects(rects[static_cast<std::size_t>(PadLook::of_net)]);
        return;
    }
    const bool faded = net_ != no_index || part_ != no_index;
    painter.setPen(Qt::NoPen);
    painter.setBrush(faded ? c.rule : QColor(c.soft_ink));
    painter.drawRects(rects[static_cast<std::size_t>(PadLook::plain)]);
    painter.setBrush(QBrush(c.accent, Qt::Dense4Pattern));
    painter.setPen(QPen(c.accent, 1));
    painter.drawRects(rects[static_cast<std::size_t>(PadLook::other_net_reached)]);
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.suspicion);
    painter.drawRects(rects[static_cast<std::size_t>(PadLook::of_part)]);
    // The picked net by a ring as well as by colour, so that it is found on a crowded board.
    const auto& of_net = rects[static_cast<std::size_t>(PadLook::of_net)];
    painter.setBrush(c.accent);
    painter.drawRects(of_net);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(c.accent, 1.5));
    constexpr int ring = 3;
    for (const QRect& one : of_net)
        painter.drawRect(one.adjusted(-ring, -ring, ring, ring));
}

void BoardView::paintPicture(QPainter& painter) const {
    if (picture_.isNull())
        return;
    const auto corner = [this](double x, double y) { return at(picture_place_.place_of({x, y})); };
    const double right = picture_.width();
    const double bottom = picture_.height();
    // Pixels are counted from the middle of the first one.
    const QPolygonF seen{{0.0, 0.0}, {right, 0.0}, {right, bottom}, {0.0, bottom}};
    const QPolygonF shown{corner(-0.5, -0.5), corner(right - 0.5, -0.5), corner(right - 0.5, bottom - 0.5),
                          corner(-0.5, bottom - 0.5)};
    QTransform transform;
    if (!QTransform::quadToQuad(seen, shown, transform))
        return;
    painter.save();
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.setTransform(transform, true);
    painter.drawImage(QPointF(0.0, 0.0), picture_);
    painter.restore();
}

void BoardView::paintMarks(QPainter& painter) const {
    const auto& c = theme::colours();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(theme::text_font(0.95, true));
    constexpr double size = 7.0;
    for (const BoardMark& mark : marks_) {
        const QPointF middle = at(mark.place);
        const bool hot = mark.look == BoardMark::Look::candidate || mark.look == BoardMark::Look::spot;
        const QColor ink = hot ? c.suspicion : c.ink;
        painter.setPen(QPen(ink, 2.0));
        painter.setBrush(Qt::NoBrush);
        double reach = size;
        switch (mark.look) {
            case BoardMark::Look::fed:
                painter.setBrush(c.ink);
                painter.drawPolygon(QPolygonF{middle, middle + QPointF(-size, -2.0 * size),
                                              middle + QPointF(size, -2.0 * size)});
                break;
            case BoardMark::Look::read:
                painter.setBrush(c.surface);
                painter.drawEllipse(middle, 0.6 * size, 0.6 * size);
                break;
            case BoardMark::Look::next:
                painter.setPen(QPen(c.ink, 2.5, Qt::DashLine));
                reach = 2.0 * size;
                painter.drawEllipse(middle, reach, reach);
                break;
            case BoardMark::Look::candidate:
                painter.setPen(QPen(ink, 1.0 + 4.0 * mark.weight));
                reach = 1.6 * size;
                painter.drawEllipse(middle, reach, reach);
                break;
            case BoardMark::Look::spot:
                painter.drawLine(middle - QPointF(size, size), middle + QPointF(size, size));
                painter.drawLine(middle - QPointF(size, -size), middle + QPointF(size, -size));
                break;
        }
        if (mark.label.isEmpty())
            continue;
        // On a ground of its own, so that it is read over pads and pictures.
        QRectF text = painter.fontMetrics().boundingRect(mark.label);
        text.moveTo(middle + QPointF(reach + 4.0, -0.5 * text.height()));
        if (text.right() > width() - 4.0)
            text.moveRight(middle.x() - reach - 4.0);
        painter.setPen(Qt::NoPen);
        painter.setBrush(hot ? c.suspicion_wash : c.surface);
        painter.drawRoundedRect(text.adjusted(-3, -1, 3, 1), 3, 3);
        painter.setPen(ink);
        painter.drawText(text, Qt::AlignCenter, mark.label);
    }
}

void BoardView::paintAnew() {
    const double beyond = beyond_share * std::max(width(), height());
    const QRectF window = QRectF(rect()).adjusted(-beyond, -beyond, beyond, beyond);
    painted_ = QPixmap((window.size() * devicePixelRatioF()).toSize());
    painted_.setDevicePixelRatio(devicePixelRatioF());
    painted_.fill(theme::colours().paper);
    QPainter painter(&painted_);
    painter.translate(beyond, beyond);
    if (pads_shown_)
        paintBoard(painter);
    paintPicture(painter);
    if (pads_shown_) {
        paintParts(painter, window);
        paintPads(painter, window);
    }
    painted_at_ = {pixels_a_mm_ * centre_.x_mm, pixels_a_mm_ * centre_.y_mm};
    stale_ = false;
}

void BoardView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (map_ == nullptr || (!map_->extent() && picture_.isNull())) {
        painter.fillRect(rect(), theme::colours().paper);
        return;
    }
    const double beyond = beyond_share * std::max(width(), height());
    const auto moved = [&] {
        const double mirror = side_ == BoardSide::bottom ? -1.0 : 1.0;
        return QPointF(mirror * (painted_at_.x() - pixels_a_mm_ * centre_.x_mm),
                       pixels_a_mm_ * centre_.y_mm - painted_at_.y());
    };
    if (stale_ || std::abs(moved().x()) > beyond || std::abs(moved().y()) > beyond)
        paintAnew();
    painter.drawPixmap((moved() - QPointF(beyond, beyond)).toPoint(), painted_);
    paintMarks(painter);
}

void BoardView::resizeEvent(QResizeEvent*) {
    changeLook();
    if (fitted_)
        showAll();
}

void BoardView::wheelEvent(QWheelEvent* event) {
    zoom(std::pow(wheel_step, event->angleDelta().y() / 120.0), event->position());
    event->accept();
}

void BoardView::mousePressEvent(QMouseEvent* event) {
    pressed_ = event->position();
    dragged_ = false;
}

void BoardView::mouseMoveEvent(QMouseEvent* event) {
    if (!event->buttons().testFlag(Qt::LeftButton))
        return;
    const QPointF moved = event->position() - pressed_;
    dragged_ = dragged_ || moved.manhattanLength() > drag_from_pixels;
    if (!dragged_)
        return;
    moveBy(moved);
    pressed_ = event->position();
}

void BoardView::mouseReleaseEvent(QMouseEvent* event) {
    if (dragged_ || map_ == nullptr)
        return;
    const auto near = map_->near(placeAt(event->position()), picked_within_pixels / pixels_a_mm_, side_);
    emit padPicked(near.empty() ? no_index : near.front());
    emit placePicked(placeAt(event->position()));
}

}  // namespace eh
