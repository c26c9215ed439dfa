// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/bench/quick_line_edit.h"

#include <QHBoxLayout>
#include <QKeyEvent>

#include "app/format/text.h"
#include "app/style/theme.h"

namespace eh {

QuickLineEdit::QuickLineEdit(JobSession& session, const Knowledge& knowledge, QWidget* parent)
    : QWidget(parent),
      session_(session),
      knowledge_(knowledge),
      field_(new QLineEdit(this)),
      echo_(new QLabel(this)) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    field_->setPlaceholderText(
        tr("Type a reading:  p2 vbus 3r3    main 12.6v    p1 5.1 0.2    hot pc2 +30      ( / )"));
    field_->setAccessibleName(tr("Quick line"));
    field_->setFont(theme::number_font(1.05));
    field_->installEventFilter(this);
    echo_->setMinimumWidth(330);
    echo_->setWordWrap(true);
    row->addWidget(field_, 3);
    row->addWidget(echo_, 2);
    connect(field_, &QLineEdit::textChanged, this, &QuickLineEdit::understand);
    connect(field_, &QLineEdit::returnPressed, this, &QuickLineEdit::enter);
}

const Topology* QuickLineEdit::topology() const {
    return session_.hasJob() ? knowledge_.find_topology(session_.job().ticket.topology) : nullptr;
}

void QuickLineEdit::start(const QString& text) {
    field_->setText(text);
    // Not as by a shortcut, which would select the beginning, and the next key would overwrite it.
    field_->setFocus(Qt::OtherFocusReason);
}

void QuickLineEdit::understand() {
    const Topology* machine = topology();
    if (machine == nullptr || field_->text().trimmed().isEmpty()) {
        echo_->clear();
        emit warned({});
        return;
    }
    const auto entry = parse_quick_line(field_->text().toStdString(), *machine, session_.job().bench);
    if (entry) {
        echo_->setText(QStringLiteral("✓ ") + format::qt(entry->echo));
        emit warned(format::qt(entry->warning));
        return;
    }
    // While a line is still being typed, what could follow says more than what is wrong.
    const auto completions = quick_line_completions(field_->text().toStdString(), *machine, 4);
    QStringList words;
    for (const std::string& completion : completions)
        words << format::qt(completion).trimmed();
    echo_->setText(words.isEmpty() ? format::qt(entry.error().message)
                                   : tr("Tab:  %1").arg(words.join("    ")));
    emit warned({});
}

void QuickLineEdit::enter() {
    const Topology* machine = topology();
    if (machine == nullptr) {
        echo_->setText(tr("Choose the machine's kind at intake first."));
        return;
    }
    const auto entry = parse_quick_line(field_->text().toStdString(), *machine, session_.job().bench);
    if (!entry) {
        echo_->setText(QStringLiteral("✗ ") + format::qt(entry.error().message));
        return;
    }
    field_->clear();
    emit entered(*entry);
    echo_->setText(tr("Taken: %1").arg(format::qt(entry->echo)));
}

void QuickLineEdit::complete() {
    const Topology* machine = topology();
    if (machine == nullptr)
        return;
    const auto completions = quick_line_completions(field_->text().toStdString(), *machine, 1);
    if (!completions.empty())
        field_->setText(format::qt(completions.front()));
}

bool QuickLineEdit::eventFilter(QObject* watched, QEvent* event) {
    if (watched == field_ && event->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Tab && !field_->text().isEmpty()) {
            complete();
            return true;
        }
        // The key that leads here, pressed once more: no reading begins so.
        if (key->text() == QLatin1String("/") && field_->text().isEmpty())
            return true;
        if (key->key() == Qt::Key_Escape) {
            field_->clear();
            emit left();
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

}  // namespace eh
