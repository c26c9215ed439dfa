// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/bench/charge_path_view.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr double margin = 10.0;
constexpr double head_height = 26.0;
constexpr double least_plate_height = 17.0;
constexpr double largest_plate_height = 27.0;
constexpr double plate_gap = 3.0;
constexpr double value_height = 40.0;
constexpr double lane_padding = 16.0;
constexpr double thickest = 11.0;
constexpr double thinnest = 1.6;
constexpr double flowing_volts = 1.0;
constexpr double shown_suspicion = 0.005;

// Shares of the width: charger and lead, inlet, switch; then shared: charger input, rail, battery.
constexpr std::array<double, 7> column_edges{0.0, 0.10, 0.36, 0.52, 0.68, 0.86, 1.0};

QString short_title(const QString& title, const QString& lane_title) {
    QString text = title;
    // The lane says which port it is.
    if (!lane_title.isEmpty())
        text.remove(QObject::tr(" of %1").arg(lane_title.toLower()));
    if (!text.isEmpty())
        text[0] = text[0].toUpper();
    return text;
}

}  // namespace

ChargePathView::ChargePathView(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Charge path"));
}

void ChargePathView::show(const Answer& answer, const BenchConfiguration& bench) {
    answer_ = answer;
    bench_ = bench;
    has_answer_ = true;
    layOut();
    update();
}

void ChargePathView::clear() {
    has_answer_ = false;
    plates_.clear();
    stretches_.clear();
    update();
}

void ChargePathView::setUnsure(std::vector<std::string> blocks) {
    unsure_ = std::move(blocks);
    update();
}

int ChargePathView::netOfStage(const std::string& stage, const std::string& port) const {
    const auto& nets = answer_.engine->plan.topology().nets;
    for (std::size_t n = 0; n < nets.size(); ++n) {
        if (nets[n].stage == stage && (nets[n].port == port || (nets[n].port.empty() && stage != "inlet")))
            return static_cast<int>(n);
    }
    return -1;
}

// Where not all parts of a column have room, the most suspected stand there, in their order on the path, and
// a line says how many more there are.
void ChargePathView::layOutColumn(std::vector<std::string> blocks, const QRectF& room) {
    const double least_step = least_plate_height + plate_gap;
    const auto places = static_cast<std::size_t>(std::max(1.0, std::floor(room.height() / least_step)));
    std::size_t left_out = 0;
    if (blocks.size() > places) {
        std::vector<double> suspicions;
        suspicions.reserve(blocks.size());
        for (const std::string& block : blocks)
            suspicions.push_back(suspicion_of(answer_.ranking, block));
        std::sort(suspicions.rbegin(), suspicions.rend());
        const std::size_t kept = places - 1;
        const double least = kept == 0 ? 2.0 : suspicions[kept - 1];
        left_out = blocks.size();
        std::vector<std::string> shown;
        for (const std::string& block : blocks) {
            if (shown.size() < kept && suspicion_of(answer_.ranking, block) >= least)
                shown.push_back(block);
        }
        left_out -= shown.size();
        blocks = std::move(shown);
    }
    const double step =
        std::min(plate_height_ + plate_gap,
                 room.height() / std::max(1.0, static_cast<double>(blocks.size() + (left_out > 0 ? 1 : 0))));
    double y = room.top();
    for (const std::string& block : blocks) {
        plates_.push_back({block, QRectF(room.left(), y, room.width(), step - plate_gap),
                           suspicion_of(answer_.ranking, block)});
        y += step;
    }
    if (left_out > 0)
        notes_.push_back({QRectF(room.left() + 6, y, room.width() - 8, step - plate_gap),
                          tr("+ %1 less suspected").arg(left_out)});
}

// The port that the charger is in gets the room it needs; the others share what is left.
std::vector<double> ChargePathView::laneHeights(double room, std::size_t fullest) const {
    const auto& ports = answer_.engine->plan.topology().ports;
    const double count = static_cast<double>(ports.size());
    const double step = least_plate_height + plate_gap;
    const double wanted = value_height + lane_padding + step * static_cast<double>(fullest);
    std::vector<double> heights(ports.size(), room / count);
    const auto focus =
        std::find_if(ports.begin(), ports.end(), [&](const Port& port) { return port.id == bench_.port; });
    if (room / count >= wanted || focus == ports.end() || ports.size() < 2)
        return heights;
    const double least = value_height + lane_padding + 2.0 * step;
    const double large = std::clamp(room - least * (count - 1.0), room / count, wanted);
    for (double& height : heights)
        height = (room - large) / (count - 1.0);
    heights[static_cast<std::size_t>(focus - ports.begin())] = large;
    return heights;
}

