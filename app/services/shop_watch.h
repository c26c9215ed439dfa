// SPDX-License-Identifier: GPL-3.0-or-later
// Looks once a second for what other windows and benches have written, and whether the server is there.
#pragma once

#include <QObject>
#include <QTimer>

#include "app/services/job_session.h"
#include "app/services/latest_task.h"

namespace eh {

class ShopWatch : public QObject {
    Q_OBJECT
  public:
    ShopWatch(JobRepository& repository, JobSession& session, QObject* parent = nullptr);

    // Looks now.
    void look();

  signals:
    void shelfChanged();
    // Empty while everything is where it belongs.
    void stateChanged(const QString& sentence);
    void said(const QString& sentence);

  private:
    void shopChanged();
    void take(const StoreNews& news);
    void tellConflicts(const StoreNews& news);
    void bringJobUpToDate();
    void takeOver(const Result<Job>& theirs);
    // Checks the shop file and lays its daily copy, while work goes on, where that is due: of a large file
    // when it is opened, of any once a day.
    void takeCare(bool just_opened);

    JobRepository& repository_;
    JobSession& session_;
    QTimer timer_;
    int looks_ = 0;
    Asking news_;
    Asking change_;
    bool look_again_ = false;   // something changed while a change was on its way
    LatestTask<QString> care_;  // empty: all is well
    QString state_;
};

}  // namespace eh
