// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/guarded_application.h"

#include <exception>

namespace eh {

bool GuardedApplication::guarded(const std::function<bool()>& work, const Report& report) {
    QString what;
    try {
        return work();
    } catch (const std::exception& problem) {
        what = QString::fromUtf8(problem.what());
    } catch (...) {
        what = QStringLiteral("unknown");
    }
    if (report)
        report(what);
    return false;
}

bool GuardedApplication::notify(QObject* receiver, QEvent* event) {
    return guarded([&] { return QApplication::notify(receiver, event); }, report_);
}

}  // namespace eh
