// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/parts/resistor_panel.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/answer_table.h"
#include "app/widgets/form_parts.h"
#include "core/electrics/engineering.h"
#include "core/parts/preferred_values.h"
#include "core/parts/resistor_choice.h"
#include "core/parts/resistor_marking.h"

namespace eh {
namespace {

constexpr int resistor_questions_width = 400;

QString ohms_text(double ohms) {
    return format::qt(format_quantity(ohms, Unit::ohms, 4));
}

QString deviation_text(double share) {
    return (share < 0.0 ? QStringLiteral("−") : QStringLiteral("+")) +
           QStringLiteral("%1 %").arg(format::number(std::abs(100.0 * share), 2));
}

}  // namespace

ResistorPanel::ResistorPanel(ShopParts& parts, QWidget* parent)
    : QWidget(parent),
      parts_(parts),
      marking_(new QLineEdit("01C", this)),
      meaning_(form::wrapped(this, tr("What the marking means"))),
      wanted_(new QLineEdit("10k", this)),
      written_(form::wrapped(this, tr("How the value is printed"))),
      role_(form::choice(tr("What it does"), this)),
      why_(form::wrapped(this, tr("How exact it must be"))),
      verdict_(form::wrapped(this, tr("What to fit"))),
      table_(new QTableView(this)),
      rows_(new RowsModel({tr("From stock"), tr("Together"), tr("Off by"), tr("At worst"), tr("Place")},
                          this)) {
    marking_->setAccessibleName(tr("Marking"));
    wanted_->setAccessibleName(tr("Wanted ohms"));
    for (int i = 0; i < resistor_role_count; ++i)
        role_->addItem(format::qt(demand_of(static_cast<ResistorRole>(i)).title), i);
    why_->setProperty("role", "soft");
    verdict_->setFont(theme::text_font(1.3, true));
    auto* questions = new QWidget(this);
    questions->setFixedWidth(resistor_questions_width);
    auto* marking_form = new QFormLayout;
    marking_form->addRow(tr("Printed on it"), marking_);
    auto* wanted_form = new QFormLayout;
    wanted_form->addRow(tr("Wanted"), wanted_);
    wanted_form->addRow(tr("It is a"), role_);
    auto* side = new QVBoxLayout(questions);
    side->setContentsMargins(0, 0, 0, 0);
    side->addWidget(form::title(tr("Read a marking"), questions));
    side->addLayout(marking_form);
    side->addWidget(meaning_);
    side->addSpacing(14);
    side->addWidget(form::title(tr("Find a value"), questions));
    side->addLayout(wanted_form);
    side->addWidget(why_);
    side->addWidget(written_);
    side->addStretch(1);
    table_->setModel(rows_);
    dress_answer_table(*table_, tr("Resistors of the stock"));
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    for (const auto& [column, width] : {std::pair{1, 100}, {2, 92}, {3, 92}, {4, 215}})
        table_->setColumnWidth(column, width);
    auto* answers = new QVBoxLayout;
    answers->addWidget(verdict_);
    answers->addWidget(table_, 1);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 10, 14, 8);
    row->setSpacing(16);
    row->addWidget(questions);
    row->addLayout(answers, 1);
    connect(marking_, &QLineEdit::textChanged, this, &ResistorPanel::readMarking);
    connect(wanted_, &QLineEdit::textChanged, this, &ResistorPanel::choose);
    connect(role_, &QComboBox::currentIndexChanged, this, &ResistorPanel::choose);
    connect(&parts_, &ShopParts::changed, this, &ResistorPanel::choose);
    readMarking();
    choose();
}

void ResistorPanel::readMarking() {
    const auto meanings = read_marking(marking_->text().toStdString());
    if (!meanings) {
        form::show_plain(meaning_, format::qt(meanings.error().text()));
        return;
    }
    QStringList lines;
    for (const MarkingMeaning& meaning : *meanings)
        lines << (meaning.ohms == 0.0
                      ? tr("A link: 0 Ω.")
                      : tr("%1 (%2%3)")
                            .arg(ohms_text(meaning.ohms), format::qt(describe(meaning.scheme)),
                                 meaning.tolerance
                                     ? tr(", %1 %").arg(format::figures(100.0 * *meaning.tolerance, 6))
                                     : QString()));
    form::show_html(meaning_, QStringLiteral("<b>%1</b>").arg(lines.join(tr("</b> or <b>"))));
    if (meanings->front().ohms > 0.0)
        wanted_->setText(format::qt(*write_marking(meanings->front().ohms, MarkingScheme::letter)));
}

void ResistorPanel::choose() {
    const auto role = static_cast<ResistorRole>(role_->currentData().toInt());
    const RoleDemand demand = demand_of(role);
    why_->setText(
        tr("Within %1 %. %2").arg(format::figures(100.0 * demand.tolerance, 6), format::qt(demand.why)));
    const auto ohms = parse_quantity_as(wanted_->text().toStdString(), Unit::ohms);
    const auto choices =
        ohms && !ohms->over_limit
            ? choose_resistors(parts_.stock(), ohms->value, role)
            : Result<std::vector<ResistorChoice>>(
                  ohms ? refused("an open line is no resistor to fit", "wanted value") : ohms.error());
    if (!choices) {
        verdict_->setText(format::qt(choices.error().text()));
        written_->clear();
        rows_->show({});
        return;
    }
    QStringList printed;
    for (const MarkingScheme scheme : {MarkingScheme::three_digits, MarkingScheme::four_digits,
                                       MarkingScheme::eia96, MarkingScheme::letter})
        if (const auto text = write_marking(ohms->value, scheme))
            printed << format::qt(*text);
    const double e24 = nearest_preferred(ohms->value, Series::e24);
    const double e96 = nearest_preferred(ohms->value, Series::e96);
    written_->setText(tr("Printed as %1. Nearest made: %2 (E24), %3 (E96).")
                          .arg(printed.join(", "), ohms_text(e24), ohms_text(e96)));
    std::vector<RowsModel::Row> rows;
    for (const ResistorChoice& choice : *choices) {
        QStringList names;
        QStringList places;
        for (const std::size_t index : choice.parts) {
            names << format::qt(parts_.stock().parts[index].name);
            places << format::qt(parts_.stock().parts[index].place);
        }
        places.removeDuplicates();
        const QString join = choice.joined == Joined::in_series ? tr(" in series with ") : tr(" beside ");
        rows.push_back(
            {{names.join(join), ohms_text(choice.ohms), deviation_text(choice.deviation),
              QStringLiteral("%1 %").arg(format::number(100.0 * choice.worst, 1)), places.join("; ")},
             choice.good_enough ? RowsModel::Tone::good : RowsModel::Tone::soft});
    }
    const bool good = !choices->empty() && choices->front().good_enough;
    verdict_->setText(choices->empty() ? tr("Nothing in stock comes near %1").arg(ohms_text(ohms->value))
                      : good           ? tr("Fit %1").arg(rows.front().cells.front())
                                       : tr("Nothing in stock is exact enough for this"));
    rows_->show(std::move(rows));
}

}  // namespace eh
