// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/demo/demo_shop.h"

#include <sys/prctl.h>

#include <QCoreApplication>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>
#include <algorithm>
#include <csignal>

#include "app/demo/earlier_jobs.h"
#include "core/base/files.h"
#include "core/job/job_json.h"

namespace eh {

namespace fs = std::filesystem;

namespace {
constexpr int longest_stop_ms = 1000;
}

Result<fs::path> make_demo_shop(const fs::path& data_directory) {
    const fs::path folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation).toStdString();
    const fs::path file = folder / "demo-shop.sqlite";
    std::error_code problem;
    fs::create_directories(folder, problem);
    for (const char* tail : {"", "-wal", "-shm"})
        fs::remove(file.string() + tail, problem);
    for (const char* folder_tail : {".traces", ".parts", ".photos"})
        fs::remove_all(file.string() + folder_tail, problem);
    fs::copy(data_directory / "demo-shop", file.string() + ".parts", problem);
    if (problem)
        return Error{ErrorKind::unavailable, "the demo's stock could not be copied: " + problem.message(),
                     file.string() + ".parts"};
    auto store = JobStore::open(file);
    if (!store)
        return store.error();
    // Jobs of earlier months first, so that those of the demo are the newest.
    for (const Job& job : earlier_jobs(QDateTime::currentMSecsSinceEpoch()))
        if (auto saved = (*store)->save(job); !saved)
            return saved.error();
    std::vector<fs::path> files;
    for (const auto& entry : fs::directory_iterator(data_directory / "demo", problem))
        files.push_back(entry.path());
    std::sort(files.begin(), files.end());
    for (const fs::path& path : files) {
        const auto text = read_text_file(path);
        if (!text)
            return text.error();
        const auto job = parse_job(*text, path.filename().string());
        if (!job)
            return job.error();
        if (auto saved = (*store)->save(*job); !saved)
            return saved.error();
    }
    return file;
}

JobStore::Opener demo_shop_opener(const fs::path& data_directory) {
    return [data_directory]() -> Result<std::unique_ptr<JobStore>> {
        const auto file = make_demo_shop(data_directory);
        if (!file)
            return file.error();
        return JobStore::open(*file);
    };
}

BenchSimulator::BenchSimulator(QObject* parent) : QObject(parent) {
    process_.setProcessChannelMode(QProcess::SeparateChannels);
    connect(&process_, &QProcess::readyReadStandardOutput, this, [this] {
        while (process_.canReadLine()) {
            const QString line = QString::fromUtf8(process_.readLine()).trimmed();
            const QString address = line.section(' ', 2);
            if (line.startsWith("listening meter "))
                emit meterListening(address);
            else if (line.startsWith("listening dmm "))
                emit multimeterListening(address);
            else if (line.startsWith("listening psu "))
                emit supplyListening(address);
            else if (line.startsWith("listening "))
                emit cameraListening(line.section(' ', 1));
        }
    });
    connect(&process_, &QProcess::errorOccurred, this, [this] {
        if (!stopping_)
            emit failed(tr("The simulated bench did not start: %1.").arg(process_.errorString()));
    });
    connect(&process_, &QProcess::finished, this, [this](int code) {
        if (!stopping_ && code != 0)
            emit failed(tr("The simulated bench stopped: %1")
                            .arg(QString::fromUtf8(process_.readAllStandardError()).trimmed()));
    });
}

BenchSimulator::~BenchSimulator() {
    stop();
}

void BenchSimulator::stop() {
    if (process_.state() == QProcess::NotRunning)
        return;
    stopping_ = true;
    process_.kill();
    process_.waitForFinished(longest_stop_ms);
    stopping_ = false;
}

QString BenchSimulator::program() {
    const QDir here(QCoreApplication::applicationDirPath());
    for (const char* place : {"eager-hound-sim", "../sims/eager-hound-sim"}) {
        if (QFileInfo(here.filePath(place)).isExecutable())
            return here.filePath(place);
    }
    return {};
}

void BenchSimulator::start(const QStringList& arguments, const QString& what) {
    // A window that is killed takes its simulated instruments along.
    process_.setChildProcessModifier([] { ::prctl(PR_SET_PDEATHSIG, SIGKILL); });
    const QString path = program();
    if (path.isEmpty()) {
        emit failed(
            tr("The program eager-hound-sim is missing beside this one; the demo runs without a meter."));
        return;
    }
    stop();
    process_.start(path, QStringList{what} + arguments);
}

}  // namespace eh
