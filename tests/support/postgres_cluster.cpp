// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/postgres_cluster.h"

#include <QProcess>
#include <QSqlQuery>
#include <QTcpServer>
#include <catch2/catch.hpp>
#include <csignal>
#include <filesystem>
#include <fstream>

namespace eh::test {
namespace {

void run_script(const QStringList& arguments) {
    QProcess script;
    script.setProcessChannelMode(QProcess::MergedChannels);
    // The server inherits the script's output, so that reading it to its end would wait for the server.
    script.setStandardOutputFile(QProcess::nullDevice());
    script.start(EH_SOURCE_DIR "/scripts/postgres-cluster", arguments);
    constexpr int patience_ms = 60'000;
    if (!script.waitForFinished(patience_ms) || script.exitCode() != 0)
        FAIL("scripts/postgres-cluster " << arguments.join(" ").toStdString() << " failed");
}

int free_port() {
    QTcpServer probe;
    probe.listen(QHostAddress::LocalHost);
    return probe.serverPort();
}

}  // namespace

PostgresCluster& PostgresCluster::shared() {
    static PostgresCluster cluster;
    return cluster;
}

PostgresCluster::PostgresCluster()
    : cluster_(qEnvironmentVariable("EH_POSTGRES_CLUSTER", folder_.filePath("cluster"))),
      port_(free_port()),
      standing_(qEnvironmentVariableIsSet("EH_POSTGRES_CLUSTER")) {
    if (standing_) {
        port_ = qEnvironmentVariableIntValue("EH_POSTGRES_PORT");
        running_ = true;
        return;
    }
    // The server may run as another user, who must get to its own folder in here.
    QFile::setPermissions(folder_.path(), QFile::permissions(folder_.path()) | QFile::ReadOther |
                                              QFile::ExeOther | QFile::ReadGroup | QFile::ExeGroup);
    start();
}

PostgresCluster::~PostgresCluster() {
    if (running_ && !standing_)
        QProcess::execute(EH_SOURCE_DIR "/scripts/postgres-cluster", {"kill", cluster_});
}

void PostgresCluster::start() {
    run_script({"start", cluster_, QString::number(port_)});
    running_ = true;
}

void PostgresCluster::kill() {
    run_script({"kill", cluster_});
    running_ = false;
}

void PostgresCluster::freeze() {
    signal_all(SIGSTOP);
}

void PostgresCluster::thaw() {
    signal_all(SIGCONT);
}

void PostgresCluster::signal_all(int signal) {
    std::ifstream first_line((cluster_ + "/postmaster.pid").toStdString());
    int parent = 0;
    if (!(first_line >> parent))
        FAIL("the cluster's process is not known");
    ::kill(parent, signal);
    for (const auto& entry : std::filesystem::directory_iterator("/proc")) {
        // pid (name) state parent …
        std::ifstream stat(entry.path() / "stat");
        std::string pid, name, state;
        int its_parent = 0;
        if (stat >> pid >> name >> state >> its_parent && its_parent == parent)
            ::kill(std::stoi(pid), signal);
    }
}

ServerAddress PostgresCluster::fresh_database(const std::string& name) {
    if (!running_)
        start();
    ServerAddress address{"127.0.0.1", port_, "shop", "shop"};
    {
        QSqlDatabase database = QSqlDatabase::addDatabase("QPSQL", "fresh database");
        database.setHostName(QString::fromStdString(address.host));
        database.setPort(port_);
        database.setDatabaseName("shop");
        database.setUserName("shop");
        if (!database.open())
            FAIL("the cluster lets nobody in");
        const QString quoted = "\"" + QString::fromStdString(name) + "\"";
        QSqlQuery query(database);
        query.exec("DROP DATABASE IF EXISTS " + quoted + " WITH (FORCE)");
        if (!query.exec("CREATE DATABASE " + quoted))
            FAIL("no database could be made");
    }
    QSqlDatabase::removeDatabase("fresh database");
    address.database = name;
    return address;
}

}  // namespace eh::test
