// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/bench/question_bar.h"

#include <QHBoxLayout>
#include <QToolButton>

#include "app/format/text.h"
#include "app/widgets/form_parts.h"

namespace eh {

QuestionBar::QuestionBar(JobSession& session, QWidget* parent)
    : QWidget(parent), session_(session), words_(form::wrapped(this, tr("Question to the customer"))) {
    setObjectName("question");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    row->addWidget(words_, 1);
    const auto add = [&](const QString& text, const QString& tip, FactAnswer answer) {
        auto* button = new QToolButton(this);
        button->setText(text);
        button->setToolTip(tip);
        row->addWidget(button);
        connect(button, &QToolButton::clicked, this, [this, answer] { this->answer(answer); });
    };
    add(tr("&Yes"), tr("The customer says yes"), FactAnswer::so);
    add(tr("N&o"), tr("The customer says no: that is weighed, too"), FactAnswer::not_so);
    add(tr("?"), tr("Nobody knows: it is not asked again"), FactAnswer::unknown);
    hide();
}

void QuestionBar::show(const std::optional<CustomerQuestion>& question) {
    fact_ = question ? question->fact : std::string();
    form::show_plain(words_, question ? tr("Ask: “%1”").arg(format::qt(question->words)) : QString());
    setVisible(question.has_value());
}

void QuestionBar::answer(FactAnswer answer) {
    if (fact_.empty() || !session_.hasJob())
        return;
    session_.edit(tr("Answer of the customer"), [&](Job& job) { answer_fact(job.ticket, fact_, answer); });
}

}  // namespace eh
