// SPDX-License-Identifier: GPL-3.0-or-later
// Handover: the words for the customer beside the sheet as it will look, and its exports.
#pragma once

#include <QComboBox>
#include <QDateEdit>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTextBrowser>
#include <QWidget>

#include "app/services/job_session.h"
#include "app/settings/preferences.h"
#include "core/base/result.h"
#include "core/machine/model/knowledge.h"
#include "core/shop/advice.h"

namespace eh {

class HandoverPage : public QWidget {
    Q_OBJECT
  public:
    // `rules`: advice by what was done and known; they must outlive the page.
    HandoverPage(JobSession& session, Preferences& preferences, const Knowledge& knowledge,
                 const std::vector<AdviceRule>& rules, QWidget* parent = nullptr);

    enum class Format { html, pdf, json };
    // Writes the sheet, or the whole job as a job file.
    Outcome write(Format format, const QString& file);
    [[nodiscard]] QTextBrowser& preview() { return *preview_; }
    [[nodiscard]] QComboBox& reader() { return *reader_; }
    [[nodiscard]] QPlainTextEdit& adviceField() { return *advice_; }
    [[nodiscard]] QPushButton& adviceButton() { return *take_advice_; }
    [[nodiscard]] QDateEdit& followUp() { return *follow_up_; }
    [[nodiscard]] QLineEdit& followUpReason() { return *follow_up_reason_; }
    // Takes the shop's logo from a picture; empty: none.
    Outcome setLogo(const QString& file);

  signals:
    void said(const QString& sentence);

  private:
    void refresh();
    void refreshPreview();
    void exportAs(Format format);
    void closeJob();
    [[nodiscard]] std::string sheet() const;
    QWidget* makeForm();
    QWidget* makeButtons();
    void wire();
    void askLogo();
    void setFollowUp();

    JobSession& session_;
    Preferences& preferences_;
    const Knowledge& knowledge_;
    const std::vector<AdviceRule>& rules_;
    QPlainTextEdit* found_;
    QPlainTextEdit* done_;
    QPlainTextEdit* advice_;
    QLineEdit* price_;
    QLineEdit* warranty_;
    QLineEdit* unproven_;
    QLineEdit* shop_;
    QDateEdit* follow_up_;
    QLineEdit* follow_up_reason_;
    QPushButton* take_advice_;
    QPushButton* logo_button_;
    QComboBox* reader_;
    QLabel* problem_;
    std::string logo_;  // as the sheet takes it
    QTextBrowser* preview_;
    bool refreshing_ = false;
};

}  // namespace eh
