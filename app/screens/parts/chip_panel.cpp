// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/parts/chip_panel.h"

#include <QDateTime>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/answer_table.h"
#include "app/widgets/form_parts.h"
#include "core/electrics/engineering.h"
#include "core/parts/regulator_match.h"

namespace eh {
namespace {

QLineEdit* named_field(const QString& text, const QString& name, QWidget* parent) {
    auto* field = new QLineEdit(text, parent);
    field->setAccessibleName(name);
    return field;
}

QString ports_text(const DonorResult& result) {
    QStringList words;
    for (const auto& [port, outcome] : result.ports)
        words << ChipPanel::tr("%1 %2%3").arg(format::qt(port),
                                              format::qt(format_quantity(outcome.volts, Unit::volts)),
                                              outcome.data ? QString() : ChipPanel::tr(", no data"));
    return words.join("; ");
}

QString joined(const std::vector<std::string>& list) {
    QStringList words;
    for (const std::string& word : list)
        words << format::qt(word);
    return words.join("; ");
}

}  // namespace

ChipPanel::ChipPanel(JobSession& session, ShopParts& parts, QWidget* parent)
    : QWidget(parent),
      session_(session),
      parts_(parts),
      from_board_(named_field({}, tr("Board that the chip comes from"), this)),
      from_position_(named_field({}, tr("Its position there"), this)),
      to_board_(named_field({}, tr("Board that it goes to"), this)),
      to_position_(named_field({}, tr("Its position here"), this)),
      verdict_(form::wrapped(this, tr("May it go there"))),
      why_(form::wrapped(this, tr("Why"))),
      outcome_(named_field({}, tr("What each port did"), this)),
      record_(new QPushButton(tr("&Write it down"), this)),
      table_(new QTableView(this)),
      rows_(new RowsModel({tr("From"), tr("To"), tr("Ports"), tr("Job")}, this)),
      name_(named_field({}, tr("Name of the part that failed"), this)),
      in_volts_(named_field("20V", tr("Highest volts at its input"), this)),
      out_volts_(named_field("3.3V", tr("Volts that it gives"), this)),
      amps_(named_field("100mA", tr("Amps of its load"), this)),
      package_(named_field("5 pins", tr("Its package"), this)),
      pinout_(named_field("in gnd en nc out", tr("Order of its pins"), this)),
      regulator_verdict_(form::wrapped(this, tr("Which regulator fits"))),
      regulator_table_(new QTableView(this)),
      regulator_rows_(new RowsModel({tr("From stock"), tr("Place"), tr("Judged")}, this)) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 10, 14, 8);
    row->setSpacing(24);
    row->addWidget(makeDonor(), 1);
    row->addWidget(makeRegulator(), 1);
    for (QLineEdit* field : {from_board_, from_position_, to_board_, to_position_})
        connect(field, &QLineEdit::textChanged, this, &ChipPanel::advise);
    for (QLineEdit* field : {name_, in_volts_, out_volts_, amps_, package_, pinout_})
        connect(field, &QLineEdit::textChanged, this, &ChipPanel::match);
    connect(record_, &QPushButton::clicked, this, &ChipPanel::record);
    connect(outcome_, &QLineEdit::returnPressed, this, &ChipPanel::record);
    connect(&parts_, &ShopParts::changed, this, [this] {
        advise();
        match();
    });
    connect(&session_, &JobSession::opened, this,
            [this] { to_board_->setText(tr("%1 main").arg(format::qt(session_.job().ticket.machine))); });
    advise();
    match();
}

QWidget* ChipPanel::makeDonor() {
    auto* side = new QWidget(this);
    verdict_->setFont(theme::text_font(1.4, true));
    from_board_->setPlaceholderText(tr("board"));
    from_position_->setPlaceholderText(tr("position"));
    to_board_->setPlaceholderText(tr("board"));
    to_position_->setPlaceholderText(tr("position"));
    outcome_->setPlaceholderText(tr("left 20 V; right 5 V; back 20 V no data"));
    const auto pair = [side](QLineEdit* board, QLineEdit* position) {
        auto* both = new QHBoxLayout;
        both->addWidget(board, 2);
        both->addWidget(position, 1);
        Q_UNUSED(side)
        return both;
    };
    auto* fields = new QFormLayout;
    fields->addRow(tr("From"), pair(from_board_, from_position_));
    fields->addRow(tr("To"), pair(to_board_, to_position_));
    table_->setModel(rows_);
    dress_answer_table(*table_, tr("Results of the shop"));
    table_->horizontalHeader()->setSectionResizeMode(2, QHeaderView::Stretch);
    table_->setWordWrap(true);
    table_->verticalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->setColumnWidth(0, 130);
    table_->setColumnWidth(1, 130);
    table_->setColumnWidth(3, 70);
    auto* noting = new QHBoxLayout;
    noting->addWidget(outcome_, 1);
    noting->addWidget(record_);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form::title(tr("A programmed chip from a donor"), side));
    column->addLayout(fields);
    column->addWidget(verdict_);
    column->addWidget(why_);
    column->addSpacing(6);
    column->addWidget(form::softly(tr("It is in? Write down what each port did:"), side));
    column->addLayout(noting);
    column->addWidget(table_, 1);
    return side;
}

