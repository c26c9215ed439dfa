// A process that saves readings as fast as it can and says which ones are saved, until it is killed.
#include <QCoreApplication>
#include <cstdio>

#include "store/job_store.h"

int main(int argc, char** argv) {
    const QCoreApplication application(argc, argv);
    if (argc < 2)
        return 2;
    auto store = eh::JobStore::open(argv[1]);
    if (!store) {
        std::fprintf(stderr, "%s\n", store.error().text().c_str());
        return 1;
    }
    eh::Job job;
    if (auto known = (*store)->load("killed"))
        job = *known;
    job.id = "killed";
    job.ticket.topology = "usbc-two-chained";
    for (;;) {
        eh::Reading reading;
        reading.id = eh::fresh_id(job, "r");
        reading.configuration.port = "p1";
        reading.meter.volts = static_cast<double>(job.readings.size());
        job.readings.push_back(reading);
        if (auto saved = (*store)->save(job); !saved) {
            std::fprintf(stderr, "%s\n", saved.error().text().c_str());
            return 1;
        }
        std::printf("%s\n", reading.id.c_str());
        std::fflush(stdout);
    }
}
