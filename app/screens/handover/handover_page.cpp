// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/handover/handover_page.h"

#include <QDateTime>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QSaveFile>
#include <QStandardPaths>
#include <QVBoxLayout>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "core/entry/amount.h"
#include "core/job/job_json.h"
#include "core/proof/proof.h"
#include "report/handover_html.h"
#include "report/handover_pdf.h"
#include "report/trace_picture.h"

namespace eh {
namespace {

constexpr int longest_warranty_months = 120;
const QDate never(2000, 1, 1);  // the first day that the field shows stands for no date

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
                           const std::vector<AdviceRule>& rules, QWidget* parent)
    : QWidget(parent),
      session_(session),
      preferences_(preferences),
      knowledge_(knowledge),
      rules_(rules),
      found_(new QPlainTextEdit(this)),
      done_(new QPlainTextEdit(this)),
      advice_(new QPlainTextEdit(this)),
      price_(new QLineEdit(this)),
      warranty_(new QLineEdit(this)),
      unproven_(new QLineEdit(this)),
      shop_(new QLineEdit(this)),
      follow_up_(new QDateEdit(this)),
      follow_up_reason_(new QLineEdit(this)),
      take_advice_(new QPushButton(tr("Put the advice that follows into the field"), this)),
      logo_button_(new QPushButton(tr("Logo …"), this)),
      reader_(form::choice(tr("For whom the sheet is"), this)),
      problem_(new QLabel(this)),
      preview_(new QTextBrowser(this)) {
    auto* title = new QLabel(tr("Handover"), this);
    title->setProperty("role", "heading");
    auto* left = new QVBoxLayout;
    left->addWidget(form::scrolled(makeForm()), 1);
    left->addWidget(makeButtons());
    reader_->addItem(tr("For the customer"), static_cast<int>(SheetLength::customer));
    reader_->addItem(tr("For the next technician"), static_cast<int>(SheetLength::technician));
    reader_->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    reader_->setMinimumContentsLength(24);
    preview_->setAccessibleName(tr("The sheet as it will look"));
    preview_->setOpenLinks(false);
    auto* reader_row = new QHBoxLayout;
    auto* reader_label = new QLabel(tr("The shee&t"), this);
    reader_label->setBuddy(reader_);
    reader_row->addWidget(reader_label);
    reader_row->addWidget(reader_);
    reader_row->addStretch(1);
    auto* right = new QVBoxLayout;
    right->addLayout(reader_row);
    right->addWidget(preview_, 1);
    auto* columns = new QHBoxLayout;
    columns->setSpacing(18);
    columns->addLayout(left, 1);
    columns->addLayout(right, 1);
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(16, 12, 16, 12);
    page->addWidget(title);
    page->addLayout(columns, 1);
    if (!preferences_.shopLogo().isEmpty())
        (void)setLogo(preferences_.shopLogo());
    wire();
    refresh();
}

QWidget* HandoverPage::makeForm() {
    auto* widget = new QWidget(this);
    auto* form = new QFormLayout(widget);
    form->setContentsMargins(0, 0, 0, 0);
    form->setVerticalSpacing(8);
    for (QPlainTextEdit* edit : {found_, done_, advice_}) {
        edit->setTabChangesFocus(true);
        edit->setMinimumHeight(54);
    }
    const auto beside = [this](QWidget* first, const QString& label, QWidget* second) {
        auto* row = new QHBoxLayout;
        row->setSpacing(10);
        row->addWidget(first);
        auto* name = new QLabel(label, this);
        name->setBuddy(second);
        row->addWidget(name);
        row->addWidget(second, 1);
        return row;
    };
    form->addRow(tr("What was &found"), found_);
    form->addRow(tr("What was &done"), done_);
    form->addRow(tr("&Advice"), advice_);
    form->addRow(QString(), take_advice_);
    auto* price_label = new QLabel(tr("P&rice"), this);
    price_label->setBuddy(price_);
    form->addRow(price_label, beside(price_, tr("&Warranty, months"), warranty_));
    auto* again_label = new QLabel(tr("Look a&gain on"), this);
    again_label->setBuddy(follow_up_);
    form->addRow(again_label, beside(follow_up_, tr("beca&use"), follow_up_reason_));
    form->addRow(tr("Un&proven because"), unproven_);
    auto* shop_row = new QHBoxLayout;
    shop_row->addWidget(shop_, 1);
    shop_row->addWidget(logo_button_);
    auto* shop_label = new QLabel(tr("&Name of the shop"), this);
    shop_label->setBuddy(shop_);
    form->addRow(shop_label, shop_row);
    unproven_->setPlaceholderText(tr("only when it leaves without full proof"));
    follow_up_->setCalendarPopup(true);
    follow_up_->setDisplayFormat("d MMM yyyy");
    follow_up_->setMinimumDate(never);
    follow_up_->setSpecialValueText(tr("never"));
    follow_up_reason_->setPlaceholderText(tr("temporary repairs get a date"));
    problem_->setStyleSheet(QStringLiteral("color: %1").arg(theme::colours().bad.name()));
    problem_->setWordWrap(true);
    form->addRow(QString(), problem_);
    return widget;
}

QWidget* HandoverPage::makeButtons() {
    auto* widget = new QWidget(this);
    auto* pdf = new QPushButton(tr("PDF …   Ctrl+P"), widget);
    pdf->setShortcut(QKeySequence::Print);
    pdf->setDefault(true);
    auto* html = new QPushButton(tr("HTML …"), widget);
    auto* json = new QPushButton(tr("Job file …"), widget);
    auto* close = new QPushButton(tr("Hand over and close"), widget);
    auto* row = new QHBoxLayout(widget);
    row->setContentsMargins(0, 0, 0, 0);
    for (QPushButton* button : {pdf, html, json, close})
        row->addWidget(button);
    row->addStretch(1);
    connect(pdf, &QPushButton::clicked, this, [this] { exportAs(Format::pdf); });
    connect(html, &QPushButton::clicked, this, [this] { exportAs(Format::html); });
    connect(json, &QPushButton::clicked, this, [this] { exportAs(Format::json); });
    connect(close, &QPushButton::clicked, this, &HandoverPage::closeJob);
    return widget;
}

void HandoverPage::wire() {
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
    const auto bind_line = [this](QLineEdit* line, const QString& what, std::string Handover::*member) {
        connect(line, &QLineEdit::textEdited, this, [this, what, member](const QString& text) {
            if (session_.hasJob())
                session_.edit(
                    what, [&](Job& job) { job.handover.*member = text.toStdString(); }, what);
        });
    };
    bind_line(unproven_, tr("Reason"), &Handover::unproven_reason);
    bind_line(follow_up_reason_, tr("Why to look again"), &Handover::follow_up);
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
    connect(take_advice_, &QPushButton::clicked, this, [this] {
        const Advice advice = advise(rules_, session_.job(), knowledge_);
        session_.edit(tr("Advice"), [&](Job& job) {
            job.handover.advice = joined_lines(advice.customer);
            if (advice.follow_up_days > 0.0 && job.handover.follow_up_ms == 0) {
                job.handover.follow_up_ms = QDateTime::currentDateTime()
                                                .addDays(static_cast<qint64>(advice.follow_up_days))
                                                .toMSecsSinceEpoch();
                job.handover.follow_up = advice.follow_up;
            }
        });
    });
    connect(follow_up_, &QDateEdit::dateChanged, this, &HandoverPage::setFollowUp);
    shop_->setText(preferences_.shopName());
    connect(shop_, &QLineEdit::textEdited, this, [this](const QString& name) {
        preferences_.setShopName(name);
        refreshPreview();
    });
    connect(logo_button_, &QPushButton::clicked, this, &HandoverPage::askLogo);
    connect(reader_, &QComboBox::currentIndexChanged, this, &HandoverPage::refreshPreview);
    connect(&session_, &JobSession::changed, this, &HandoverPage::refresh);
    connect(&session_, &JobSession::closed, this, &HandoverPage::refresh);
}

void HandoverPage::setFollowUp() {
    if (refreshing_ || !session_.hasJob())
        return;
    const QDate day = follow_up_->date();
    session_.edit(
        tr("Look again"),
        [&](Job& job) {
            job.handover.follow_up_ms = day == never ? 0 : QDateTime(day, QTime(12, 0)).toMSecsSinceEpoch();
        },
        "follow-up");
}

Outcome HandoverPage::setLogo(const QString& file) {
    std::string logo;
    if (!file.isEmpty()) {
        auto picture = logo_picture(file.toStdString());
        if (!picture)
            return picture.error();
        logo = std::move(picture).value();
    }
    preferences_.setShopLogo(file);
    logo_ = logo;
    refreshPreview();
    return Done{};
}

void HandoverPage::askLogo() {
    const QString file =
        QFileDialog::getOpenFileName(this, tr("Logo of the shop"), {}, tr("Pictures (*.png *.jpg *.jpeg)"));
    if (file.isEmpty())
        return;
    if (auto set = setLogo(file); !set)
        emit said(format::qt(set.error().text()));
}

std::string HandoverPage::sheet() const {
    SheetOptions options;
    options.shop = preferences_.shopName().toStdString();
    options.logo = logo_;
    options.length = static_cast<SheetLength>(reader_->currentData().toInt());
    options.rules = &rules_;
    return handover_html(session_.job(), knowledge_, options);
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
    put(follow_up_reason_, format::qt(handover.follow_up));
    follow_up_->setDate(
        handover.follow_up_ms == 0 ? never : QDateTime::fromMSecsSinceEpoch(handover.follow_up_ms).date());
    const Advice follows = session_.hasJob() ? advise(rules_, session_.job(), knowledge_) : Advice{};
    advice_->setPlaceholderText(follows.customer.empty()
                                    ? QString()
                                    : tr("Prints as long as nothing is written here:\n%1")
                                          .arg(format::qt(joined_lines(follows.customer))));
    take_advice_->setEnabled(!follows.customer.empty() && handover.advice.empty());
    if (follows.follow_up_days > 0.0 && handover.follow_up_ms == 0)
        follow_up_reason_->setPlaceholderText(
            tr("suggested in %1 days: %2")
                .arg(format::figures(follows.follow_up_days, 6), format::qt(follows.follow_up)));
    else
        follow_up_reason_->setPlaceholderText(tr("temporary repairs get a date"));
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
    session_.edit(tr("Close the job"), [](Job& changed) {
        changed.stage = JobStage::closed;
        if (changed.handover.handed_ms == 0)
            changed.handover.handed_ms = QDateTime::currentMSecsSinceEpoch();
    });
    emit said(tr("Closed. Ctrl+Z opens it again."));
}

}  // namespace eh