double ChargePathView::columnEdge(std::size_t column) const {
    return margin + (width() - 2 * margin) * column_edges[column];
}

bool ChargePathView::touches(const PlanBlock& block, int net) const {
    const int node = net < 0 ? -2 : answer_.engine->plan.net_nodes[static_cast<std::size_t>(net)];
    return std::any_of(block.pin_nodes.begin(), block.pin_nodes.end(),
                       [&](const auto& pin) { return pin.second == node; });
}

void ChargePathView::layOut() {
    plates_.clear();
    stretches_.clear();
    labels_.clear();
    notes_.clear();
    if (!has_answer_ || answer_.engine == nullptr)
        return;
    const Topology& topology = answer_.engine->plan.topology();
    const double top = margin + head_height;
    std::size_t fullest = 1;
    for (const Port& port : topology.ports) {
        const auto own = std::count_if(topology.blocks.begin(), topology.blocks.end(),
                                       [&](const Block& block) { return block.port == port.id; });
        fullest = std::max(fullest, static_cast<std::size_t>(own));
    }
    const std::vector<double> lane_heights = laneHeights(height() - top - margin, fullest);
    const double tallest = *std::max_element(lane_heights.begin(), lane_heights.end());
    plate_height_ =
        std::clamp((tallest - value_height - lane_padding) / static_cast<double>(fullest) - plate_gap,
                   least_plate_height, largest_plate_height);
    const double trunk_y =
        top + value_height + (topology.ports.size() > 1 ? lane_heights.front() * 0.5 : 0.0);
    static const char* heads[] = {QT_TR_NOOP("Supply"),  QT_TR_NOOP("Inlet"),     QT_TR_NOOP("Switch"),
                                  QT_TR_NOOP("Charger"), QT_TR_NOOP("Main rail"), QT_TR_NOOP("Battery")};
    for (std::size_t h = 0; h < 6; ++h)
        labels_.push_back({QPointF(columnEdge(h) + 4, margin + 14), tr(heads[h])});
    double lane_top = top;
    for (std::size_t p = 0; p < topology.ports.size(); ++p) {
        layOutLane(topology.ports[p], lane_top, lane_heights[p], trunk_y);
        lane_top += lane_heights[p];
    }
    layOutTrunk(trunk_y);
}

// What belongs to one port: its charger and lead, its inlet, its own side of the switch.
void ChargePathView::layOutLane(const Port& port, double top, double height, double trunk_y) {
    const auto x = [this](std::size_t column) { return columnEdge(column); };
    const MachinePlan& plan = answer_.engine->plan;
    const Topology& topology = plan.topology();
    const bool plugged = bench_.charger_connected && bench_.port == port.id;
    const double lane_y = top + value_height;
    labels_.push_back({QPointF(x(0) + 4, top + 14), format::qt(port.title)});
    const int inlet = netOfStage("inlet", port.id);
    const int switch_net = netOfStage("switch", "");
    stretches_.push_back({{x(0), lane_y}, {x(1), lane_y}, -1, plugged, true});
    stretches_.push_back({{x(1), lane_y}, {x(2), lane_y}, inlet, plugged, true});
    stretches_.push_back({{x(2), lane_y}, {x(3), trunk_y}, switch_net, plugged, false});
    std::vector<std::string> at_inlet;
    std::vector<std::string> at_switch;
    for (std::size_t b = 0; b < topology.blocks.size(); ++b) {
        const PlanBlock& block = plan.blocks[b];
        if (topology.blocks[b].port != port.id)
            continue;
        (touches(block, switch_net) ? at_switch : at_inlet).push_back(block.id);
    }
    const double room_top = lane_y + 12;
    const double room_bottom = top + height - 4;
    std::vector<std::string> outside{charger_block_id(port.family), lead_block_id(port.family)};
    layOutColumn(outside, QRectF(x(0), room_top, x(1) - x(0) - 6, room_bottom - room_top));
    layOutColumn(at_inlet, QRectF(x(1) + 2, room_top, x(2) - x(1) - 10, room_bottom - room_top));
    layOutColumn(at_switch, QRectF(x(2) + 2, room_top, x(3) - x(2) - 10, room_bottom - room_top));
}

