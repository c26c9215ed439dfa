// SPDX-License-Identifier: GPL-3.0-or-later
// The last net: an exception that leaves a slot would end the program, and with it what is not on disk.
#pragma once

#include <QApplication>
#include <functional>

namespace eh {

class GuardedApplication : public QApplication {
  public:
    using QApplication::QApplication;
    // Told what went wrong, in the window's thread; the event that did is lost, the program goes on.
    using Report = std::function<void(const QString& what)>;
    void setReport(Report report) { report_ = std::move(report); }

    bool notify(QObject* receiver, QEvent* event) override;
    // Runs the work; what it throws is reported, and counts as not done.
    static bool guarded(const std::function<bool()>& work, const Report& report);

  private:
    Report report_;
};

}  // namespace eh
