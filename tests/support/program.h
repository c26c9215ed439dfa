// SPDX-License-Identifier: GPL-3.0-or-later
// The command line program, run as a person or a script runs it.
#pragma once

#include <QProcess>
#include <catch2/catch.hpp>
#include <string>

namespace eh::test {

struct Run {
    int code = -1;
    std::string out;
    std::string err;
};

// Requires that it ends within two minutes.
inline Run run(const QStringList& arguments, const QByteArray& input = {}) {
    QProcess process;
    process.start(EH_CLI, arguments);
    process.write(input);
    process.closeWriteChannel();
    REQUIRE(process.waitForFinished(300000));
    return {process.exitCode(), process.readAllStandardOutput().toStdString(),
            process.readAllStandardError().toStdString()};
}

}  // namespace eh::test
