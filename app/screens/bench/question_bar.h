// SPDX-License-Identifier: GPL-3.0-or-later
// One question to the customer, in words to be read out, and the three answers to it.
#pragma once

#include <QLabel>
#include <QWidget>
#include <optional>

#include "app/services/job_session.h"
#include "core/planning/customer_question.h"

namespace eh {

class QuestionBar : public QWidget {
    Q_OBJECT
  public:
    // The session outlives it.
    explicit QuestionBar(JobSession& session, QWidget* parent = nullptr);

    // Hides itself where there is nothing to ask.
    void show(const std::optional<CustomerQuestion>& question);

  private:
    void answer(FactAnswer answer);

    JobSession& session_;
    QLabel* words_;
    std::string fact_;
};

}  // namespace eh
