// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/style/plain_text_rule.h"

#include <QEvent>
#include <QLabel>

namespace eh {

bool PlainTextRule::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::Polish) {
        auto* label = qobject_cast<QLabel*>(watched);
        if (label != nullptr && label->textFormat() == Qt::AutoText)
            label->setTextFormat(Qt::PlainText);
    }
    return QObject::eventFilter(watched, event);
}

}  // namespace eh
