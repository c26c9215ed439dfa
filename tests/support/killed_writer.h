// SPDX-License-Identifier: GPL-3.0-or-later
// A process that writes and says what is saved, one line each, killed in the middle of it.
#pragma once

#include <QElapsedTimer>
#include <QProcess>
#include <catch2/catch.hpp>
#include <csignal>

#include "core/base/random.h"

namespace eh::test {

// Starts the program and kills it at a random moment within the time; what it had said in full by then.
inline std::vector<std::string> said_before_killed(const QString& program, const QStringList& arguments,
                                                   Random& random, int longest_ms) {
    QProcess writer;
    writer.start(program, arguments);
    REQUIRE(writer.waitForStarted());
    // Sometimes before the first save.
    QByteArray said;
    const int patience_ms = random.below(longest_ms);
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < patience_ms) {
        writer.waitForReadyRead(5);
        said += writer.readAllStandardOutput();
    }
    ::kill(static_cast<pid_t>(writer.processId()), SIGKILL);
    writer.waitForFinished();
    said += writer.readAllStandardOutput();
    const QByteArrayList lines = said.split('\n');
    std::vector<std::string> promised;
    // The last piece has no end of line, so it was not said in full.
    for (qsizetype i = 0; i + 1 < lines.size(); ++i)
        promised.push_back(lines[i].toStdString());
    return promised;
}

}  // namespace eh::test
