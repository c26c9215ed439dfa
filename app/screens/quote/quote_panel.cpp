// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/quote/quote_panel.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"

namespace eh {
namespace {

constexpr int terms_width = 300;
constexpr std::size_t shown_ways = 8;
constexpr double never_certain = 0.999;  // a second attempt may always be needed: shown as over 99 %

}  // namespace

QuotePanel::QuotePanel(JobSession& session, DiagnosisService& diagnosis, Preferences& preferences,
                       const BenchCosts& costs, QWidget* parent)
    : QWidget(parent),
      session_(session),
      diagnosis_(diagnosis),
      preferences_(preferences),
      costs_(costs),
      an_hour_(form::spin(0, 1000, preferences.hourPrice(), {}, tr("Price of an hour"), this, 0)),
      part_factor_(
          form::spin(0, 10, preferences.partFactor(), tr(" times its cost"), tr("Price of a part"), this, 1)),
      fixed_(form::spin(0, 600, QuoteTerms{}.fixed_minutes, tr(" min"), tr("Minutes in any case"), this, 0)),
      worth_(form::spin(0, 1e5, 0, {}, tr("What the machine is worth"), this, 0)),
      verdict_(form::wrapped(this, tr("Quote"))),
      band_(form::wrapped(this, tr("Minutes and price"))),
      left_out_(form::wrapped(this, tr("What the limit leaves out"))),
      spent_(form::wrapped(this, tr("Spent so far"))),
      ways_(form::wrapped(this, tr("How it may turn out"))),
      take_(new QPushButton(tr("&Take it as the estimate"), this)) {
    worth_->setSpecialValueText(tr("not known"));
    verdict_->setFont(theme::text_font(1.5, true));
    auto* fields = new QFormLayout;
    fields->addRow(tr("An hour"), an_hour_);
    fields->addRow(tr("A part"), part_factor_);
    fields->addRow(tr("In any case"), fixed_);
    fields->addRow(tr("Machine's worth"), worth_);
    auto* side = new QWidget(this);
    side->setFixedWidth(terms_width);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form::title(tr("Terms of the shop"), side));
    column->addLayout(fields);
    column->addSpacing(10);
    column->addWidget(form::title(tr("Spent so far"), side));
    column->addWidget(spent_);
    column->addStretch(1);
    auto* answers = new QVBoxLayout;
    answers->addWidget(verdict_);
    answers->addWidget(band_);
    answers->addWidget(left_out_);
    answers->addWidget(take_, 0, Qt::AlignLeft);
    answers->addSpacing(10);
    answers->addWidget(form::title(tr("How it may turn out"), this));
    answers->addWidget(ways_);
    answers->addStretch(1);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 10, 14, 8);
    row->setSpacing(16);
    row->addWidget(side);
    row->addLayout(answers, 1);
    for (QDoubleSpinBox* box : {an_hour_, part_factor_, fixed_, worth_})
        connect(box, &QDoubleSpinBox::valueChanged, this, [this] {
            preferences_.setHourPrice(an_hour_->value());
            preferences_.setPartFactor(part_factor_->value());
            workOut();
        });
    connect(take_, &QPushButton::clicked, this, &QuotePanel::takeEstimate);
    connect(&diagnosis_, &DiagnosisService::answered, this, &QuotePanel::workOut);
    connect(&session_, &JobSession::changed, this, &QuotePanel::workOut);
    connect(&session_, &JobSession::closed, this, &QuotePanel::workOut);
    workOut();
}

QuoteTerms QuotePanel::terms() const {
    QuoteTerms terms;
    terms.an_hour = an_hour_->value();
    terms.part_factor = part_factor_->value();
    terms.fixed_minutes = fixed_->value();
    if (worth_->value() > 0.0)
        terms.worth = worth_->value();
    if (session_.hasJob())
        terms.limit = session_.job().ticket.price_limit;
    return terms;
}