QWidget* ChipPanel::makeRegulator() {
    auto* side = new QWidget(this);
    regulator_verdict_->setFont(theme::text_font(1.4, true));
    auto* fields = new QFormLayout;
    fields->addRow(tr("Name on it"), name_);
    fields->addRow(tr("Meets up to"), in_volts_);
    fields->addRow(tr("Gives"), out_volts_);
    fields->addRow(tr("Load takes"), amps_);
    fields->addRow(tr("Package"), package_);
    fields->addRow(tr("Pins in order"), pinout_);
    regulator_table_->setModel(regulator_rows_);
    dress_answer_table(*regulator_table_, tr("Regulators of the stock"));
    regulator_table_->setWordWrap(true);
    regulator_table_->horizontalHeader()->setSectionResizeMode(2, QHeaderView::Stretch);
    regulator_table_->verticalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    regulator_table_->setColumnWidth(0, 170);
    regulator_table_->setColumnWidth(1, 80);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form::title(tr("A regulator or switch"), side));
    column->addLayout(fields);
    column->addWidget(regulator_verdict_);
    column->addWidget(form::softly(tr("Not programmed: any of the same name, new, is right."), side));
    column->addWidget(regulator_table_, 1);
    return side;
}

void ChipPanel::advise() {
    std::vector<RowsModel::Row> rows;
    for (const DonorResult& result : parts_.donorResults())
        rows.push_back({{format::qt(result.from_board + " " + result.from_position),
                         format::qt(result.to_board + " " + result.to_position), ports_text(result),
                         format::qt(result.job)},
                        result.good() ? RowsModel::Tone::good : RowsModel::Tone::plain});
    rows_->show(std::move(rows));
    const bool asked = !from_board_->text().isEmpty() && !from_position_->text().isEmpty() &&
                       !to_board_->text().isEmpty() && !to_position_->text().isEmpty();
    if (!asked) {
        verdict_->setText(tr("Name boards and positions"));
        verdict_->setStyleSheet({});
        form::show_plain(
            why_,
            tr("Programs differ between models, and between the sides of one machine: only a donor from the "
               "same board and position is safe until proven."));
        return;
    }
    const DonorAdvice advice = advise_donor(
        parts_.donorResults(), from_board_->text().toStdString(), from_position_->text().toStdString(),
        to_board_->text().toStdString(), to_position_->text().toStdString());
    const auto& c = theme::colours();
    QString verdict = format::qt(advice.verdict);
    verdict[0] = verdict[0].toUpper();
    verdict_->setText(verdict);
    const bool safe =
        advice.standing == DonorStanding::proven || advice.standing == DonorStanding::same_place;
    verdict_->setStyleSheet(QStringLiteral("color: %1").arg((safe ? c.good : c.bad).name()));
    QStringList lines;
    if (advice.worked + advice.failed > 0)
        lines << tr("%1 of %2 worked: the chance lies between %3 and %4 (90 %).")
                     .arg(advice.worked)
                     .arg(advice.worked + advice.failed)
                     .arg(format::percent(advice.lowest_chance), format::percent(advice.highest_chance));
    for (const std::string& why : advice.why)
        lines << format::qt(why);
    form::show_html(why_, form::paragraphs(lines));
}

void ChipPanel::record() {
    DonorResult result;
    result.from_board = from_board_->text().trimmed().toStdString();
    result.from_position = from_position_->text().trimmed().toStdString();
    result.to_board = to_board_->text().trimmed().toStdString();
    result.to_position = to_position_->text().trimmed().toStdString();
    result.job = session_.hasJob() ? session_.job().ticket.number : std::string();
    result.when_ms = QDateTime::currentMSecsSinceEpoch();
    auto ports = parse_port_outcomes(outcome_->text().toStdString());
    if (!ports) {
        emit said(format::qt(ports.error().text()));
        return;
    }
    result.ports = *ports;
    if (auto checked = check_donor_result(result); !checked) {
        emit said(format::qt(checked.error().text()));
        return;
    }
    parts_.addDonorResult(result);
    outcome_->clear();
    emit said(result.good() ? tr("Written down: it worked.")
                            : tr("Written down: it did not work everywhere."));
}

void ChipPanel::match() {
    RegulatorNeed need;
    need.package = package_->text().trimmed().toStdString();
    need.pinout = pinout_->text().simplified().toStdString();
    const auto in_volts = parse_quantity_as(in_volts_->text().toStdString(), Unit::volts);
    const auto out_volts = parse_quantity_as(out_volts_->text().toStdString(), Unit::volts);
    const auto amps = parse_quantity_as(amps_->text().toStdString(), Unit::amps);
    for (const auto* quantity : {&in_volts, &out_volts, &amps})
        if (!*quantity) {
            regulator_verdict_->setText(format::qt(quantity->error().text()));
            regulator_rows_->show({});
            return;
        }
    need.in_volts = in_volts->value;
    need.out_volts = out_volts->value;
    need.amps = amps->value;
    const auto matches = match_regulators(parts_.stock(), name_->text().trimmed().toStdString(), need);
    std::vector<RowsModel::Row> rows;
    for (const RegulatorMatch& match : matches) {
        const StockPart& part = parts_.stock().parts[match.part];
        QString judged = match.same_part ? tr("the same part")
                         : match.fits    ? tr("fits")
                                         : joined(match.against);
        if (!match.unknown.empty() && !match.same_part)
            judged += (judged.isEmpty() ? QString() : QStringLiteral("; ")) +
                      tr("not known: %1").arg(joined(match.unknown));
        rows.push_back({{format::qt(part.name), format::qt(part.place), judged},
                        match.fits ? RowsModel::Tone::good : RowsModel::Tone::plain});
    }
    regulator_verdict_->setText(matches.empty()        ? tr("No regulator is in stock")
                                : matches.front().fits ? tr("Fit %1").arg(rows.front().cells.front())
                                                       : tr("None in stock is sound"));
    regulator_rows_->show(std::move(rows));
}

}  // namespace eh
