#include "app/screens/handover/handover_page.h"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QPushButton>
#include <QSaveFile>
#include <QStandardPaths>
#include <QVBoxLayout>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "core/job/amount.h"
#include "core/job/job_json.h"
#include "core/job/proof.h"
#include "report/handover_html.h"
#include "report/handover_pdf.h"

namespace eh {
namespace {

constexpr int longest_warranty_months = 120;

Outcome write_text(const std::string& text, const QString& file) {
    QSaveFile target(file);
    if (target.open(QIODevice::WriteOnly) &&
        target.write(text.data(), static_cast<qint64>(text.size())) >= 0 && target.commit())
        return Done{};
    return Error{
        ErrorKind::unavailable,
        "the file cannot be written: " + target.errorString().toStdString() + "; choose another folder",
        file.toStdString()};
}

}  // namespace

HandoverPage::HandoverPage(JobSession& session, Preferences& preferences, const Knowledge& knowledge,
                           QWidget* parent)
    : QWidget(parent),
      session_(session),
      preferences_(preferences),
      knowledge_(knowledge),
      found_(new QPlainTextEdit(this)),
      done_(new QPlainTextEdit(this)),
      advice_(new QPlainTextEdit(this)),
      price_(new QLineEdit(this)),
      warranty_(new QLineEdit(this)),
      unproven_(new QLineEdit(this)),
      shop_(new QLineEdit(this)),
      problem_(new QLabel(this)),
      preview_(new QTextBrowser(this)) {
    auto* title = new QLabel(tr("Handover"), this);
    title->setProperty("role", "heading");
    auto* form = new QFormLayout;
    form->setVerticalSpacing(8);
    for (QPlainTextEdit* edit : {found_, done_, advice_}) {
        edit->setTabChangesFocus(true);
        edit->setMinimumHeight(60);
    }
    form->addRow(tr("What was &found"), found_);
    form->addRow(tr("What was &done"), done_);
    form->addRow(tr("&Advice"), advice_);
    form->addRow(tr("P&rice"), price_);
    form->addRow(tr("&Warranty, months"), warranty_);
    form->addRow(tr("Unproven &because"), unproven_);
    form->addRow(tr("Name of the s&hop"), shop_);
    unproven_->setPlaceholderText(tr("only when it leaves without full proof"));
    problem_->setStyleSheet(QStringLiteral("color: %1").arg(theme::colours().bad.name()));
    problem_->setWordWrap(true);
    form->addRow(QString(), problem_);
    auto* pdf = new QPushButton(tr("PDF …   Ctrl+P"), this);
    pdf->setShortcut(QKeySequence::Print);
    pdf->setDefault(true);
    auto* html = new QPushButton(tr("HTML …"), this);
    auto* json = new QPushButton(tr("Job file …"), this);
    auto* close = new QPushButton(tr("Hand over and close"), this);
    auto* buttons = new QHBoxLayout;
    for (QPushButton* button : {pdf, html, json, close})
        buttons->addWidget(button);
    buttons->addStretch(1);
    auto* left = new QVBoxLayout;
    left->addLayout(form, 1);
    left->addLayout(buttons);
    preview_->setAccessibleName(tr("The sheet as it will look"));
    preview_->setOpenLinks(false);
    auto* columns = new QHBoxLayout;
    columns->setSpacing(18);
    columns->addLayout(left, 1);
    columns->addWidget(preview_, 1);
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(16, 12, 16, 12);
    page->addWidget(title);
    page->addLayout(columns, 1);

    const auto bind = [this](QPlainTextEdit* edit, const QString& what, std::string Handover::*member) {
        connect(edit, &QPlainTextEdit::textChanged, this, [this, edit, what, member] {
            if (!refreshing_ && session_.hasJob())
                session_.edit(
                    what, [&](Job& job) { job.handover.*member = edit->toPlainText().toStdString(); }, what);
        });
    };
    bind(found_, tr("What was found"), &Handover::found);
    bind(done_, tr("What was done"), &Handover::done);
    bind(advice_, tr("Advice"), &Handover::advice);
    connect(unproven_, &QLineEdit::textEdited, this, [this](const QString& text) {
        if (session_.hasJob())
            session_.edit(
                tr("Reason"), [&](Job& job) { job.handover.unproven_reason = text.toStdString(); },
                "unproven");
    });
    connect(price_, &QLineEdit::textEdited, this, [this](const QString& text) {
        if (!session_.hasJob())
            return;
        const auto amount = parse_amount(text.toStdString(), tr("Price").toStdString());
        if (!amount) {
            problem_->setText(format::qt(amount.error().text()));
            return;
        }
        problem_->clear();
        session_.edit(
            tr("Price"), [&](Job& job) { job.handover.price = *amount; }, "price");
    });
    connect(warranty_, &QLineEdit::textEdited, this, [this](const QString& text) {
        bool number = false;
        const int months = text.trimmed().toInt(&number);
        if (!session_.hasJob())
            return;
        if (!number || months < 0 || months > longest_warranty_months) {
            problem_->setText(tr("Warranty: “%1” is not a number of months from 0 to 120.").arg(text));
            return;
        }
        problem_->clear();
        session_.edit(
            tr("Warranty"), [&](Job& job) { job.handover.warranty_months = months; }, "warranty");
    });
    shop_->setText(preferences_.shopName());
    connect(shop_, &QLineEdit::textEdited, this, [this](const QString& name) {
        preferences_.setShopName(name);
        refreshPreview();
    });
    connect(pdf, &QPushButton::clicked, this, [this] { exportAs(Format::pdf); });
    connect(html, &QPushButton::clicked, this, [this] { exportAs(Format::html); });
    connect(json, &QPushButton::clicked, this, [this] { exportAs(Format::json); });
    connect(close, &QPushButton::clicked, this, &HandoverPage::closeJob);
    connect(&session_, &JobSession::changed, this, &HandoverPage::refresh);
    connect(&session_, &JobSession::closed, this, &HandoverPage::refresh);
    refresh();
}

std::string HandoverPage::sheet() const {
    return handover_html(session_.job(), knowledge_, {preferences_.shopName().toStdString()});
}

void HandoverPage::refresh() {
    refreshing_ = true;
    setEnabled(session_.hasJob());
    const Handover handover = session_.hasJob() ? session_.job().handover : Handover{};
    const auto put_text = [](QPlainTextEdit* edit, const std::string& text) {
        if (edit->toPlainText() != format::qt(text))
            edit->setPlainText(format::qt(text));
    };
    put_text(found_, handover.found);
    put_text(done_, handover.done);
    put_text(advice_, handover.advice);
    const auto put = [](QLineEdit* field, const QString& text) {
        if (!field->hasFocus())
            field->setText(text);
    };
    put(price_, format::qt(format_amount(handover.price)));
    put(warranty_, QString::number(handover.warranty_months));
    put(unproven_, format::qt(handover.unproven_reason));
    refreshing_ = false;
    refreshPreview();
}

void HandoverPage::refreshPreview() {
    if (!session_.hasJob())
        preview_->clear();
    else
        preview_->setHtml(QString::fromStdString(sheet()));
}

Outcome HandoverPage::write(Format format, const QString& file) {
    if (!session_.hasJob())
        return refused("open a job first");
    switch (format) {
        case Format::html:
            return write_text(sheet(), file);
        case Format::pdf:
            return write_pdf(sheet(), file.toStdString());
        case Format::json:
            return write_text(job_to_text(session_.job()), file);
    }
    return Done{};
}

void HandoverPage::exportAs(Format format) {
    const QString ending = format == Format::pdf ? "pdf" : format == Format::html ? "html" : "hound.json";
    QString folder = preferences_.exportFolder();
    if (folder.isEmpty())
        folder = QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation);
    QString name = format::qt(session_.job().ticket.number);
    if (name.isEmpty())
        name = "job";
    const QString file =
        QFileDialog::getSaveFileName(this, tr("Export"), QDir(folder).filePath(name + "." + ending));
    if (file.isEmpty())
        return;
    preferences_.setExportFolder(QFileInfo(file).absolutePath());
    const Outcome written = write(format, file);
    emit said(written ? tr("Written: %1").arg(file) : QString::fromStdString(written.error().text()));
}

void HandoverPage::closeJob() {
    const Job& job = session_.job();
    if (!proof_complete(job.proof) && job.handover.unproven_reason.empty()) {
        problem_->setText(
            tr("The proof is not complete. Finish it, or write why the machine leaves unproven: the reason "
               "prints on "
               "the sheet."));
        unproven_->setFocus();
        return;
    }
    problem_->clear();
    session_.edit(tr("Close the job"), [](Job& changed) { changed.stage = JobStage::closed; });
    emit said(tr("Closed. Ctrl+Z opens it again."));
}

}  // namespace eh