// What all ports share: from the charger chip to the battery, and below it what is not on the power's way.
void ChargePathView::layOutTrunk(double trunk_y) {
    const auto x = [this](std::size_t column) { return columnEdge(column); };
    const MachinePlan& plan = answer_.engine->plan;
    const Topology& topology = plan.topology();
    const int charger_net = netOfStage("charger", "");
    const int switch_net = netOfStage("switch", "");
    const int rail_net = netOfStage("rail", "");
    const int battery_net = netOfStage("battery", "");
    const bool any = bench_.charger_connected;
    stretches_.push_back({{x(3), trunk_y}, {x(4), trunk_y}, charger_net, any, false});
    stretches_.push_back({{x(4), trunk_y}, {x(5), trunk_y}, rail_net, any, false});
    stretches_.push_back({{x(5), trunk_y}, {x(6), trunk_y}, battery_net, any, false});
    std::vector<std::string> at_charger;
    std::vector<std::string> at_rail;
    std::vector<std::string> at_battery;
    std::vector<std::string> shared_control;
    for (std::size_t b = 0; b < topology.blocks.size(); ++b) {
        const PlanBlock& block = plan.blocks[b];
        if (!topology.blocks[b].port.empty())
            continue;
        if (touches(block, battery_net))
            at_battery.push_back(block.id);
        else if (touches(block, switch_net) || touches(block, charger_net))
            at_charger.push_back(block.id);
        else if (touches(block, rail_net))
            at_rail.push_back(block.id);
        else
            shared_control.push_back(block.id);
    }
    const double room_top = trunk_y + 12;
    const double room_height = height() - margin - room_top;
    layOutColumn(at_charger, QRectF(x(3) + 2, room_top, x(4) - x(3) - 10, room_height));
    layOutColumn(at_rail, QRectF(x(4) + 2, room_top, x(5) - x(4) - 10, room_height));
    layOutColumn(at_battery, QRectF(x(5) + 2, room_top, x(6) - x(5) - 2, room_height));
    if (shared_control.empty())
        return;
    const double plate_step = plate_height_ + plate_gap;
    const double below =
        room_top + plate_step * static_cast<double>(std::max(at_charger.size(), at_rail.size())) + 26;
    labels_.push_back({QPointF(x(3) + 4, below - 8), tr("Shared by all ports")});
    const std::size_t half = (shared_control.size() + 1) / 2;
    const auto middle = shared_control.begin() + static_cast<std::ptrdiff_t>(half);
    layOutColumn({shared_control.begin(), middle},
                 QRectF(x(3) + 2, below, (x(6) - x(3)) / 2 - 6, height() - margin - below));
    layOutColumn({middle, shared_control.end()}, QRectF(x(3) + 2 + (x(6) - x(3)) / 2, below,
                                                        (x(6) - x(3)) / 2 - 4, height() - margin - below));
}

const Reading* ChargePathView::measured(int net) const {
    const std::string& id = answer_.engine->plan.topology().nets[static_cast<std::size_t>(net)].id;
    const auto found =
        std::find_if(answer_.readings.rbegin(), answer_.readings.rend(), [&](const Reading& reading) {
            return !reading.set_aside && reading.place() == id &&
                   (reading.kind() == ReadingKind::net_volts || reading.kind() == ReadingKind::net_ohms);
        });
    return found == answer_.readings.rend() ? nullptr : &*found;
}

const Reading* ChargePathView::measuredAtPlug(const std::string& port) const {
    const auto found =
        std::find_if(answer_.readings.rbegin(), answer_.readings.rend(), [&](const Reading& reading) {
            return !reading.set_aside && reading.kind() == ReadingKind::meter &&
                   feeds_machine(reading.configuration) && reading.configuration.port == port &&
                   reading.configuration.moment == Moment::settled;
        });
    return found == answer_.readings.rend() ? nullptr : &*found;
}

void ChargePathView::paintStretch(QPainter& painter, const Stretch& stretch) const {
    const auto& c = theme::colours();
    double volts = 0.0;
    double amps = answer_.path.likely_meter.amps;
    if (stretch.net >= 0 && static_cast<std::size_t>(stretch.net) < answer_.path.nets.size())
        volts = answer_.path.nets[static_cast<std::size_t>(stretch.net)].likely_volts;
    else if (stretch.net < 0)
        volts = answer_.path.likely_meter.volts;
    const bool flows = stretch.plugged && volts > flowing_volts;
    constexpr double full_watts = 40.0;
    const double watts = flows ? volts * std::max(amps, 0.0) : 0.0;
    const double thickness =
        flows ? 3.5 + (thickest - 3.5) * std::sqrt(std::min(1.0, watts / full_watts)) : thinnest;
    QPen pen(flows ? c.accent : c.soft_ink, thickness, flows ? Qt::SolidLine : Qt::DotLine, Qt::RoundCap);
    painter.setPen(pen);
    painter.drawLine(stretch.from, stretch.to);
}

