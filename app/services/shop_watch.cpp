// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/shop_watch.h"

#include "app/format/text.h"
#include "core/job/job_merge.h"
#include "store/file_store.h"

namespace eh {
namespace {

constexpr int every_ms = 1000;

}  // namespace

ShopWatch::ShopWatch(JobRepository& repository, JobSession& session, QObject* parent)
    : QObject(parent), repository_(repository), session_(session) {
    timer_.setInterval(every_ms);
    connect(&timer_, &QTimer::timeout, this, &ShopWatch::look);
    connect(&repository_, &JobRepository::shopChanged, this, &ShopWatch::shopChanged);
    connect(&repository_, &JobRepository::conflicted, this, &ShopWatch::bringJobUpToDate);
}

void ShopWatch::shopChanged() {
    news_.drop();
    if (!repository_.hasShop()) {
        timer_.stop();
        return;
    }
    timer_.start();
    look();
    takeCare(true);
}

void ShopWatch::takeCare(bool just_opened) {
    if (repository_.shop().on_server || care_.running())
        return;
    care_.start(
        [file = repository_.shop().file,
         due = just_opened && repository_.shop().care_due](const TaskControl&) {
            if (!due && !copy_is_due(file))
                return QString();
            const Outcome cared = take_care_of(file);
            return cared ? QString() : format::qt(cared.error().text());
        },
        [this](const QString& trouble) {
            if (!trouble.isEmpty())
                emit said(trouble);
        });
}

void ShopWatch::look() {
    if (look_again_)
        bringJobUpToDate();
    // A server that stands still is not asked again before it has answered or counts as away.
    if (!repository_.hasShop() || news_.open())
        return;
    constexpr int looks_an_hour = 3600;
    if (++looks_ % looks_an_hour == 0)
        takeCare(false);
    repository_.ask<StoreNews>(
        news_, [](JobStore& store) { return store.news(); }, [this](const StoreNews& news) { take(news); });
}

void ShopWatch::take(const StoreNews& news) {
    QString state;
    if (news.away)
        state = news.unsent == 0
                    ? tr("The shop's server is away. Work goes on here.")
                    : tr("The shop's server is away: %1 kept here until it answers.")
                          .arg(news.unsent == 1 ? tr("1 job is") : tr("%1 jobs are").arg(news.unsent));
    if (state != state_) {
        state_ = state;
        emit stateChanged(state);
    }
    tellConflicts(news);
    if (news.changed || !news.conflicts.empty()) {
        bringJobUpToDate();
        emit shelfChanged();
    }
}

void ShopWatch::tellConflicts(const StoreNews& news) {
    if (news.conflicts.empty())
        return;
    emit said(tr("%1 sent late had been changed on the server meanwhile: what stands there stays, your "
                 "readings were "
                 "added.")
                  .arg(news.conflicts.size() == 1 ? tr("A job") : tr("%1 jobs").arg(news.conflicts.size())));
}

void ShopWatch::bringJobUpToDate() {
    // What the disk did not take yet is shown until it is there; saving it adds its readings to the other
    // side's, and brings us here again.
    if (!session_.hasJob() || repository_.waiting(session_.job().id) != nullptr)
        return;
    look_again_ = !repository_.catchUp(change_, session_.job().id,
                                       [this](const Result<Job>& theirs) { takeOver(theirs); });
}

void ShopWatch::takeOver(const Result<Job>& theirs) {
    if (!theirs) {
        emit said(format::qt(theirs.error().text()));
        return;
    }
    Job now = *theirs;
    // Entered while the other side's state was on its way: written with it, not over it.
    if (const Job* ours = repository_.waiting(now.id)) {
        now = with_readings_of(now, *ours);
        repository_.keep(now);
    }
    if (!session_.hasJob() || session_.job().id != now.id)
        return;
    // Undoing from here would take the other side's entries back too.
    session_.takeOver(now);
    emit said(
        tr("Another window has changed this job. It is shown as it stands now, your readings with it."));
}

}  // namespace eh
