// SPDX-License-Identifier: GPL-3.0-or-later
// Looks once a second for what other windows and benches have written, and whether the server is there.
#pragma once

#include <QObject>
#include <QTimer>

#include "app/models/job_session.h"
#include "app/services/latest_task.h"
#include "store/job_store.h"

namespace eh {

class ShopWatch : public QObject {
    Q_OBJECT
  public:
    explicit ShopWatch(JobSession& session, QObject* parent = nullptr);

    void watch(JobStore* store);
    // Looks now.
    void look();

  signals:
    void shelfChanged();
    // Empty while everything is where it belongs.
    void stateChanged(const QString& sentence);
    void said(const QString& sentence);

  private:
    void bringJobUpToDate();
    void tellConflicts(const StoreNews& news);
    // Checks the shop file and lays its daily copy, while work goes on, where that is due: of a large file
    // when it is opened, of any once a day.
    void takeCare(bool just_opened);

    JobSession& session_;
    JobStore* store_ = nullptr;
    QTimer timer_;
    int looks_ = 0;
    LatestTask<QString> care_;  // empty: all is well
    QString state_;
    bool trouble_ = false;  // a save did not go as it should
};

}  // namespace eh
