// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/board/millivolt_panel.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QShortcut>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

enum ReadColumn { PadColumn, OnColumn, OffColumn, ReadColumns };
constexpr std::size_t named_candidates = 5;
constexpr double usual_amps = 2.0;

std::optional<double> millivolts_in(const QString& text) {
    bool ok = false;
    const double value = QString(text).replace(',', '.').remove(QStringLiteral("mV")).trimmed().toDouble(&ok);
    return ok ? std::optional(1e-3 * value) : std::nullopt;
}

}  // namespace

MillivoltPanel::MillivoltPanel(BoardBench& bench, QWidget* parent)
    : QWidget(parent),
      bench_(bench),
      feed_(new QPushButton(tr("&Fed at the picked pad"), this)),
      draw_(new QPushButton(tr("D&raw the copper"), this)),
      amps_(new QDoubleSpinBox(this)),
      meter_(new QComboBox(this)),
      pad_label_(new QLabel(this)),
      entry_(new QLineEdit(this)),
      table_(new QTableWidget(0, ReadColumns, this)),
      verdict_(new QLabel(this)),
      list_(new QLabel(this)),
      take_(new QPushButton(tr("Take as a readin&g"), this)) {
    amps_->setRange(0.01, 30.0);
    amps_->setValue(usual_amps);
    amps_->setSuffix(tr(" A"));
    amps_->setAccessibleName(tr("Current that the supply gives"));
    meter_->addItem(tr("0.01 mV"), 10e-6);
    meter_->addItem(tr("0.1 mV"), 100e-6);
    meter_->addItem(tr("1 mV"), 1e-3);
    meter_->setAccessibleName(tr("Last place of the meter"));
    entry_->setPlaceholderText(tr("mV, Enter"));
    entry_->setAccessibleName(tr("Millivolts at the picked pad"));
    draw_->setCheckable(true);
    draw_->setToolTip(
        tr("Click the corners of the copper on the board; without them the hull of the net's pads stands "
           "for it"));
    table_->setHorizontalHeaderLabels({tr("Pad"), tr("mV"), tr("Off, mV")});
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->verticalHeader()->hide();
    table_->setAccessibleName(tr("Millivolts that were read"));
    verdict_->setWordWrap(true);
    verdict_->setFont(theme::text_font(1.05, true));
    verdict_->setAccessibleName(tr("What the millivolts say"));
    list_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    list_->setAccessibleName(tr("Suspects by millivolts"));
    auto* form = new QFormLayout;
    form->addRow(tr("Supply gives"), amps_);
    form->addRow(tr("Meter's last place"), meter_);
    form->addRow(pad_label_, entry_);
    auto* caution =
        new QLabel(tr("Black probe on ground close to where the supply's return is. Battery out."), this);
    caution->setProperty("role", "caution");
    caution->setWordWrap(true);
    auto* side = new QWidget(this);
    side->setFixedWidth(256);
    auto* left = new QVBoxLayout(side);
    left->setContentsMargins(0, 0, 0, 0);
    left->addWidget(feed_);
    left->addWidget(draw_);
    left->addLayout(form);
    left->addWidget(caution);
    left->addStretch(1);
    auto* right = new QVBoxLayout;
    right->addWidget(verdict_);
    right->addWidget(list_, 1);
    right->addWidget(take_);
    auto* row = new QHBoxLayout(this);
    row->setSpacing(16);
    row->addWidget(form::scrolled(side));
    row->addWidget(table_, 1);
    row->addLayout(right, 1);
    wire();
    showRows();
    showAnswer();
}

void MillivoltPanel::wire() {
    connect(feed_, &QPushButton::clicked, this, [this] {
        fed_pad_ = pad_;
        search(true);
    });
    connect(draw_, &QPushButton::toggled, this, &MillivoltPanel::drawOutline);
    connect(amps_, &QDoubleSpinBox::valueChanged, this, [this] { search(true); });
    connect(meter_, &QComboBox::currentIndexChanged, this, [this] { search(true); });
    connect(entry_, &QLineEdit::returnPressed, this, &MillivoltPanel::takeTyped);
    connect(table_, &QTableWidget::cellChanged, this, &MillivoltPanel::editRow);
    auto* remove = new QShortcut(QKeySequence::Delete, table_);
    remove->setContext(Qt::WidgetWithChildrenShortcut);
    connect(remove, &QShortcut::activated, this, &MillivoltPanel::removeRow);
    connect(take_, &QPushButton::clicked, this, &MillivoltPanel::takeReading);
    connect(&bench_, &BoardBench::picked, this, &MillivoltPanel::netPicked);
    connect(&bench_, &BoardBench::boardGoes, this, [this] { work_.finish(); });
    connect(&bench_, &BoardBench::boardEdited, this, [this] {
        const auto pads = static_cast<int>(bench_.map()->pads().size());
        rows_.erase(
            std::remove_if(rows_.begin(), rows_.end(), [pads](const Row& one) { return one.pad >= pads; }),
            rows_.end());
        if (fed_pad_ >= pads)
            fed_pad_ = no_index;
        pad_ = no_index;
        answer_.reset();
        showRows();
        search(true);
    });
    connect(&bench_, &BoardBench::boardChanged, this, [this] {
        net_ = pad_ = fed_pad_ = no_index;
        rows_.clear();
        outline_.clear();
        search_.reset();
        answer_.reset();
        again_ = false;
        showRows();
        showAnswer();
    });
}

