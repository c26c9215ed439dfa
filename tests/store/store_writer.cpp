// SPDX-License-Identifier: GPL-3.0-or-later
// A process that saves as fast as it can and says what is saved, until it is killed:
//   store_writer FILE             readings of one job in a shop file
//   store_writer UNSENT ADDRESS   jobs of a server that is away, which are kept in a file
#include <QCoreApplication>
#include <cstdio>

#include "store/server_store.h"

namespace {

int say(const std::string& id) {
    std::printf("%s\n", id.c_str());
    std::fflush(stdout);
    return 0;
}

int fail(const eh::Error& error) {
    std::fprintf(stderr, "%s\n", error.text().c_str());
    return 1;
}

eh::Job job_of(const std::string& id) {
    eh::Job job;
    job.id = eh::JobId::made(id);
    job.ticket.topology = "usbc-two-chained";
    return job;
}

int write_readings(const char* file) {
    auto store = eh::JobStore::open(file);
    if (!store)
        return fail(store.error());
    eh::Job job = job_of("killed");
    if (auto known = (*store)->load("killed"))
        job = *known;
    for (;;) {
        eh::Reading reading;
        reading.id = eh::fresh_id(job, "r");
        reading.configuration.port = "p1";
        eh::MeterReading seen;
        seen.meter.volts = static_cast<double>(job.readings.size() % 20);  // a fast disk takes thousands
        reading.value = seen;
        job.readings.push_back(reading);
        if (auto saved = (*store)->save(job); !saved)
            return fail(saved.error());
        say(reading.id);
    }
}

int write_jobs(const char* unsent, const char* address) {
    const auto server = eh::parse_server_address(address);
    if (!server)
        return fail(server.error());
    auto store = eh::ServerStore::open_server(*server, unsent, true);
    if (!store)
        return fail(store.error());
    for (int n = 0;; ++n) {
        const eh::Job job =
            job_of("j" + std::to_string(QCoreApplication::applicationPid()) + "-" + std::to_string(n));
        if (auto saved = (*store)->save(job); !saved)
            return fail(saved.error());
        say(job.id.text());
    }
}

}  // namespace

int main(int argc, char** argv) {
    const QCoreApplication application(argc, argv);
    if (argc < 2)
        return 2;
    return argc == 2 ? write_readings(argv[1]) : write_jobs(argv[1], argv[2]);
}
