// SPDX-License-Identifier: GPL-3.0-or-later
// No label, tooltip or message box guesses whether its text is HTML. Qt's default is to guess, so that a
// job number or a meter's line could be shown as markup, load files or hang the program.
#pragma once

#include <QObject>

namespace eh {

// Installed on the application: a label that does not say what its text is (Qt::AutoText) shows it as it
// stands, before it is seen or measured for the first time. What is meant as HTML goes through
// form::show_html(). Tooltips and message boxes are labels, too.
class PlainTextRule : public QObject {
  public:
    using QObject::QObject;
    bool eventFilter(QObject* watched, QEvent* event) override;
};

}  // namespace eh