void ChargePathView::paintValues(QPainter& painter, const Stretch& stretch) const {
    const auto& c = theme::colours();
    const Topology& topology = answer_.engine->plan.topology();
    QString seen;
    QString sound;
    if (stretch.net >= 0) {
        const auto n = static_cast<std::size_t>(stretch.net);
        if (const Reading* reading = measured(stretch.net)) {
            seen = format::qt(describe_value(*reading, topology));
            if (reading->kind() == ReadingKind::net_ohms && n < answer_.path.sound_ohms.size()) {
                const double ohms = answer_.path.sound_ohms[n];
                if (!std::isnan(ohms))
                    sound = ohms < AccuracyOptions{}.over_limit_ohms
                                ? format::qt(format_quantity(ohms, Unit::ohms, 2))
                                : tr("OL");
            }
        }
        if (sound.isEmpty() && n < answer_.path.nets.size() && stretch.plugged)
            sound = format::qt(format_quantity(answer_.path.nets[n].sound_volts, Unit::volts));
    }
    if (seen.isEmpty() && sound.isEmpty())
        return;
    const QRectF room(std::min(stretch.from.x(), stretch.to.x()) + 8,
                      std::max(stretch.from.y(), stretch.to.y()) - value_height + 2,
                      std::abs(stretch.to.x() - stretch.from.x()) - 10, value_height - 8);
    // On a lane the row above belongs to what was read at the plug, so both stand in one row.
    const Qt::Alignment row = stretch.on_lane ? Qt::AlignBottom : Qt::AlignTop;
    double used = 0.0;
    if (!seen.isEmpty()) {
        painter.setFont(theme::number_font(1.0, true));
        painter.setPen(c.ink);
        painter.drawText(room, Qt::AlignLeft | row, seen);
        used = QFontMetricsF(painter.font()).horizontalAdvance(seen) + 8;
    }
    if (sound.isEmpty())
        return;
    painter.setFont(theme::number_font(0.8));
    painter.setPen(c.soft_ink);
    const bool beside = stretch.on_lane || seen.isEmpty();
    painter.drawText(beside ? room.adjusted(used, 0, 0, 0) : room,
                     Qt::AlignLeft | (beside ? row : Qt::AlignBottom), tr("sound %1").arg(sound));
}

void ChargePathView::paintPlate(QPainter& painter, const Plate& plate) const {
    const auto& c = theme::colours();
    const MachinePlan& plan = answer_.engine->plan;
    const bool replaced = std::binary_search(bench_.replaced.begin(), bench_.replaced.end(), plate.block);
    const bool removed = std::binary_search(bench_.removed.begin(), bench_.removed.end(), plate.block);
    const bool unsure = std::find(unsure_.begin(), unsure_.end(), plate.block) != unsure_.end();
    QPen edge(plate.block == selected_ ? c.accent : c.rule, plate.block == selected_ ? 2.0 : 1.0);
    if (unsure)
        edge.setStyle(Qt::DotLine);
    painter.setPen(edge);
    painter.setBrush(replaced ? c.good_wash : c.surface);
    painter.drawRect(plate.box);
    QRectF text_room = plate.box.adjusted(6, 0, -4, 0);
    if (plate.suspicion >= shown_suspicion) {
        QRectF bar = plate.box.adjusted(1, 1, -1, -1);
        bar.setWidth(std::max(3.0, bar.width() * plate.suspicion));
        painter.fillRect(bar, c.suspicion_wash);
        painter.fillRect(QRectF(bar.left(), bar.bottom() - 3, bar.width(), 3), c.suspicion);
        const QString share = format::percent(plate.suspicion);
        painter.setFont(theme::number_font(0.8, true));
        painter.setPen(c.suspicion);
        painter.drawText(text_room, Qt::AlignRight | Qt::AlignVCenter, share);
        text_room.setRight(text_room.right() - QFontMetricsF(painter.font()).horizontalAdvance(share) - 4);
    }
    QString lane;
    if (const Block* block = plan.topology().find_block(plate.block)) {
        if (const Port* port = plan.topology().find_port(block->port))
            lane = format::qt(port->title);
    }
    const bool outside = plan.topology().find_block(plate.block) == nullptr;
    QString title = outside ? (plate.block.rfind("charger_", 0) == 0 ? tr("Charger") : tr("Lead"))
                            : short_title(format::blockTitle(plan, plate.block), lane);
    if (removed)
        title = tr("%1 (off)").arg(title);
    else if (replaced)
        title = tr("%1 (done)").arg(title);
    QFont font = theme::text_font(0.82, plate.suspicion > 0.1);
    font.setStrikeOut(removed);
    painter.setFont(font);
    painter.setPen(unsure ? c.soft_ink : c.ink);
    painter.drawText(text_room, Qt::AlignLeft | Qt::AlignVCenter,
                     QFontMetricsF(font).elidedText(title, Qt::ElideRight, text_room.width()));
}

