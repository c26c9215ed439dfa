// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/bench/offers_view.h"

#include <QDateTime>
#include <QVBoxLayout>

#include "app/format/text.h"
#include "core/parts/stock.h"
#include "core/planning/act_list.h"
#include "core/readings/bench_text.h"

namespace eh {

OffersView::OffersView(JobSession& session, DiagnosisService& diagnosis, QWidget* parent)
    : QWidget(parent),
      session_(session),
      diagnosis_(diagnosis),
      run_(new SurveyRun(session, this)),
      survey_(new OfferBar("survey", tr("The whole survey"), this)),
      parking_(new OfferBar("parking", tr("Where the part has to come first"), this)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    column->addWidget(survey_);
    column->addWidget(parking_);
    connect(survey_, &OfferBar::taken, this, &OffersView::takeSurvey);
    connect(parking_, &OfferBar::taken, this, &OffersView::layJobBy);
    connect(run_, &SurveyRun::ended, this, &OffersView::showSurvey);
    connect(run_, &SurveyRun::due, this, [this](const BenchConfiguration& way) {
        emit due(act_at(ReadingKind::meter, {}, way));
        showSurvey();
    });
    // Laid by, or taken up again on the shelf.
    connect(&session_, &JobSession::changed, this, &OffersView::showParking);
}

void OffersView::refresh() {
    showSurvey();
    showParking();
}

void OffersView::clear() {
    survey_->show({});
    parking_->show({});
}

void OffersView::showSurvey() {
    const Answer& answer = diagnosis_.answer();
    const bool answered = session_.hasJob() && answer.engine != nullptr;
    const auto& left = run_->left();
    if (answered && !left.empty())
        survey_->show(tr("Survey, %1 left. Now: %2.")
                          .arg(left.size())
                          .arg(format::qt(describe(left.front(), answer.engine->plan.topology()))),
                      tr("Stop"), tr("Keeps the readings that were taken and asks for no more"));
    else if (answered && answer.next.survey)
        survey_->show(tr("Or the whole survey: %1 ways to plug in, %2. The proof needs them anyway.")
                          .arg(answer.next.survey->ways.size())
                          .arg(format::minutes(answer.next.survey->minutes)),
                      tr("Take it"), tr("Sets the bench up for one way after another, as each is read"));
    else
        survey_->show({});
}

void OffersView::takeSurvey() {
    if (!run_->left().empty())
        run_->stop();
    else if (session_.hasJob() && diagnosis_.answer().next.survey)
        run_->start(diagnosis_.answer().next.survey->ways);
}

void OffersView::showParking() {
    const Answer& answer = diagnosis_.answer();
    const auto& parking = answer.next.parking;
    if (!session_.hasJob() || answer.engine == nullptr || !parking ||
        session_.job().waiting.on == WaitsFor::part) {
        parking_->show({});
        return;
    }
    parking_->show(tr("No new part in stock? Order it for %1, and go on when it is here.")
                       .arg(format::blockTitle(answer.engine->plan, parking->block)),
                   tr("Lay by"),
                   tr("%1: the job waits for a part on the shelf, due in %2 days. Undo takes it back.")
                       .arg(format::minutes(parking->minutes))
                       .arg(static_cast<int>(PartOrder{}.lead_days)));
}

void OffersView::layJobBy() {
    const Answer& answer = diagnosis_.answer();
    if (!session_.hasJob() || answer.engine == nullptr || !answer.next.parking)
        return;
    const QString part = format::blockTitle(answer.engine->plan, answer.next.parking->block);
    const auto days = static_cast<qint64>(PartOrder{}.lead_days);
    session_.edit(tr("Lay the job by until the part is here"), [&](Job& job) {
        job.waiting.on = WaitsFor::part;
        job.waiting.due_ms = QDateTime::currentDateTime().addDays(days).toMSecsSinceEpoch();
        job.waiting.note = tr("ordered: %1").arg(part).toStdString();
    });
    emit said(
        tr("Laid by until the part is here; the shelf keeps its date and note. Write the order down in "
           "the stock, under Parts."));
}

}  // namespace eh
