// SPDX-License-Identifier: GPL-3.0-or-later
// The shop's jobs as the window sees them. The store behind it lives on a thread of its own: the window never
// waits for a disk or a server. What is entered is written soon, typing a few times a second at most; what
// the disk or the server has not taken yet is known here, tried again, and asked about when the window
// closes. All of it is called from the window's thread.
#pragma once

#include <QObject>
#include <QStringList>
#include <QTimer>
#include <atomic>
#include <exception>

#include "app/services/store_lane.h"

namespace eh {

// What is known of the shop that is open.
struct OpenShop {
    std::filesystem::path file;  // see JobStore::file()
    std::string place;           // for people
    bool on_server = false;
    bool care_due = false;  // see FileStore::care_due()
};

// A question whose answer is still wanted: asked anew with it, or at its end, the former is let go.
class Asking {
  public:
    Asking() = default;
    ~Asking() { drop(); }
    Asking(const Asking&) = delete;
    Asking& operator=(const Asking&) = delete;

    void drop();
    // Whether an answer is still to come.
    [[nodiscard]] bool open() const { return wanted_ != nullptr && *wanted_; }

  private:
    friend class JobRepository;
    std::shared_ptr<std::atomic<bool>> begin();
    std::shared_ptr<std::atomic<bool>> wanted_;
};

class JobRepository : public QObject {
    Q_OBJECT
  public:
    explicit JobRepository(QObject* parent = nullptr);

    // What becomes of the shop that is open: it stays open where the other cannot be opened, or is closed
    // first, so that its file may be replaced.
    enum class Former { stays, closed_first };
    // Opens another shop; `opener` is called on the store's thread. Where that succeeds, shopGoes() and then
    // shopChanged() are said before `done`; what the shop before has not taken is given up: ask first.
    void open(JobStore::Opener opener, std::function<void(const Outcome&)> done,
              Former former = Former::stays);
    [[nodiscard]] bool hasShop() const { return shop_.has_value(); }
    // Requires hasShop().
    [[nodiscard]] const OpenShop& shop() const { return *shop_; }

    enum class Pace { at_once, when_fingers_rest };
    // Writes the job as it is now. Without a shop it is kept nowhere.
    void keep(const Job& job, Pace pace = Pace::at_once);

    // Jobs that a disk or server has refused, or has not taken for a good while: by number, or id where they
    // have none. They are kept here, and tried again with every keep() and every few seconds.
    [[nodiscard]] QStringList unsaved() const;
    // A job whose last state is not known to be on disk; nullptr when it is.
    [[nodiscard]] const Job* waiting(const std::string& id) const;
    // All of these.
    [[nodiscard]] std::vector<Job> waiting() const;
    // Tries once more now; `then` learns whether all is on disk.
    void saveAgain(std::function<void(bool all)> then);
    // As saveAgain(), and lets the event loop run meanwhile, but for what the user does: for the moment of
    // closing. Gives up after `patience`.
    bool waitUntilSaved(std::chrono::milliseconds patience);

    // Whether nothing is on its way to or from the store.
    [[nodiscard]] bool idle() const;

    // Puts a question to the store, after everything that was kept before it. Where the asking is let go
    // meanwhile, or no shop is open, nothing is answered. What the question throws is thrown when it would be
    // answered.
    template <typename T>
    void ask(Asking& asking, std::function<T(JobStore&)> question,
             std::function<void(std::type_identity_t<T>)> answer);

    // Looks whether another side has changed the job, and gives it as it stands now; nothing is answered
    // where none has. Until the answer has been dealt with, nothing of this job is written: keep() it merged.
    // False where one is still on its way with this asking: it is not let go, since the store takes what it
    // gave away for seen.
    bool catchUp(Asking& asking, const JobId& id, std::function<void(const Result<Job>&)> answer);

    // Changes a job that is not open, and tells how it stands then as long as `listener` lives. Other than a
    // question it is done whatever is asked next.
    void change(const std::string& id, std::function<void(Job&)> change, QObject* listener,
                std::function<void(const Result<Job>&)> then);

  signals:
    // The shop is about to be another: from here on nothing of the old one is to be kept.
    void shopGoes();
    void shopChanged();
    void unsavedChanged();
    void trouble(const QString& sentence);
    // Another side had changed the job when it was written.
    void conflicted();

  private:
    struct Waiting {
        Job job;
        std::uint64_t number = 0;  // of the last snapshot
        bool refused = false;
        StoreLane::Clock::time_point since;  // not on disk
        StoreLane::Clock::time_point tried;
        StoreLane::Clock::time_point due;  // of the last snapshot
    };
    void put(Waiting& waiting, StoreLane::Clock::time_point due);
    void written(const JobId& id, std::uint64_t number, const Outcome& outcome);
    // Told with what the work has thrown; null where it has not.
    using Told = std::function<void(const std::exception_ptr& problem)>;
    void order(StoreLane::Work work, Told told);
    void takeUp(const std::shared_ptr<std::unique_ptr<JobStore>>& next,
                const std::function<void(const Outcome&)>& done);
    void retryRefused(StoreLane::Clock::duration older_than);
    void tellUnsaved();
    void look();

    std::optional<OpenShop> shop_;
    std::map<JobId, Waiting> waiting_;
    std::uint64_t last_number_ = 0;
    int orders_ = 0;  // not told yet
    QStringList told_;
    QTimer look_;
    StoreLane lane_;
};

template <typename T>
void JobRepository::ask(Asking& asking, std::function<T(JobStore&)> question,
                        std::function<void(std::type_identity_t<T>)> answer) {
    auto given = std::make_shared<std::optional<T>>();
    auto wanted = asking.begin();
    order(
        [given, wanted, question = std::move(question)](std::unique_ptr<JobStore>& store) {
            if (store != nullptr && *wanted)
                given->emplace(question(*store));
        },
        [given, wanted, answer = std::move(answer)](const std::exception_ptr& problem) {
            if (!wanted->exchange(false))
                return;
            if (problem)
                std::rethrow_exception(problem);
            if (given->has_value())
                answer(std::move(**given));
        });
}

}  // namespace eh