void MillivoltPanel::padPicked(int pad) {
    if (drawing_)
        return;
    pad_ = pad;
    pad_label_->setText(pad == no_index ? tr("Pick a pad") : padName(pad));
    feed_->setEnabled(pad != no_index);
    const bool of_net = pad != no_index && bench_.map()->pad(pad).net == net_ && net_ != no_index;
    entry_->setEnabled(of_net);
    if (of_net && isVisible() && fed_pad_ != no_index)
        entry_->setFocus();
}

// Another net begins another search; readings stay as long as the net does.
void MillivoltPanel::netPicked() {
    if (bench_.map() == nullptr || bench_.net() == no_index || bench_.net() == net_)
        return;
    if (!rows_.empty())
        return;  // a pad of another net was clicked by mistake: nothing is lost
    net_ = bench_.net();
    fed_pad_ = no_index;
    outline_.clear();
    search_.reset();
    answer_.reset();
    showAnswer();
}

void MillivoltPanel::drawOutline(bool draw) {
    drawing_ = draw;
    if (draw)
        outline_.clear();
    draw_->setText(draw               ? tr("&Done with the copper")
                   : outline_.empty() ? tr("D&raw the copper")
                                      : tr("&Draw it anew"));
    if (!draw && outline_.size() < 3)
        outline_.clear();
    if (!draw)
        search(true);
    emit marksChanged();
}

void MillivoltPanel::placePicked(const Point& place) {
    if (!drawing_)
        return;
    outline_.push_back(place);
    emit marksChanged();
}

QString MillivoltPanel::padName(int pad) const {
    const BoardMap& map = *bench_.map();
    const Pad& own = map.pad(pad);
    const QString net = own.net == no_index ? tr("no net") : format::qt(map.net(own.net).name);
    return own.part == no_index
               ? tr("a via of %1").arg(net)
               : tr("%1-%2 (%3)").arg(format::qt(map.part(own.part).name), format::qt(own.pin), net);
}

void MillivoltPanel::takeTyped() {
    const auto volts = millivolts_in(entry_->text());
    if (!volts || pad_ == no_index) {
        emit said(tr("Millivolts are a number, for instance 3.25; click the pad first."));
        return;
    }
    const auto known =
        std::find_if(rows_.begin(), rows_.end(), [this](const Row& row) { return row.pad == pad_; });
    if (known != rows_.end())
        known->volts = *volts;
    else
        rows_.push_back({pad_, *volts, 0.0});
    entry_->clear();
    showRows();
    search(false);
}

void MillivoltPanel::removeRow() {
    const int row = table_->currentRow();
    if (row < 0 || row >= static_cast<int>(rows_.size()))
        return;
    rows_.erase(rows_.begin() + row);
    showRows();
    search(false);
}

void MillivoltPanel::editRow(int row, int column) {
    if (row >= static_cast<int>(rows_.size()) || column == PadColumn)
        return;
    const auto volts = millivolts_in(table_->item(row, column)->text());
    Row& own = rows_[static_cast<std::size_t>(row)];
    if (volts)
        (column == OnColumn ? own.volts : own.off_volts) = *volts;
    showRows();
    search(false);
}

void MillivoltPanel::showRows() {
    const QSignalBlocker quiet(table_);
    table_->setRowCount(static_cast<int>(rows_.size()));
    for (int r = 0; r < table_->rowCount(); ++r) {
        const Row& row = rows_[static_cast<std::size_t>(r)];
        auto* name = new QTableWidgetItem(padName(row.pad).section(QStringLiteral(" ("), 0, 0));
        name->setFlags(name->flags() & ~Qt::ItemIsEditable);
        table_->setItem(r, PadColumn, name);
        table_->setItem(r, OnColumn, new QTableWidgetItem(format::number(1e3 * row.volts, 3)));
        table_->setItem(r, OffColumn, new QTableWidgetItem(format::number(1e3 * row.off_volts, 3)));
    }
    emit marksChanged();
}

