// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/parts/harness_panel.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QRegularExpression>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/answer_table.h"
#include "app/widgets/form_parts.h"

namespace eh {
namespace {

constexpr int harness_questions_width = 350;

std::vector<std::string> words_of(const QString& text) {
    std::vector<std::string> words;
    for (const QString& word : text.toLower().split(QRegularExpression("[\\s,;]+"), Qt::SkipEmptyParts))
        words.push_back(word.toStdString());
    return words;
}

QString answer_text(const PinAnswer& answer) {
    return !answer.known            ? HarnessPanel::tr("?")
           : answer.contact.empty() ? HarnessPanel::tr("none")
                                    : format::qt(answer.contact);
}

}  // namespace

HarnessPanel::HarnessPanel(QWidget* parent)
    : QWidget(parent),
      pins_(new QLineEdit("1 2 3 4 5 6 7 8", this)),
      contacts_(new QLineEdit("outer inner centre", this)),
      entry_(new QLineEdit(this)),
      list_(new QListView(this)),
      lines_(new QStringListModel(this)),
      remove_(new QPushButton(tr("Re&move"), this)),
      clear_(new QPushButton(tr("Remove a&ll"), this)),
      verdict_(form::wrapped(this, tr("What is known"))),
      problems_(form::wrapped(this, tr("Contradictions and faults"))),
      table_(new QTableView(this)),
      rows_(new RowsModel({tr("Pin"), tr("At rest"), tr("Plug pushed")}, this)),
      replacement_(new QLineEdit(this)),
      moves_(form::wrapped(this, tr("How the replacement is wired"))) {
    pins_->setAccessibleName(tr("Pins of the harness, in order"));
    contacts_->setAccessibleName(tr("Contacts of the jack"));
    entry_->setAccessibleName(tr("A continuity reading"));
    replacement_->setAccessibleName(tr("Order of the replacement"));
    entry_->setPlaceholderText(tr("1 outer ok   ·   4 centre open pushed   (Enter)"));
    replacement_->setPlaceholderText(tr("outer outer outer none inner inner inner centre"));
    list_->setModel(lines_);
    list_->setAccessibleName(tr("Readings"));
    verdict_->setFont(theme::text_font(1.3, true));
    auto* questions = new QWidget(this);
    questions->setFixedWidth(harness_questions_width);
    auto* fields = new QFormLayout;
    fields->addRow(tr("Pins"), pins_);
    fields->addRow(tr("Contacts"), contacts_);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(remove_);
    buttons->addWidget(clear_);
    auto* side = new QVBoxLayout(questions);
    side->setContentsMargins(0, 0, 0, 0);
    side->addWidget(form::title(tr("Harness and jack"), questions));
    side->addLayout(fields);
    side->addWidget(form::title(tr("Continuity, in any order"), questions));
    side->addWidget(entry_);
    side->addWidget(list_, 1);
    side->addLayout(buttons);
    table_->setModel(rows_);
    dress_answer_table(*table_, tr("Which pin is what"));
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    auto* answers = new QVBoxLayout;
    answers->addWidget(verdict_);
    answers->addWidget(problems_);
    answers->addWidget(table_, 1);
    answers->addWidget(form::title(tr("The replacement's order, pin by pin"), this));
    answers->addWidget(replacement_);
    answers->addWidget(moves_);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 10, 14, 8);
    row->setSpacing(16);
    row->addWidget(questions);
    row->addLayout(answers, 1);
    connect(entry_, &QLineEdit::returnPressed, this, &HarnessPanel::add);
    connect(remove_, &QPushButton::clicked, this, &HarnessPanel::removePicked);
    connect(clear_, &QPushButton::clicked, this, [this] {
        readings_.clear();
        solve();
    });
    for (QLineEdit* field : {pins_, contacts_, replacement_})
        connect(field, &QLineEdit::textChanged, this, &HarnessPanel::solve);
    solve();
}

HarnessFacts HarnessPanel::facts() const {
    return {words_of(pins_->text()), words_of(contacts_->text())};
}

