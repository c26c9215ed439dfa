// SPDX-License-Identifier: GPL-3.0-or-later
// Tells a simulated bench how the strip says that the machine stands.
#pragma once

#include <QObject>

#include "app/services/job_session.h"
#include "instruments/meter_feed.h"

namespace eh {

class BenchSteering : public QObject {
    Q_OBJECT
  public:
    BenchSteering(JobSession& session, MeterFeed& feed, QObject* parent = nullptr);

  private:
    void follow();

    JobSession& session_;
    MeterFeed& feed_;
    BenchConfiguration steered_;  // what the bench was last told
};

}  // namespace eh
