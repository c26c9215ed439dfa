// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that the window works with and that shows nothing itself: what the user has chosen, the shop's
// jobs, the open one, the reasoning, recordings and instruments. Made and wired once; screens get what they
// need of it by reference.
#pragma once

#include <array>
#include <map>
#include <string>

#include "app/services/bench_steering.h"
#include "app/services/design_service.h"
#include "app/services/diagnosis_service.h"
#include "app/services/job_import.h"
#include "app/services/job_session.h"
#include "app/services/latest_task.h"
#include "app/services/meter_capture.h"
#include "app/services/meter_recording.h"
#include "app/services/shop_parts.h"
#include "app/services/shop_watch.h"
#include "app/services/talk_recording.h"
#include "app/services/trace_watch.h"
#include "app/settings/preferences.h"
#include "instruments/bench_supply.h"
#include "instruments/meter_feed.h"
#include "instruments/multimeter.h"
#include "instruments/thermal_camera.h"

namespace eh {

class Workbench : public QObject {
    Q_OBJECT
  public:
    // All three must outlive it.
    Workbench(const Knowledge& knowledge, const BenchCosts& costs, const ReworkBook& rework);
    ~Workbench() override;

    const Knowledge& knowledge;
    const BenchCosts& costs;
    const ReworkBook& rework;
    Preferences preferences;
    JobRepository repository;
    JobSession session;
    ShopWatch watch;
    JobImport import;
    ShopParts shop_parts;
    DiagnosisService diagnosis;
    DesignService design;
    MeterRecording recording;
    MeterFeed feed;
    MeterCapture meter_capture;
    TalkRecording talk_recording;
    BenchSteering steering;
    TraceWatch trace_watch;
    Multimeter multimeter;
    BenchSupply supply;
    ThermalCamera camera;

    // Puts a job on the bench.
    void open(const Job& job);
    // A job with a number and the technician's name, as a new ticket begins.
    [[nodiscard]] Job freshTicket();
    // A kind of machine has been described anew: it is reasoned about anew.
    void machineChanged(const std::string& topology);

    // What is not on disk, in words: jobs and lists of the shop. Empty when all is.
    [[nodiscard]] QString unsaved() const;
    // Tries once more to bring everything to disk, for a moment; the event loop runs meanwhile, but for what
    // the user does.
    bool bringToDisk();

    // Counts the shop's proven repairs, uses them where the user wants that, and does what follows.
    void countRepairs(std::function<void()> then = {});
    [[nodiscard]] const ShopRates& repairs() const { return repairs_; }
    void useShopRates(bool use);
    // How many jobs of the shop are on machines of each of these kinds.
    void countJobs(const std::vector<std::string>& topologies,
                   std::function<void(const std::vector<Result<int>>&)> answer);
    // All jobs of the shop, without their readings. Requires a shop.
    void readAllJobs(std::function<void(const Result<std::vector<Job>>&)> answer);

    // Reads what earlier machines taught, and asks anew where the job on the bench may learn from them.
    void readLessons();

    // Before the window goes: nothing is worked out any more, no supply is left on.
    void close();

  signals:
    void said(const QString& sentence);
    void unsavedChanged();

  private:
    void wire();
    void shopChanged();
    void askAnew();
    void takeLessons(std::vector<TaughtMachine> taught);
    void mendRights(const std::filesystem::path& shop);

    ShopRates repairs_;
    Asking repairs_asked_;
    Asking view_asked_;                              // for reading all jobs
    LatestTask<Result<std::vector<Job>>> all_jobs_;  // being read
    Asking lessons_asked_;
    LatestTask<Result<std::vector<Job>>> lessons_;  // jobs being read for them
    LatestTask<bool> mending_;                      // rights of folders beside the shop file
    // What the reasoning was asked about last.
    struct Asked {
        std::vector<Reading> readings;
        std::string topology;
        std::array<std::vector<std::string>, 3> facts;  // so, not so, not known
        std::map<std::string, std::vector<std::string>> fact_places;
        BenchConfiguration bench;
        std::vector<Act> acts;
        std::vector<std::string> out_of_reach;
        bool like_its_kind = true;
        std::size_t teachers = 0;  // machines of its name that it learns from
        friend bool operator==(const Asked&, const Asked&) = default;
    };
    std::optional<Asked> asked_;
};

}  // namespace eh
