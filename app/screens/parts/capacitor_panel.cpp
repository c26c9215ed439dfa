// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/parts/capacitor_panel.h"

#include <qcustomplot.h>

#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/answer_table.h"
#include "app/widgets/form_parts.h"
#include "core/electrics/engineering.h"
#include "core/parts/capacitor_choice.h"

namespace eh {
namespace {

constexpr int capacitor_questions_width = 300;
constexpr int bias_points = 60;

QLineEdit* quantity_field(const QString& text, const QString& name, QWidget* parent) {
    auto* field = new QLineEdit(text, parent);
    field->setAccessibleName(name);
    return field;
}

}  // namespace

CapacitorPanel::CapacitorPanel(ShopParts& parts, QWidget* parent)
    : QWidget(parent),
      parts_(parts),
      value_(quantity_field("10uF", tr("Value of the original"), this)),
      rated_(quantity_field("25V", tr("Rating of the original"), this)),
      rail_(quantity_field("20V", tr("Highest volts of the rail"), this)),
      dielectric_(form::choice(tr("Dielectric of the original"), this)),
      package_(quantity_field("0805", tr("Size that the pads take"), this)),
      parallel_(new QSpinBox(this)),
      curve_(quantity_field({}, tr("A maker's curve"), this)),
      verdict_(form::wrapped(this, tr("What the rail needs"))),
      left_off_(form::wrapped(this, tr("If it is left off"))),
      table_(new QTableView(this)),
      rows_(new RowsModel({tr("From stock"), tr("Left at the rail"), tr("Place"), tr("Judged")}, this)),
      plot_(new QCustomPlot(this)) {
    for (const char* name : {"X5R", "X7R", "C0G"})
        dielectric_->addItem(name);
    dielectric_->addItem(tr("not known"));
    parallel_->setRange(1, 99);
    parallel_->setValue(4);
    parallel_->setAccessibleName(tr("Alike in parallel"));
    curve_->setPlaceholderText(tr("0 V 1; 10 V 0.7; 20 V 0.4"));
    verdict_->setFont(theme::text_font(1.3, true));
    auto* fields = new QFormLayout;
    fields->addRow(tr("Original"), value_);
    fields->addRow(tr("Rated"), rated_);
    fields->addRow(tr("Dielectric"), dielectric_);
    fields->addRow(tr("Size"), package_);
    fields->addRow(tr("Rail, at most"), rail_);
    fields->addRow(tr("Alike there"), parallel_);
    fields->addRow(tr("Own curve"), curve_);
    auto* questions = new QWidget(this);
    questions->setFixedWidth(capacitor_questions_width);
    auto* side = new QVBoxLayout(questions);
    side->setContentsMargins(0, 0, 0, 0);
    side->addWidget(form::title(tr("The capacitor that failed"), questions));
    side->addLayout(fields);
    side->addSpacing(10);
    side->addWidget(form::title(tr("Left off instead"), questions));
    side->addWidget(left_off_);
    side->addStretch(1);
    table_->setModel(rows_);
    dress_answer_table(*table_, tr("Capacitors of the stock"));
    table_->setWordWrap(true);
    table_->horizontalHeader()->setSectionResizeMode(3, QHeaderView::Stretch);
    table_->verticalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->setColumnWidth(0, 190);
    table_->setColumnWidth(1, 130);
    table_->setColumnWidth(2, 130);
    form::dress(*plot_, tr("volts on it"), tr("left of the value, %"));
    plot_->setMinimumHeight(190);
    auto* answers = new QVBoxLayout;
    answers->addWidget(verdict_);
    answers->addWidget(plot_, 2);
    answers->addWidget(table_, 3);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 10, 14, 8);
    row->setSpacing(16);
    row->addWidget(questions);
    row->addLayout(answers, 1);
    for (QLineEdit* field : {value_, rated_, rail_, package_, curve_})
        connect(field, &QLineEdit::textChanged, this, &CapacitorPanel::workOut);
    connect(dielectric_, &QComboBox::currentIndexChanged, this, &CapacitorPanel::workOut);
    connect(parallel_, &QSpinBox::valueChanged, this, &CapacitorPanel::workOut);
    connect(&parts_, &ShopParts::changed, this, &CapacitorPanel::workOut);
    workOut();
}