void HarnessPanel::add() {
    const auto reading = parse_continuity(entry_->text().toStdString());
    if (!reading) {
        emit said(format::qt(reading.error().text()));
        return;
    }
    auto tried = readings_;
    tried.push_back(*reading);
    if (const auto answer = map_harness(facts(), tried); !answer) {
        emit said(format::qt(answer.error().text()));
        return;
    }
    readings_ = std::move(tried);
    entry_->clear();
    solve();
    list_->setCurrentIndex(lines_->index(lines_->rowCount() - 1));
}

void HarnessPanel::removePicked() {
    const int row = list_->currentIndex().row();
    if (row < 0 || row >= static_cast<int>(readings_.size()))
        return;
    readings_.erase(readings_.begin() + row);
    solve();
}

void HarnessPanel::solve() {
    QStringList lines;
    for (std::size_t i = 0; i < readings_.size(); ++i) {
        const ContinuityReading& r = readings_[i];
        lines << tr("%1.  %2 – %3  %4%5")
                     .arg(i + 1)
                     .arg(format::qt(r.a), format::qt(r.b), r.connected ? tr("connected") : tr("open"),
                          r.push == PlugPush::pushed ? tr(", pushed") : QString());
    }
    lines_->setStringList(lines);
    const auto answer = map_harness(facts(), readings_);
    if (!answer) {
        verdict_->setText(format::qt(answer.error().text()));
        rows_->show({});
        return;
    }
    std::vector<RowsModel::Row> rows;
    int known = 0;
    for (const std::string& pin : facts().pins) {
        const PinAnswer& rest = answer->at_rest.at(pin);
        const PinAnswer& pushed = answer->pushed.at(pin);
        known += rest.known;
        rows.push_back({{format::qt(pin), answer_text(rest), answer_text(pushed)},
                        rest.known && pushed.known && rest.contact != pushed.contact ? RowsModel::Tone::plain
                        : rest.known                                                 ? RowsModel::Tone::good
                                     : RowsModel::Tone::soft});
    }
    verdict_->setText(
        readings_.empty() ? tr("Measure pin by pin; %1 first").arg(format::qt(answer->next))
        : answer->next.empty()
            ? tr("All %1 pins are known").arg(known)
            : tr("%1 of %2 pins known; next %3").arg(known).arg(rows.size()).arg(format::qt(answer->next)));
    QString problems;
    for (const HarnessContradiction& contradiction : answer->contradictions)
        problems += form::paragraph(form::Weight::problem, format::qt(contradiction.says));
    for (const std::string& change : answer->changes)
        problems += form::paragraph(form::Weight::problem, format::qt(change));
    for (const std::string& shorted : answer->shorts)
        problems += form::paragraph(form::Weight::problem, format::qt(shorted));
    form::show_html(problems_, problems);
    problems_->setVisible(!problems.isEmpty());
    rows_->show(std::move(rows));
    compare(*answer);
}

void HarnessPanel::compare(const HarnessAnswer& answer) {
    const auto order = words_of(replacement_->text());
    const auto pins = facts().pins;
    if (order.size() != pins.size()) {
        form::show_html(
            moves_,
            tr("Write what each pin of the replacement goes to, from the first to the last (%1 words); "
               "“none” for an unused one. An outside continuity pass says nothing about worn inner contacts.")
                .arg(pins.size()));
        return;
    }
    std::map<std::string, std::string> old_order;
    std::map<std::string, std::string> replacement;
    for (std::size_t i = 0; i < pins.size(); ++i) {
        old_order[pins[i]] = answer.at_rest.at(pins[i]).contact;
        replacement[pins[i]] = order[i] == "none" ? std::string() : order[i];
    }
    const HarnessOrder moved = compare_harness(old_order, replacement);
    QStringList moves;
    for (const std::string& move : moved.moves)
        moves << format::qt(move);
    form::show_html(
        moves_, moved.fits ? tr("<b>Same order: it plugs in as it is.</b>")
                           : (moved.possible ? tr("<b>Move wires:</b>") : tr("<b>It does not serve:</b>")) +
                                 form::paragraphs(moves));
}

}  // namespace eh