void QuotePanel::workOut() {
    const Answer& answer = diagnosis_.answer();
    quote_.reset();
    const bool ready = session_.hasJob() && answer.engine != nullptr && answer.table != nullptr &&
                       answer.engine->plan.topology().id == session_.job().ticket.topology &&
                       !answer.ranking.suspicions.empty();
    take_->setEnabled(ready);
    if (!ready) {
        verdict_->setText(tr("No quote yet"));
        band_->setText(
            tr("Open a job, choose how it takes power, and take a reading: what is suspected decides what it "
               "will cost."));
        left_out_->clear();
        ways_->clear();
        spent_->clear();
        return;
    }
    const auto cases = quote_cases(answer.ranking, *answer.table, session_.job().bench, costs_);
    const QuoteTerms now = terms();
    const auto quote = make_quote(cases, now);
    if (!quote) {
        verdict_->setText(format::qt(quote.error().text()));
        return;
    }
    quote_ = *quote;
    verdict_->setText(
        tr("%1 to %2").arg(format::number(quote->price_median, 0)).arg(format::number(quote->price_90, 0)));
    band_->setText(
        tr("In half of such cases up to <b>%1</b> (%2), in nine of ten up to <b>%3</b> (%4). Expected %5. %6")
            .arg(format::number(quote->price_median, 0))
            .arg(format::minutes(quote->minutes_median))
            .arg(format::number(quote->price_90, 0))
            .arg(format::minutes(quote->minutes_90))
            .arg(format::number(quote->price_expected, 0))
            .arg(format::qt(quote->advice)));
    QStringList left_out;
    if (quote->within_limit)
        left_out << tr("The limit of %1 suffices with %2.")
                        .arg(format::number(*now.limit, 0))
                        .arg(format::percent(std::min(*quote->within_limit, never_certain)));
    for (const std::string& line : quote->left_out)
        left_out << format::qt(line);
    form::show_html(left_out_, left_out.isEmpty() ? tr("No price limit is agreed: write it at intake.")
                                                  : form::paragraphs(left_out));
    QStringList ways;
    for (const QuoteCase& each : cases) {
        if (static_cast<std::size_t>(ways.size()) >= shown_ways)
            break;
        ways << tr("%1  %2: %3, parts %4")
                    .arg(format::percent(each.probability), format::qt(each.what),
                         format::minutes(each.minutes))
                    .arg(format::number(each.part_cost, 0));
    }
    form::show_html(ways_, form::paragraphs(ways));
    double minutes = 0.0;
    double parts = 0.0;
    for (const Act& act : session_.job().acts) {
        minutes += act.minutes;
        parts += act.cost;
    }
    const double spent = now.an_hour / 60.0 * minutes + now.part_factor * parts;
    const bool over = now.limit && spent > *now.limit;
    if (minutes == 0.0 && parts == 0.0) {
        form::show_plain(spent_, tr("Nothing is recorded yet."));
        return;
    }
    form::show_html(
        spent_,
        form::paragraph(
            over ? form::Weight::problem : form::Weight::fine,
            now.limit
                ? tr("%1 of the accepted %2 (%3 and parts).")
                      .arg(format::number(spent, 0))
                      .arg(format::number(*now.limit, 0))
                      .arg(format::minutes(minutes))
                : tr("%1 (%2 and parts).").arg(format::number(spent, 0)).arg(format::minutes(minutes))) +
            (over ? form::paragraphs({tr("Stop and ask the customer before going on.")}) : QString()));
}

void QuotePanel::takeEstimate() {
    if (!quote_ || !session_.hasJob())
        return;
    const double price = std::ceil(quote_->price_90);
    session_.edit(tr("Estimate"), [&](Job& job) { job.ticket.estimate = price; });
    emit said(tr("Estimate set to %1: enough in nine of ten such cases.").arg(format::number(price, 0)));
}

}  // namespace eh
