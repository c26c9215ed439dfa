// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/parts/inlet_panel.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/screens/parts/overlay_drawing.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "core/base/text.h"
#include "core/parts/receptacle_pins.h"

namespace eh {
namespace {

constexpr int inlet_side_width = 390;
constexpr int measured_height = 92;

}  // namespace

InletPanel::InletPanel(ShopParts& parts, QWidget* parent)
    : QWidget(parent),
      parts_(parts),
      board_(form::choice(tr("The board's footprint"), this)),
      part_(form::choice(tr("The part in hand"), this)),
      drawing_(new OverlayDrawing(this)),
      verdict_(form::wrapped(this, tr("Does it fit"))),
      reasons_(form::wrapped(this, tr("Why"))),
      amps_(form::spin(0.5, 5, 3, tr(" A"), tr("Amps that the charger gives"), this, 2)),
      pads_(form::wrapped(this, tr("What is lost with the torn pads"))),
      torn_off_(new QCheckBox(tr("torn off, but &whole"), this)),
      worn_(new QCheckBox(tr("contacts worn"), this)),
      bent_(new QCheckBox(tr("shell bent"), this)),
      melted_(new QCheckBox(tr("melted or burnt"), this)),
      shorted_(new QCheckBox(tr("shorted inside"), this)),
      wet_(new QCheckBox(tr("saw liquid"), this)),
      original_(new QCheckBox(tr("the new one is the factory's part"), this)),
      advice_(form::wrapped(this, tr("Keep the old one or not"))),
      measured_(new QPlainTextEdit(this)),
      keep_(new QPushButton(tr("&Keep this footprint"), this)) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 10, 14, 8);
    row->setSpacing(16);
    row->addWidget(makeComparison(), 1);
    row->addWidget(form::scrolled(makeSide()));
    for (QCheckBox* box : {torn_off_, worn_, bent_, melted_, shorted_, wet_, original_}) {
        box->setAccessibleName(box->text().remove('&'));
        connect(box, &QCheckBox::toggled, this, &InletPanel::judgeOld);
    }
    connect(board_, &QComboBox::currentIndexChanged, this, [this] {
        torn_.clear();
        compare();
    });
    connect(part_, &QComboBox::currentIndexChanged, this, &InletPanel::compare);
    connect(amps_, &QDoubleSpinBox::valueChanged, this, &InletPanel::judgePads);
    connect(drawing_, &OverlayDrawing::padClicked, this, &InletPanel::togglePad);
    connect(keep_, &QPushButton::clicked, this, &InletPanel::keepMeasured);
    connect(&parts_, &ShopParts::changed, this, &InletPanel::fill);
    torn_off_->setChecked(true);
    std::map<std::string, QString> words;
    for (const ReceptaclePin& pin : parts_.book().receptacle.pins)
        words[pin.name] = tr("%1, %2").arg(format::qt(pin.signal), format::qt(describe(pin.function)));
    drawing_->setWords(std::move(words));
    fill();
    part_->setCurrentIndex(1);
}

QWidget* InletPanel::makeComparison() {
    auto* left = new QWidget(this);
    verdict_->setFont(theme::text_font(1.5, true));
    auto* choices = new QHBoxLayout;
    choices->addWidget(new QLabel(tr("On the board"), left));
    choices->addWidget(board_, 1);
    choices->addWidget(new QLabel(tr("in hand"), left));
    choices->addWidget(part_, 1);
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 0, 0);
    column->addLayout(choices);
    column->addWidget(verdict_);
    column->addWidget(drawing_, 1);
    column->addWidget(reasons_);
    return left;
}

QWidget* InletPanel::makeSide() {
    auto* side = new QWidget(this);
    side->setFixedWidth(inlet_side_width);
    measured_->setFixedHeight(measured_height);
    measured_->setTabChangesFocus(true);
    measured_->setAccessibleName(tr("A footprint that was measured"));
    measured_->setPlaceholderText(
        tr("usb-c, my receptacle\nshell 8.94 7.35 out 0.6 high 1.63\nA1 3.35 6.9 0.6 1.1\nS1 -4.32 2.0 0.65 "
           "1.5 leg"));
    auto* asked = new QHBoxLayout;
    asked->addWidget(new QLabel(tr("The charger gives"), side));
    asked->addWidget(amps_);
    asked->addStretch(1);
    auto* grid = new QGridLayout;
    int place = 0;
    for (QCheckBox* box : {torn_off_, worn_, bent_, melted_, shorted_, wet_}) {
        grid->addWidget(box, place / 2, place % 2);
        ++place;
    }
    grid->addWidget(original_, 3, 0, 1, 2);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form::title(tr("Torn pads: click them in the drawing"), side));
    column->addLayout(asked);
    column->addWidget(pads_);
    column->addSpacing(8);
    column->addWidget(form::title(tr("The old one is"), side));
    column->addLayout(grid);
    column->addWidget(advice_);
    column->addStretch(1);
    column->addWidget(form::title(tr("Enter a part: millimetres from the middle and the edge"), side));
    column->addWidget(measured_);
    column->addWidget(keep_, 0, Qt::AlignLeft);
    return side;
}

void InletPanel::fill() {
    const QString board = board_->currentData().toString();
    const QString part = part_->currentData().toString();
    footprints_ = parts_.footprints();
    for (QComboBox* box : {board_, part_}) {
        const QSignalBlocker quiet(box);
        box->clear();
        for (const Footprint& f : footprints_)
            box->addItem(format::qt(f.title), format::qt(f.id));
        box->setCurrentIndex(std::max(0, box->findData(box == board_ ? board : part)));
    }
    compare();
}

