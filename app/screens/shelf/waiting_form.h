// SPDX-License-Identifier: GPL-3.0-or-later
// What a job waits for, until when, and a note of it: the form under the shelf.
#pragma once

#include <QComboBox>
#include <QDateEdit>
#include <QLineEdit>
#include <QWidget>

#include "core/job/waiting.h"

namespace eh {

class WaitingForm : public QWidget {
    Q_OBJECT
  public:
    explicit WaitingForm(QWidget* parent = nullptr);

    // Shows what is written down of a job; nullopt: none is chosen.
    void show(const std::optional<Waiting>& waiting);

    [[nodiscard]] QComboBox& on() { return *on_; }
    [[nodiscard]] QDateEdit& due() { return *due_; }
    [[nodiscard]] QLineEdit& note() { return *note_; }

  signals:
    void changed(const Waiting& waiting);

  private:
    void tell();

    QComboBox* on_;
    QDateEdit* due_;
    QLineEdit* note_;
    Waiting shown_;
    bool filling_ = false;
};

}  // namespace eh
