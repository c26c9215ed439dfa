// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/shelf/waiting_form.h"

#include <QHBoxLayout>
#include <QLabel>

#include "app/format/text.h"

namespace eh {
namespace {

// The first day that the field can show stands for "no date".
const QDate no_date(2000, 1, 1);
const QTime end_of_work(18, 0);

}  // namespace

WaitingForm::WaitingForm(QWidget* parent)
    : QWidget(parent), on_(new QComboBox(this)), due_(new QDateEdit(this)), note_(new QLineEdit(this)) {
    on_->addItem(tr("(what its stage says)"), -1);
    for (int i = 0; i < waits_for_count; ++i)
        on_->addItem(format::shelfName(static_cast<WaitsFor>(i)), i);
    on_->setAccessibleName(tr("Waits for"));
    due_->setDisplayFormat("ddd d MMM yyyy");
    due_->setCalendarPopup(true);
    due_->setMinimumDate(no_date);
    due_->setSpecialValueText(tr("no date"));
    due_->setAccessibleName(tr("Due"));
    note_->setPlaceholderText(tr("jack ordered, asks her brother …"));
    note_->setAccessibleName(tr("Note"));
    auto* waits_label = new QLabel(tr("&Waits for"), this);
    waits_label->setBuddy(on_);
    auto* due_label = new QLabel(tr("&Due"), this);
    due_label->setBuddy(due_);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(10);
    row->addWidget(waits_label);
    row->addWidget(on_);
    row->addWidget(due_label);
    row->addWidget(due_);
    row->addWidget(note_, 1);
    connect(on_, &QComboBox::activated, this, &WaitingForm::tell);
    connect(due_, &QDateEdit::dateChanged, this, &WaitingForm::tell);
    connect(note_, &QLineEdit::editingFinished, this, &WaitingForm::tell);
    show(std::nullopt);
}

void WaitingForm::show(const std::optional<Waiting>& waiting) {
    filling_ = true;
    setEnabled(waiting.has_value());
    shown_ = waiting.value_or(Waiting{});
    on_->setCurrentIndex(on_->findData(shown_.on ? static_cast<int>(*shown_.on) : -1));
    due_->setDate(shown_.due_ms == 0 ? no_date : QDateTime::fromMSecsSinceEpoch(shown_.due_ms).date());
    note_->setText(format::qt(shown_.note));
    filling_ = false;
}

void WaitingForm::tell() {
    if (filling_)
        return;
    Waiting waiting;
    if (on_->currentData().toInt() >= 0)
        waiting.on = static_cast<WaitsFor>(on_->currentData().toInt());
    const bool same_day =
        shown_.due_ms != 0 && QDateTime::fromMSecsSinceEpoch(shown_.due_ms).date() == due_->date();
    if (due_->date() != no_date)
        waiting.due_ms = same_day ? shown_.due_ms : QDateTime(due_->date(), end_of_work).toMSecsSinceEpoch();
    waiting.note = note_->text().trimmed().toStdString();
    if (waiting == shown_)
        return;
    shown_ = waiting;
    emit changed(waiting);
}

}  // namespace eh