void MillivoltPanel::search(bool copper_changed) {
    if (copper_changed)
        search_.reset();
    if (bench_.map() == nullptr || net_ == no_index || fed_pad_ == no_index) {
        showAnswer();
        return;
    }
    if (work_.running()) {
        again_ = true;
        return;
    }
    const Pad& fed = bench_.map()->pad(fed_pad_);
    if (!fed.place) {
        emit said(tr("That pad has no place on the map; pick one that has."));
        return;
    }
    SearchSetup setup;
    setup.outline = outline_;
    setup.fed_at = *fed.place;
    setup.amps = amps_->value();
    setup.meter_volts = meter_->currentData().toDouble();
    std::vector<SheetReading> readings;
    for (const Row& row : rows_)
        readings.push_back({row.pad, row.volts - row.off_volts});
    // The map lives as long as the board is open, and a board is closed only after the work has ended.
    work_.start(
        [map = bench_.map(), net = net_, setup, readings, known = search_](const TaskControl&) {
            auto search = known != nullptr ? known : std::make_shared<MillivoltSearch>(*map, net, setup);
            return Found{search, search->answer(readings)};
        },
        [this](const Found& found) { take(found); });
}

void MillivoltPanel::take(const Found& found) {
    if (again_) {
        again_ = false;
        search(search_ == nullptr);
        return;
    }
    search_ = found.search;
    if (found.answer.ok())
        answer_ = *found.answer;
    else
        verdict_->setText(format::qt(found.answer.error().message));
    showAnswer();
}

void MillivoltPanel::showAnswer() {
    take_->setEnabled(answer_.has_value() && answer_->can_tell && !answer_->candidates.empty());
    if (rows_.size() < 3 || !answer_)
        answer_.reset();
    if (net_ == no_index)
        verdict_->setText(
            tr("Pick the shorted net. Feed it from the supply, then touch its pads with the meter: the "
               "copper shows the way to the short."));
    else if (fed_pad_ == no_index)
        verdict_->setText(tr("Click the pad where the supply feeds the net, then the button."));
    else if (rows_.size() < 3)
        verdict_->setText(
            tr("Click a pad of the net, type its millivolts, Enter. Three readings or more; far apart "
               "says most."));
    else if (answer_)
        verdict_->setText(format::qt(answer_->says));
    QString text;
    if (answer_) {
        for (std::size_t i = 0; i < std::min(named_candidates, answer_->candidates.size()); ++i) {
            const ShortCandidate& one = answer_->candidates[i];
            text += tr("%1  %2, short of %3\n")
                        .arg(format::percent(one.probability), format::qt(bench_.map()->part(one.part).name),
                             format::qt(format_quantity(one.short_ohms, Unit::ohms, 2)));
        }
        if (answer_->next_pad != no_index)
            text += tr("\nProbe next: %1").arg(padName(answer_->next_pad));
    }
    list_->setText(text);
    emit marksChanged();
}

std::vector<BoardMark> MillivoltPanel::marks() const {
    std::vector<BoardMark> marks;
    if (bench_.map() == nullptr)
        return marks;
    const BoardMap& map = *bench_.map();
    for (std::size_t i = 0; i < outline_.size(); ++i)
        marks.push_back({BoardMark::Look::read, outline_[i], tr("corner %1").arg(i + 1), 1.0});
    if (fed_pad_ != no_index && map.pad(fed_pad_).place)
        marks.push_back({BoardMark::Look::fed, *map.pad(fed_pad_).place, tr("fed"), 1.0});
    for (const Row& row : rows_)
        if (map.pad(row.pad).place)
            marks.push_back({BoardMark::Look::read, *map.pad(row.pad).place,
                             format::figures(1e3 * (row.volts - row.off_volts), 4), 1.0});
    if (!answer_)
        return marks;
    constexpr std::size_t shown = 3;
    constexpr double least_shown = 0.05;
    for (std::size_t i = 0; i < std::min(shown, answer_->candidates.size()); ++i) {
        const ShortCandidate& one = answer_->candidates[i];
        if (one.probability >= least_shown)
            marks.push_back(
                {BoardMark::Look::candidate, map.part(one.part).centre,
                 tr("%1 %2").arg(format::qt(map.part(one.part).name), format::percent(one.probability)),
                 one.probability});
    }
    if (answer_->next_pad != no_index)
        marks.push_back({BoardMark::Look::next, *map.pad(answer_->next_pad).place, tr("probe next"), 1.0});
    return marks;
}

void MillivoltPanel::takeReading() {
    if (!answer_ || answer_->candidates.empty())
        return;
    const ShortCandidate& first = answer_->candidates.front();
    emit said(bench_.takeFound(first.part, first.probability, std::nullopt,
                               BoardBench::Fed{amps_->value() * first.short_ohms, amps_->value()},
                               tr("by millivolts along the copper")));
}

}  // namespace eh
