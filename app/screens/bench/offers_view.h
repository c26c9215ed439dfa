// SPDX-License-Identifier: GPL-3.0-or-later
// What is offered beside the next acts: the whole survey as one act, and to lay the job by where a part has
// to come first.
#pragma once

#include <QWidget>

#include "app/screens/bench/offer_bar.h"
#include "app/services/diagnosis_service.h"
#include "app/services/job_session.h"
#include "app/services/survey_run.h"

namespace eh {

class OffersView : public QWidget {
    Q_OBJECT
  public:
    // Session and service outlive it.
    OffersView(JobSession& session, DiagnosisService& diagnosis, QWidget* parent = nullptr);

    // As the answer that stands and the job want it.
    void refresh();
    void clear();

  signals:
    void due(const eh::NextAct& act);    // of the survey: the reading that comes next
    void said(const QString& sentence);  // for the status line

  private:
    void showSurvey();
    void showParking();
    void takeSurvey();  // begins it, or ends the one that is under way
    void layJobBy();

    JobSession& session_;
    DiagnosisService& diagnosis_;
    SurveyRun* run_;
    OfferBar* survey_;
    OfferBar* parking_;
};

}  // namespace eh
