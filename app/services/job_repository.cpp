// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/job_repository.h"

#include <QEventLoop>
#include <QPointer>
#include <algorithm>

#include "store/file_store.h"
#include "store/server_store.h"

namespace eh {
namespace {

using namespace std::chrono_literals;

constexpr auto fingers_rest = 400ms;  // typing is written so often at most
constexpr auto try_again = 3s;
constexpr auto late = 2s;  // a disk that takes longer has not just a moment's work
constexpr auto look_every = 500ms;

OpenShop described(const JobStore& store) {
    OpenShop shop{store.file(), store.place(), dynamic_cast<const ServerStore*>(&store) != nullptr, false};
    if (const auto* file = dynamic_cast<const FileStore*>(&store))
        shop.care_due = file->care_due();
    return shop;
}

}  // namespace

void Asking::drop() {
    if (wanted_ != nullptr)
        *wanted_ = false;
    wanted_ = nullptr;
}

std::shared_ptr<std::atomic<bool>> Asking::begin() {
    drop();
    wanted_ = std::make_shared<std::atomic<bool>>(true);
    return wanted_;
}

JobRepository::JobRepository(QObject* parent)
    : QObject(parent), lane_([this](const JobId& id, std::uint64_t number, const Outcome& outcome) {
          written(id, number, outcome);
      }) {
    look_.setInterval(look_every);
    connect(&look_, &QTimer::timeout, this, &JobRepository::look);
}

void JobRepository::order(StoreLane::Work work, Told told) {
    ++orders_;
    auto problem = std::make_shared<std::exception_ptr>();
    lane_.run(
        [problem, work = std::move(work)](std::unique_ptr<JobStore>& store) {
            try {
                work(store);
            } catch (...) {
                *problem = std::current_exception();
            }
        },
        [this, problem, told = std::move(told)] {
            --orders_;
            told(*problem);
        });
}

void JobRepository::open(JobStore::Opener opener, std::function<void(const Outcome&)> done, Former former) {
    auto next = std::make_shared<std::unique_ptr<JobStore>>();
    auto outcome = std::make_shared<Outcome>(Error{
        ErrorKind::unavailable, "the shop cannot be opened: something went wrong inside the program", {}});
    const bool close_first = former == Former::closed_first;
    order(
        [next, outcome, close_first, opener = std::move(opener)](std::unique_ptr<JobStore>& store) {
            if (close_first)
                store = nullptr;
            auto opened = opener();
            *outcome = opened ? Outcome(Done{}) : Outcome(opened.error());
            if (opened)
                *next = std::move(opened).value();
        },
        [this, next, outcome, close_first, done = std::move(done)](const std::exception_ptr&) {
            if (*outcome) {
                takeUp(next, done);
                return;
            }
            if (close_first && shop_) {
                emit shopGoes();
                shop_.reset();
                emit shopChanged();
            }
            done(*outcome);
        });
}

void JobRepository::takeUp(const std::shared_ptr<std::unique_ptr<JobStore>>& next,
                           const std::function<void(const Outcome&)>& done) {
    emit shopGoes();
    auto shop = std::make_shared<OpenShop>();
    order(
        // What was kept so far has been written into the shop before by now.
        [next, shop](std::unique_ptr<JobStore>& store) {
            store = std::move(*next);
            *shop = described(*store);
        },
        [this, shop, done](const std::exception_ptr&) {
            waiting_.clear();
            tellUnsaved();
            shop_ = *shop;
            emit shopChanged();
            done(Done{});
        });
}

void JobRepository::keep(const Job& job, Pace pace) {
    if (!shop_)
        return;
    const auto now = StoreLane::Clock::now();
    auto& entry = waiting_.try_emplace(job.id, Waiting{{}, 0, false, now, now, now}).first->second;
    entry.job = job;
    // While fingers type on, the first of their entries says when all are written.
    const bool written_soon = entry.due > now;
    put(entry, pace == Pace::at_once ? now : (written_soon ? entry.due : now + fingers_rest));
    if (!look_.isActive())
        look_.start();
}

void JobRepository::put(Waiting& waiting, StoreLane::Clock::time_point due) {
    waiting.number = ++last_number_;
    waiting.tried = StoreLane::Clock::now();
    waiting.due = due;
    lane_.put({waiting.job, waiting.number, due});
}

void JobRepository::written(const JobId& id, std::uint64_t number, const Outcome& outcome) {
    // After a conflict the readings are there; what else this side wrote, the other side's stands for.
    const bool conflict = !outcome && outcome.error().kind == ErrorKind::conflict;
    const auto entry = waiting_.find(id);
    bool known_trouble = false;
    if (entry != waiting_.end()) {
        Waiting& waiting = entry->second;
        known_trouble = waiting.refused;
        waiting.refused = !outcome && !conflict;
        if (!waiting.refused && waiting.number == number)
            waiting_.erase(entry);
        else if (!waiting.refused)
            waiting.since = StoreLane::Clock::now();
    }
    tellUnsaved();
    if (!outcome && (conflict || !known_trouble))
        emit trouble(QString::fromStdString(outcome.error().text()));
    if (conflict)
        emit conflicted();
}

QStringList JobRepository::unsaved() const {
    const auto now = StoreLane::Clock::now();
    QStringList names;
    for (const auto& [id, entry] : waiting_) {
        if (entry.refused || now - entry.since > late)
            names << QString::fromStdString(entry.job.ticket.number.empty() ? id.text()
                                                                            : entry.job.ticket.number);
    }
    return names;
}

const Job* JobRepository::waiting(const std::string& id) const {
    const auto found =
        std::find_if(waiting_.begin(), waiting_.end(), [&](const auto& entry) { return entry.first == id; });
    return found == waiting_.end() ? nullptr : &found->second.job;
}

std::vector<Job> JobRepository::waiting() const {
    std::vector<Job> jobs;
    for (const auto& [id, entry] : waiting_)
        jobs.push_back(entry.job);
    return jobs;
}

void JobRepository::retryRefused(StoreLane::Clock::duration older_than) {
    const auto now = StoreLane::Clock::now();
    for (auto& [id, entry] : waiting_) {
        if (entry.refused && now - entry.tried >= older_than)
            put(entry, now);
    }
}

void JobRepository::saveAgain(std::function<void(bool all)> then) {
    retryRefused(0s);
    // All snapshots are written before any work, and told before it is.
    order([](std::unique_ptr<JobStore>&) {},
          [this, then = std::move(then)](const std::exception_ptr&) { then(waiting_.empty()); });
}

bool JobRepository::waitUntilSaved(std::chrono::milliseconds patience) {
    if (waiting_.empty())
        return true;
    QEventLoop loop;
    auto over = std::make_shared<bool>(false);
    saveAgain([&loop, over](bool) {
        if (!*over)
            loop.quit();
    });
    QTimer::singleShot(patience, &loop, &QEventLoop::quit);
    // Half of it for a server that is only slow; after that what it would have got is kept on this bench.
    QTimer::singleShot(patience / 2, &loop, &give_up_waiting_for_servers);
    loop.exec(QEventLoop::ExcludeUserInputEvents);
    *over = true;
    return waiting_.empty();
}

bool JobRepository::idle() const {
    return orders_ == 0 && std::all_of(waiting_.begin(), waiting_.end(),
                                       [](const auto& entry) { return entry.second.refused; });
}

bool JobRepository::catchUp(Asking& asking, const JobId& id, std::function<void(const Result<Job>&)> answer) {
    if (asking.open())
        return false;
    auto found = std::make_shared<std::optional<Result<Job>>>();
    auto wanted = asking.begin();
    order(
        [this, id, found, wanted](std::unique_ptr<JobStore>& store) {
            if (store == nullptr || !*wanted || store->is_current(id))
                return;
            // From here on the store takes what is written for made from the other side's state.
            lane_.hold(id);
            found->emplace(store->load(id));
        },
        [this, id, found, wanted, answer = std::move(answer)](const std::exception_ptr& problem) {
            const bool still_wanted = wanted->exchange(false);
            const std::shared_ptr<void> released(nullptr, [&](void*) { lane_.release(id); });
            if (problem)
                std::rethrow_exception(problem);
            if (found->has_value() && still_wanted)
                answer(**found);
        });
    return true;
}

void JobRepository::change(const std::string& id, std::function<void(Job&)> change, QObject* listener,
                           std::function<void(const Result<Job>&)> then) {
    auto changed = std::make_shared<std::optional<Result<Job>>>();
    order(
        [id, changed, change = std::move(change)](std::unique_ptr<JobStore>& store) {
            if (store == nullptr)
                return;
            auto job = store->load(id);
            if (!job) {
                changed->emplace(job.error());
                return;
            }
            Job now = std::move(job).value();
            change(now);
            const Outcome saved = store->save(now);
            changed->emplace(saved ? Result<Job>(std::move(now)) : Result<Job>(saved.error()));
        },
        [changed, listener = QPointer<QObject>(listener),
         then = std::move(then)](const std::exception_ptr& problem) {
            if (problem)
                std::rethrow_exception(problem);
            if (changed->has_value() && listener != nullptr)
                then(**changed);
        });
}

void JobRepository::tellUnsaved() {
    if (waiting_.empty())
        look_.stop();
    const QStringList now = unsaved();
    if (now == told_)
        return;
    told_ = now;
    emit unsavedChanged();
}

void JobRepository::look() {
    retryRefused(try_again);
    tellUnsaved();
}

}  // namespace eh