void InletPanel::compare() {
    if (board_->currentIndex() < 0 || part_->currentIndex() < 0)
        return;
    const Footprint& board = footprints_[static_cast<std::size_t>(board_->currentIndex())];
    const Footprint& part = footprints_[static_cast<std::size_t>(part_->currentIndex())];
    comparison_ = compare_footprints(board, part);
    const auto& c = theme::colours();
    const Fit fit = comparison_->fit;
    QString verdict = format::qt(describe(fit));
    verdict[0] = verdict[0].toUpper();
    verdict_->setText(verdict);
    verdict_->setStyleSheet(QStringLiteral("color: %1")
                                .arg((fit == Fit::fits            ? c.good
                                      : fit == Fit::with_a_change ? c.suspicion
                                                                  : c.bad)
                                         .name()));
    QStringList reasons;
    for (const std::string& reason : comparison_->reasons)
        reasons << format::qt(reason);
    form::show_html(reasons_, form::paragraphs(reasons));
    drawing_->show(board, part, *comparison_);
    judgePads();
    judgeOld();
}

void InletPanel::judgePads() {
    drawing_->setTorn(torn_);
    const Footprint& board = footprints_[static_cast<std::size_t>(std::max(0, board_->currentIndex()))];
    if (board.family != "usb-c") {
        form::show_plain(pads_, tr("A jack lives only with all its legs: rebuild each torn pad."));
        return;
    }
    std::vector<std::string> fitted;
    std::vector<std::string> missing;
    for (const FootprintPad& pad : board.pads)
        if (!pad.anchor)
            fitted.push_back(pad.name);
    // Pads that receptacles with fewer rows join (the one at A12 is B1 too) count as the pair they are.
    const auto& map = parts_.book().receptacle;
    const bool joined = std::find(fitted.begin(), fitted.end(), "B1") == fitted.end();
    const auto twin = [&](const std::string& name) {
        const ReceptaclePin* pin = map.find(name);
        return joined && pin != nullptr &&
                       (pin->function == PinFunction::power_return || pin->function == PinFunction::bus_power)
                   ? (name[0] == 'A' ? "B" : "A") + integer_text(13 - std::stoi(name.substr(1)))
                   : std::string();
    };
    std::vector<std::string> twins;
    for (const std::string& name : fitted)
        if (const std::string other = twin(name); !other.empty())
            twins.push_back(other);
    fitted.insert(fitted.end(), twins.begin(), twins.end());
    for (const std::string& name : torn_)
        if (map.find(name) != nullptr) {
            missing.push_back(name);
            if (const std::string other = twin(name); !other.empty())
                missing.push_back(other);
        }
    const auto loss = judge_pads(map, missing, fitted, amps_->value());
    if (!loss) {
        form::show_plain(pads_, format::qt(loss.error().text()));
        return;
    }
    QString text;
    if (torn_.empty())
        text = form::paragraph(form::Weight::fine, tr("No pad is marked as torn."));
    for (const std::string& says : torn_.empty() ? std::vector<std::string>{} : loss->says)
        text += form::paragraph(loss->rebuild.empty() ? form::Weight::note : form::Weight::problem,
                                format::qt(says));
    if (std::any_of(torn_.begin(), torn_.end(), [](const std::string& name) { return name[0] == 'S'; }))
        text += form::paragraph(form::Weight::problem,
                                tr("A torn anchor carries no force: glue, or a wire through the board."));
    form::show_html(pads_, text);
}

void InletPanel::judgeOld() {
    if (!comparison_)
        return;
    OldPart old;
    old.torn_off_whole = torn_off_->isChecked();
    old.contacts_worn = worn_->isChecked();
    old.shell_bent = bent_->isChecked();
    old.melted_or_burnt = melted_->isChecked();
    old.shorted_inside = shorted_->isChecked();
    old.liquid = wet_->isChecked();
    old.new_part = comparison_->fit;
    old.new_part_original = original_->isChecked();
    const ReuseAdvice advice = advise_reuse(old);
    QStringList lines;
    for (const std::string& reason : advice.reasons)
        lines << format::qt(reason);
    lines << format::qt(advice.warranty);
    form::show_html(advice_, QStringLiteral("<b>%1</b>")
                                     .arg(advice.reuse     ? tr("Put the original back.")
                                          : advice.neither ? tr("Neither: order one.")
                                                           : tr("Fit the part in hand.")) +
                                 form::paragraphs(lines));
}

void InletPanel::togglePad(const QString& name) {
    const std::string pad = name.toStdString();
    if (torn_.erase(pad) == 0)
        torn_.insert(pad);
    judgePads();
}

void InletPanel::keepMeasured() {
    auto footprint = parse_measured_footprint(measured_->toPlainText().toStdString());
    if (!footprint) {
        emit said(format::qt(footprint.error().text()));
        return;
    }
    Footprint own = *footprint;
    own.id = "own" + integer_text(footprints_.size() + 1);
    parts_.addFootprint(own);
    part_->setCurrentIndex(part_->findData(format::qt(own.id)));
    measured_->clear();
    emit said(tr("Kept: %1. It is compared now.").arg(format::qt(own.title)));
}

}  // namespace eh
