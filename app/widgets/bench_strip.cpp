// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/bench_strip.h"

#include <QHBoxLayout>
#include <QPainter>
#include <algorithm>

#include "app/format/text.h"
#include "app/style/theme.h"

namespace eh {
namespace {

constexpr int plate_height = 50;
constexpr int padding = 9;

}  // namespace

StripPlate::StripPlate(const QString& name, const QString& key, QWidget* parent)
    : QAbstractButton(parent), name_(name), key_(key) {
    setFocusPolicy(Qt::TabFocus);
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
}

void StripPlate::setValue(const QString& value, bool unusual) {
    value_ = value;
    unusual_ = unusual;
    setAccessibleName(tr("%1: %2, key %3").arg(name_, value, key_));
    updateGeometry();
    update();
}

QSize StripPlate::sizeHint() const {
    const QFontMetrics value(theme::text_font(1.1, true));
    const QFontMetrics name(theme::text_font(0.85));
    const int width = std::max(value.horizontalAdvance(value_), name.horizontalAdvance(name_ + key_) + 26);
    return {width + 2 * padding, plate_height};
}

QSize StripPlate::minimumSizeHint() const {
    constexpr int least_name = 44;
    const QFontMetrics value(theme::text_font(1.1, true));
    return {std::max(value.horizontalAdvance(value_), least_name) + 2 * padding, plate_height};
}

void StripPlate::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF body = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
    painter.setPen(QPen(hasFocus() ? c.accent : c.rule, hasFocus() ? 2.0 : 1.0));
    painter.setBrush(!isEnabled() ? c.paper : unusual_ ? c.accent_wash : c.surface);
    painter.drawRoundedRect(body, 4, 4);
    // A bar on the left says "unusual" without colour.
    if (unusual_ && isEnabled()) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(c.accent);
        painter.drawRect(QRectF(0, 6, 3.5, height() - 12));
    }
    const QFontMetrics small(theme::text_font(0.8, true));
    const int key_width = small.horizontalAdvance(key_) + 9;
    const QFont name_font = theme::text_font(0.85);
    const int name_width = width() - 2 * padding - key_width - 4;
    painter.setFont(name_font);
    painter.setPen(c.soft_ink);
    painter.drawText(QRectF(padding, 4, name_width, 18), Qt::AlignLeft | Qt::AlignVCenter,
                     QFontMetrics(name_font).elidedText(name_, Qt::ElideRight, name_width));
    const QRectF key_box(width() - padding - key_width, 5, key_width, 15);
    painter.setFont(theme::text_font(0.8, true));
    painter.setPen(QPen(c.soft_ink, 1.0));
    painter.setBrush(Qt::NoBrush);
    painter.drawRoundedRect(key_box, 3, 3);
    painter.drawText(key_box, Qt::AlignCenter, key_);
    painter.setFont(theme::text_font(1.1, true));
    painter.setPen(isEnabled() ? c.ink : c.soft_ink);
    painter.drawText(QRectF(padding, 22, width() - 2 * padding, 25), Qt::AlignLeft | Qt::AlignVCenter,
                     value_);
}

