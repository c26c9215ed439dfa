// SPDX-License-Identifier: GPL-3.0-or-later
// Why only 5 V: the conversation between charger and machine, what it came to, and what that points at.
#pragma once

#include <QLabel>
#include <QListView>
#include <QProgressBar>
#include <QPushButton>
#include <QWidget>

#include "app/models/talk_model.h"
#include "app/screens/talk/capture_form.h"
#include "app/services/job_session.h"
#include "app/services/talk_recording.h"
#include "core/machine/model/knowledge.h"

namespace eh {

class TalkPage : public QWidget {
    Q_OBJECT
  public:
    TalkPage(JobSession& session, TalkRecording& recording, const Knowledge& knowledge,
             QWidget* parent = nullptr);

    void openAsked();
    // Takes what the conversation came to as a reading of the bench as it stands.
    void takeReading();
    [[nodiscard]] QListView& ladder() { return *ladder_; }
    [[nodiscard]] QPushButton& recordButton() { return *record_; }
    [[nodiscard]] QPushButton& readingButton() { return *reading_; }
    [[nodiscard]] CaptureForm& form() { return *form_; }
    [[nodiscard]] QPushButton& otherwiseButton() { return *otherwise_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }

  signals:
    void said(const QString& sentence);
    void benchAsked();

  private:
    QLayout* makeHead();
    QWidget* makeSide();
    void wire();
    void refresh();
    [[nodiscard]] double wantedVolts() const;
    void showForm(bool shown);
    void showPacket(const QModelIndex& index);

    JobSession& session_;
    TalkRecording& recording_;
    const Knowledge& knowledge_;
    TalkModel model_;
    QLabel* verdict_;
    QLabel* origin_;
    QLabel* offers_;
    QLabel* points_;
    QLabel* packet_;
    QLabel* empty_;
    CaptureForm* form_;
    QListView* ladder_;
    QWidget* lanes_;
    QProgressBar* progress_;
    QPushButton* stop_;
    QPushButton* record_;
    QPushButton* otherwise_;
    QPushButton* open_;
    QPushButton* reading_;
};

}  // namespace eh
