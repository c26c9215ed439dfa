// SPDX-License-Identifier: GPL-3.0-or-later
// A process that enters readings through a repository as fast as it can, some of them as typing, and says
// which are on disk, until it is killed: repository_writer FILE
#include <QCoreApplication>
#include <cstdio>

#include "app/services/job_repository.h"

namespace {

class Writer {
  public:
    explicit Writer(const std::filesystem::path& file) {
        repository_.open([file] { return eh::JobStore::open(file); },
                         [this](const eh::Outcome& opened) {
                             if (!opened) {
                                 std::fprintf(stderr, "%s\n", opened.error().text().c_str());
                                 QCoreApplication::exit(1);
                                 return;
                             }
                             loadJob();
                         });
    }

  private:
    void loadJob() {
        repository_.ask<eh::Result<eh::Job>>(
            asking_, [](eh::JobStore& store) { return store.load("killed"); },
            [this](const eh::Result<eh::Job>& known) {
                if (known)
                    job_ = *known;
                job_.id = eh::JobId::made("killed");
                job_.ticket.topology = "usbc-two-chained";
                enter();
            });
    }
    void enter() {
        eh::Reading reading;
        reading.id = eh::fresh_id(job_, "r");
        reading.configuration.port = "p1";
        job_.readings.push_back(reading);
        repository_.keep(job_);
        job_.ticket.customer = "after " + reading.id;
        repository_.keep(job_, eh::JobRepository::Pace::when_fingers_rest);
        repository_.saveAgain([this, id = reading.id](bool all) {
            if (all) {
                std::printf("%s\n", id.c_str());
                std::fflush(stdout);
            }
            enter();
        });
    }

    eh::JobRepository repository_;
    eh::Asking asking_;
    eh::Job job_;
};

}  // namespace

int main(int argc, char** argv) {
    const QCoreApplication application(argc, argv);
    if (argc != 2)
        return 2;
    const Writer writer(argv[1]);
    return QCoreApplication::exec();
}