BenchStrip::BenchStrip(JobSession& session, const Knowledge& knowledge, QWidget* parent)
    : QWidget(parent),
      session_(session),
      knowledge_(knowledge),
      row_(new QHBoxLayout),
      column_(new QVBoxLayout(this)) {
    column_->setContentsMargins(10, 7, 10, 7);
    column_->setSpacing(2);
    column_->addLayout(row_);
    row_->setSpacing(6);
    plug_ = addPlate(tr("Charger"), Qt::Key_K, tr("Plug the charger in or out"), [](BenchConfiguration& b) {
        b.charger_connected = !b.charger_connected;
        b.plug_held = b.bare_plug = false;
        b.tester = Tester::none;
    });
    port_ = addPlate(tr("Port"), Qt::Key_P, tr("Move the plug to the next port"),
                     [this](BenchConfiguration& b) { nextPort(b); });
    side_ = addPlate(tr("Plug side"), Qt::Key_T, tr("Turn the plug over"), [](BenchConfiguration& b) {
        b.side = b.side == PlugSide::a ? PlugSide::b : PlugSide::a;
    });
    hold_ = addPlate(tr("Plug sits"), Qt::Key_H,
                     tr("Hold the plug to its good side, put the charger to a tester, or a bare plug in"),
                     nextHold);
    charger_ = addPlate(tr("Whose charger"), Qt::Key_C, tr("Swap the charger"),
                        [this](BenchConfiguration& b) { swapSource(b, SourcePiece::charger); });
    lead_ = addPlate(tr("Whose lead"), Qt::Key_L, tr("Swap the lead"),
                     [this](BenchConfiguration& b) { swapSource(b, SourcePiece::lead); });
    battery_ = addPlate(tr("Battery"), Qt::Key_B, tr("Connect or disconnect the battery"),
                        [](BenchConfiguration& b) { b.battery_in = !b.battery_in; });
    case_ = addPlate(tr("Case"), Qt::Key_O, tr("Open or close the case"), [](BenchConfiguration& b) {
        b.case_open = !b.case_open;
        if (!b.case_open)
            b.board_out = false;
    });
    board_ =
        addPlate(tr("Board"), Qt::Key_M, tr("Take the board out or put it in"), [](BenchConfiguration& b) {
            b.board_out = !b.board_out;
            if (b.board_out)
                b.case_open = true;
        });
    button_ = addPlate(tr("Power"), Qt::Key_W, tr("Press power, or keep the machine off"),
                       [](BenchConfiguration& b) {
                           b.button = b.button == Button::left_alone ? Button::pressed
                                      : b.button == Button::pressed  ? Button::kept_off
                                                                     : Button::left_alone;
                       });
    special_ = addPlate(tr("Meter"), Qt::Key_N, tr("Read with the second meter, or take out what was lent"),
                        [](BenchConfiguration& b) {
                            if (b.lent.empty())
                                b.second_instruments = !b.second_instruments;
                            b.lent.clear();
                        });
    warning_ = new QLabel(this);
    warning_->setWordWrap(true);
    warning_->setFont(theme::text_font(1.0, true));
    row_->addStretch(1);
    placeWarning();
    connect(&session_, &JobSession::changed, this, &BenchStrip::refresh);
    connect(&session_, &JobSession::closed, this, &BenchStrip::refresh);
    refresh();
}

StripPlate* BenchStrip::addPlate(const QString& name, const QKeySequence& key, const QString& description,
                                 const Change& change) {
    auto* plate = new StripPlate(name, key.toString(), this);
    auto* action = new QAction(description, this);
    action->setShortcut(key);
    plate->setToolTip(tr("%1 (key %2)").arg(description, key.toString()));
    connect(action, &QAction::triggered, this,
            [this, description, change] { changeBench(description, change); });
    connect(plate, &QAbstractButton::clicked, action, &QAction::trigger);
    connect(action, &QAction::enabledChanged, plate, &QWidget::setEnabled);
    actions_.append(action);
    row_->addWidget(plate);
    return plate;
}

void BenchStrip::changeBench(const QString& description, const Change& change) {
    if (session_.hasJob())
        session_.edit(description, [&](Job& job) {
            change(job.bench);
            job.bench.power_was_cut = job.bench.power_was_cut || all_power_is_cut(job.bench);
        });
}

const Topology* BenchStrip::topology() const {
    return session_.hasJob() ? knowledge_.find_topology(session_.job().ticket.topology) : nullptr;
}

void BenchStrip::swapSource(BenchConfiguration& bench, SourcePiece piece) const {
    const Topology* machine = topology();
    const Port* port = machine == nullptr ? nullptr : machine->find_port(bench.port);
    const Owner now = piece == SourcePiece::charger ? bench.charger : bench.lead;
    set_owner(bench, piece, now == Owner::bench ? Owner::customer : Owner::bench, knowledge_.kit,
              port == nullptr ? std::string() : port->family);
}

void BenchStrip::nextPort(BenchConfiguration& bench) const {
    const Topology* machine = topology();
    if (machine == nullptr)
        return;
    const auto& ports = machine->ports;
    const auto now =
        std::find_if(ports.begin(), ports.end(), [&](const Port& port) { return port.id == bench.port; });
    const bool last = now == ports.end() || std::next(now) == ports.end();
    bench.port = last ? ports.front().id : std::next(now)->id;
    bench.side = PlugSide::a;
    bench.charger_connected = true;
    bench.bare_plug = false;
    bench.tester = Tester::none;
}