void CapacitorPanel::workOut() {
    left_off_->setText(format::qt(leave_one_off(parallel_->value()).says));
    const auto refuse = [this](const Error& error) {
        verdict_->setText(format::qt(error.text()));
        rows_->show({});
        plot_->clearGraphs();
        plot_->replot(QCustomPlot::rpQueuedReplot);
    };
    const auto farads = parse_quantity_as(value_->text().toStdString(), Unit::farads);
    if (!farads)
        return refuse(farads.error());
    const auto rail = parse_quantity_as(rail_->text().toStdString(), Unit::volts);
    if (!rail)
        return refuse(rail.error());
    const auto rated = parse_quantity_as(rated_->text().toStdString(), Unit::volts);
    CapacitorNeed need;
    need.farads = farads->value;
    need.rail_volts = rail->value;
    need.rated_volts = rated ? rated->value : 0.0;
    need.dielectric = dielectric_->currentText().toStdString();
    need.package = package_->text().trimmed().toStdString();
    const auto choices = choose_capacitors(parts_.stock(), parts_.book().bias_bands, need);
    if (!choices)
        return refuse(choices.error());
    const RatingNeed needed = rating_need(rail->value);
    verdict_->setText(tr("Rated %1 at least, better %2")
                          .arg(format::qt(format_quantity(needed.at_least, Unit::volts)),
                               format::qt(format_quantity(needed.better, Unit::volts))));
    std::vector<RowsModel::Row> rows;
    for (const CapacitorChoice& choice : *choices) {
        const StockPart& part = parts_.stock().parts[choice.part];
        rows.push_back(
            {{tr("%1 %2").arg(format::qt(part.name), format::qt(part.package + " " + part.dielectric)),
              tr("%1 – %2").arg(format::qt(format_quantity(choice.farads_least, Unit::farads, 2)),
                                format::qt(format_quantity(choice.farads_most, Unit::farads, 2))),
              format::qt(part.place), format::qt(choice.says)},
             choice.sound   ? RowsModel::Tone::good
             : choice.rated ? RowsModel::Tone::plain
                            : RowsModel::Tone::soft});
    }
    if (rows.empty())
        rows.push_back(
            {{tr("Nothing near this value is in stock."), {}, {}, tr("Order it, or enter what is there.")},
             RowsModel::Tone::soft});
    rows_->show(std::move(rows));
    drawBias(need.rated_volts > 0.0 ? need.rated_volts : needed.better, rail->value);
}

void CapacitorPanel::drawBias(double rated_volts, double rail_volts) {
    const auto& c = theme::colours();
    plot_->clearGraphs();
    plot_->clearItems();
    const auto curve = parse_bias_curve(curve_->text().toStdString());
    QVector<double> volts;
    QVector<double> least;
    QVector<double> most;
    const double highest = std::max(rated_volts, rail_volts) * 1.05;
    for (int i = 0; i <= bias_points; ++i) {
        volts << highest * i / bias_points;
        const ShareLeft left =
            curve ? share_left(*curve, volts.back())
                  : share_left(parts_.book().bias_bands, dielectric_->currentText().toStdString(),
                               package_->text().trimmed().toStdString(), rated_volts, volts.back());
        least << 100.0 * left.least;
        most << 100.0 * left.most;
    }
    QCPGraph* upper = plot_->addGraph();
    upper->setPen(QPen(c.accent, 2));
    upper->setData(volts, most, true);
    QCPGraph* lower = plot_->addGraph();
    lower->setPen(QPen(c.accent, 2, Qt::DashLine));
    lower->setData(volts, least, true);
    upper->setBrush(QBrush(c.accent_wash));
    upper->setChannelFillGraph(lower);
    QCPGraph* rail = plot_->addGraph();
    rail->setPen(QPen(c.suspicion, 2, Qt::DotLine));
    rail->setData({rail_volts, rail_volts}, {0.0, 105.0}, true);
    auto* word = new QCPItemText(plot_);
    word->setText(tr("the rail"));
    word->setFont(theme::text_font(0.82));
    word->setColor(c.suspicion);
    word->setPositionAlignment(Qt::AlignRight | Qt::AlignTop);
    word->position->setCoords(rail_volts - 0.01 * highest, 104.0);
    auto* source = new QCPItemText(plot_);
    source->setText(curve ? tr("the curve that was entered")
                          : tr("estimate for this class: enter the maker's curve where it matters"));
    source->setFont(theme::text_font(0.82));
    source->setColor(c.soft_ink);
    source->setPositionAlignment(Qt::AlignLeft | Qt::AlignBottom);
    source->position->setCoords(0.01 * highest, 3.0);
    plot_->xAxis->setRange(0.0, highest);
    plot_->yAxis->setRange(0.0, 108.0);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

}  // namespace eh