void ChargePathView::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), c.surface);
    painter.setPen(c.rule);
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
    if (!has_answer_ || answer_.engine == nullptr) {
        painter.setPen(c.soft_ink);
        painter.setFont(theme::text_font(1.1));
        painter.drawText(rect(), Qt::AlignCenter,
                         tr("The charge path appears when the machine's kind is chosen at intake."));
        return;
    }
    const std::size_t heads = 6;
    for (std::size_t i = 0; i < labels_.size(); ++i) {
        painter.setFont(i < heads ? theme::text_font(0.85) : theme::text_font(0.95, true));
        painter.setPen(i < heads ? c.soft_ink : c.ink);
        painter.drawText(labels_[i].first, labels_[i].second);
    }
    for (const Stretch& stretch : stretches_)
        paintStretch(painter, stretch);
    for (const Stretch& stretch : stretches_)
        paintValues(painter, stretch);
    for (const Plate& plate : plates_)
        paintPlate(painter, plate);
    painter.setFont(theme::text_font(0.82));
    painter.setPen(c.soft_ink);
    for (const auto& [room, text] : notes_)
        painter.drawText(room, Qt::AlignLeft | Qt::AlignVCenter, text);
    // What was read at each plug stands where the lead meets the machine.
    const Topology& topology = answer_.engine->plan.topology();
    std::size_t lane = 0;
    for (const Stretch& stretch : stretches_) {
        if (stretch.net >= 0 || !stretch.on_lane)
            continue;
        if (stretch.plugged) {
            painter.setPen(Qt::NoPen);
            painter.setBrush(c.accent);
            painter.drawEllipse(stretch.to, 6, 6);
        }
        if (const Reading* reading = measuredAtPlug(topology.ports[lane].id)) {
            painter.setFont(theme::number_font(0.85, true));
            painter.setPen(c.ink);
            const QString text = tr("plug: %1").arg(format::qt(describe_value(*reading, topology)));
            const QFontMetricsF metrics(painter.font());
            const QRectF room(stretch.to.x() + 4, stretch.to.y() - value_height + 1,
                              metrics.horizontalAdvance(text) + 8, metrics.height() + 2);
            painter.fillRect(room, c.surface);
            painter.drawText(room, Qt::AlignCenter, text);
        }
        ++lane;
    }
}

void ChargePathView::resizeEvent(QResizeEvent*) {
    layOut();
}

std::string ChargePathView::partAt(const QPoint& point) const {
    const auto hit = std::find_if(plates_.begin(), plates_.end(),
                                  [&](const Plate& plate) { return plate.box.contains(point); });
    return hit == plates_.end() ? std::string() : hit->block;
}

void ChargePathView::select(const std::string& block) {
    selected_ = block;
    update();
}

void ChargePathView::mousePressEvent(QMouseEvent* event) {
    const std::string block = partAt(event->position().toPoint());
    if (block.empty())
        return;
    select(block);
    emit partPicked(block);
}

void ChargePathView::keyPressEvent(QKeyEvent* event) {
    const bool next = event->key() == Qt::Key_Down || event->key() == Qt::Key_Right;
    const bool previous = event->key() == Qt::Key_Up || event->key() == Qt::Key_Left;
    if ((!next && !previous) || plates_.empty()) {
        QWidget::keyPressEvent(event);
        return;
    }
    const auto now = std::find_if(plates_.begin(), plates_.end(),
                                  [&](const Plate& plate) { return plate.block == selected_; });
    const auto count = static_cast<std::ptrdiff_t>(plates_.size());
    const std::ptrdiff_t index = now == plates_.end() ? (next ? -1 : count) : now - plates_.begin();
    select(plates_[static_cast<std::size_t>((index + (next ? 1 : -1) + count) % count)].block);
    emit partPicked(selected_);
}

bool ChargePathView::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip && has_answer_ && answer_.engine != nullptr) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const std::string block = partAt(help->pos());
        if (block.empty()) {
            QToolTip::hideText();
        } else {
            QToolTip::showText(help->globalPos(),
                               tr("%1: suspected %2")
                                   .arg(format::blockTitle(answer_.engine->plan, block),
                                        format::percent(suspicion_of(answer_.ranking, block))),
                               this);
        }
        return true;
    }
    return QWidget::event(event);
}

}  // namespace eh