// With a charger behind the plug: free, held, at a tester with load, without. Else: a bare one, or none.
void BenchStrip::nextHold(BenchConfiguration& bench) {
    if (!bench.charger_connected) {
        bench.bare_plug = !bench.bare_plug;
        return;
    }
    if (bench.tester == Tester::no_load) {
        bench.tester = Tester::none;
    } else if (bench.tester == Tester::loaded) {
        bench.tester = Tester::no_load;
    } else {
        bench.tester = bench.plug_held ? Tester::loaded : Tester::none;
        bench.plug_held = !bench.plug_held;
    }
}

void BenchStrip::setWarning(const QString& warning) {
    warning_->setText(warning);
    placeWarning();
    update();
}

void BenchStrip::placeWarning() {
    constexpr int least_beside = 200;
    int plates = 0;
    for (const StripPlate* plate : findChildren<StripPlate*>(Qt::FindDirectChildrenOnly))
        plates += plate->sizeHint().width() + row_->spacing();
    const QMargins margins = column_->contentsMargins();
    const int across = width() - margins.left() - margins.right();
    const bool beside = across - plates >= least_beside;
    const bool is_beside = row_->indexOf(warning_) >= 0;
    if (beside != is_beside || (!is_beside && column_->indexOf(warning_) < 0)) {
        row_->removeWidget(warning_);
        column_->removeWidget(warning_);
        if (beside)
            row_->addWidget(warning_, 4);
        else
            column_->addWidget(warning_);
    }
    warning_->setVisible(beside || !warning_->text().isEmpty());
    const int below =
        warning_->isVisibleTo(this) && !beside ? warning_->heightForWidth(across) + column_->spacing() : 0;
    setFixedHeight(plate_height + margins.top() + margins.bottom() + below);
}

void BenchStrip::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    placeWarning();
}

void BenchStrip::refresh() {
    const Topology* machine = topology();
    for (QAction* action : actions_)
        action->setEnabled(machine != nullptr);
    const BenchConfiguration bench = session_.hasJob() ? session_.job().bench : BenchConfiguration{};
    const Port* port = machine == nullptr ? nullptr : machine->find_port(bench.port);
    const bool in = bench.charger_connected;
    plug_->setValue(in ? tr("plugged in") : tr("out"), !in);
    port_->setValue(port == nullptr ? tr("none") : format::qt(port->title), false);
    side_->setValue(bench.side == PlugSide::a ? tr("A") : tr("B"), bench.side == PlugSide::b);
    const bool at_tester = in && bench.tester != Tester::none;
    const QString sits = at_tester ? bench.tester == Tester::loaded ? tr("at tester") : tr("tester, idle")
                         : in ? bench.plug_held ? tr("held") : tr("free")
                         : bench.bare_plug ? tr("bare, in")
                                           : tr("free");
    hold_->setValue(sits, at_tester || (in ? bench.plug_held : bench.bare_plug));
    button_->setValue(bench.button == Button::pressed    ? tr("pressed")
                      : bench.button == Button::kept_off ? tr("kept off")
                                                         : tr("left alone"),
                      bench.button != Button::left_alone);
    charger_->setValue(bench.charger == Owner::bench ? tr("shop's") : tr("customer's"),
                       bench.charger != Owner::bench);
    lead_->setValue(bench.lead == Owner::bench ? tr("shop's") : tr("customer's"), bench.lead != Owner::bench);
    battery_->setValue(bench.battery_in ? tr("in") : tr("out"), !bench.battery_in);
    case_->setValue(bench.case_open ? tr("open") : tr("closed"), bench.case_open);
    if (bench.lent.empty())
        special_->setValue(bench.second_instruments ? tr("second") : tr("usual"), bench.second_instruments);
    else
        special_->setValue(tr("lent part in"), true);
    board_->setValue(bench.board_out ? tr("out") : tr("in"), bench.board_out);
}

void BenchStrip::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.fillRect(rect(), warning_->text().isEmpty() ? c.paper : c.warning_wash);
    painter.setPen(c.rule);
    painter.drawLine(0, height() - 1, width(), height() - 1);
}

}  // namespace eh
