// SPDX-License-Identifier: GPL-3.0-or-later
// The quick line with its completion and the echo of how it is understood.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QWidget>

#include "app/services/job_session.h"
#include "core/entry/quick_line.h"
#include "core/machine/model/knowledge.h"

namespace eh {

class QuickLineEdit : public QWidget {
    Q_OBJECT
  public:
    QuickLineEdit(JobSession& session, const Knowledge& knowledge, QWidget* parent = nullptr);

    void start(const QString& text = {});  // takes the keyboard, with a beginning typed already
    [[nodiscard]] QLineEdit& field() { return *field_; }
    [[nodiscard]] QString echo() const { return echo_->text(); }

  signals:
    void entered(const eh::QuickEntry& entry);
    void warned(const QString& warning);  // the bench does not fit what is being typed; "" when it does
    void left();                          // Escape: the keyboard goes back to the page

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void understand();
    void enter();
    void complete();
    [[nodiscard]] const Topology* topology() const;

    JobSession& session_;
    const Knowledge& knowledge_;
    QLineEdit* field_;
    QLabel* echo_;
};

}  // namespace eh
