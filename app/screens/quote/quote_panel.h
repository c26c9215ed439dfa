// SPDX-License-Identifier: GPL-3.0-or-later
// What the repair will take: minutes and money with a band, against the customer's limit and the machine's
// worth.
#pragma once

#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "app/services/diagnosis_service.h"
#include "app/services/job_session.h"
#include "app/settings/preferences.h"
#include "core/shop/quote.h"

namespace eh {

class QuotePanel : public QWidget {
    Q_OBJECT
  public:
    QuotePanel(JobSession& session, DiagnosisService& diagnosis, Preferences& preferences,
               const BenchCosts& costs, QWidget* parent = nullptr);

    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    [[nodiscard]] QString leftOut() const { return left_out_->text(); }
    [[nodiscard]] QString spent() const { return spent_->text(); }
    [[nodiscard]] QDoubleSpinBox& worth() { return *worth_; }
    [[nodiscard]] QPushButton& takeButton() { return *take_; }

  signals:
    void said(const QString& sentence);

  private:
    void workOut();
    void takeEstimate();
    [[nodiscard]] QuoteTerms terms() const;

    JobSession& session_;
    DiagnosisService& diagnosis_;
    Preferences& preferences_;
    const BenchCosts& costs_;
    QDoubleSpinBox* an_hour_;
    QDoubleSpinBox* part_factor_;
    QDoubleSpinBox* fixed_;
    QDoubleSpinBox* worth_;
    QLabel* verdict_;
    QLabel* band_;
    QLabel* left_out_;
    QLabel* spent_;
    QLabel* ways_;
    QPushButton* take_;
    std::optional<Quote> quote_;
};

}  // namespace eh
