// SPDX-License-Identifier: GPL-3.0-or-later
// The demo shop: invented jobs in a shop file of its own, and a simulated meter that follows the bench strip.
#pragma once

#include <QObject>
#include <QProcess>
#include <filesystem>

#include "store/job_store.h"

namespace eh {

// Makes a fresh demo shop file from the job files in `data`/demo and returns its path.
Result<std::filesystem::path> make_demo_shop(const std::filesystem::path& data_directory);

// Makes a fresh demo shop and opens it.
JobStore::Opener demo_shop_opener(const std::filesystem::path& data_directory);

// Runs eager-hound-sim as a process of its own and says where its instruments listen.
class BenchSimulator : public QObject {
    Q_OBJECT
  public:
    explicit BenchSimulator(QObject* parent = nullptr);
    ~BenchSimulator() override;

    // `what` is "bench" or "thermal", `arguments` follow it; the addresses come by the signals. One that runs
    // already is stopped first.
    void start(const QStringList& arguments, const QString& what = QStringLiteral("bench"));

    // The program beside this one, or where the build puts it; empty when there is none.
    static QString program();

  signals:
    void meterListening(const QString& address);
    void multimeterListening(const QString& address);
    void supplyListening(const QString& address);
    void cameraListening(const QString& address);
    void failed(const QString& sentence);

  private:
    void stop();

    QProcess process_;
    bool stopping_ = false;
};

}  // namespace eh
