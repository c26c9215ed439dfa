// Handover: the words for the customer beside the sheet as it will look, and its exports.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QTextBrowser>
#include <QWidget>

#include "app/models/job_session.h"
#include "app/models/preferences.h"
#include "core/base/result.h"
#include "core/machine/knowledge.h"

namespace eh {

class HandoverPage : public QWidget {
    Q_OBJECT
  public:
    HandoverPage(JobSession& session, Preferences& preferences, const Knowledge& knowledge,
                 QWidget* parent = nullptr);

    enum class Format { html, pdf, json };
    // Writes the sheet, or the whole job as a job file.
    Outcome write(Format format, const QString& file);
    [[nodiscard]] QTextBrowser& preview() { return *preview_; }

  signals:
    void said(const QString& sentence);

  private:
    void refresh();
    void refreshPreview();
    void exportAs(Format format);
    void closeJob();
    [[nodiscard]] std::string sheet() const;

    JobSession& session_;
    Preferences& preferences_;
    const Knowledge& knowledge_;
    QPlainTextEdit* found_;
    QPlainTextEdit* done_;
    QPlainTextEdit* advice_;
    QLineEdit* price_;
    QLineEdit* warranty_;
    QLineEdit* unproven_;
    QLineEdit* shop_;
    QLabel* problem_;
    QTextBrowser* preview_;
    bool refreshing_ = false;
};

}  // namespace eh
