// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/models/shop_watch.h"

#include "app/format/text.h"
#include "store/file_store.h"

namespace eh {
namespace {

constexpr int every_ms = 1000;

}  // namespace

ShopWatch::ShopWatch(JobSession& session, QObject* parent) : QObject(parent), session_(session) {
    timer_.setInterval(every_ms);
    connect(&timer_, &QTimer::timeout, this, &ShopWatch::look);
    connect(&session_, &JobSession::trouble, this, [this] { trouble_ = true; });
}

void ShopWatch::watch(JobStore* store) {
    store_ = store;
    trouble_ = false;
    if (store_ == nullptr) {
        timer_.stop();
        return;
    }
    tellConflicts(store_->news());
    timer_.start();
    takeCare(true);
}

void ShopWatch::takeCare(bool just_opened) {
    const auto* file_store = dynamic_cast<FileStore*>(store_);
    if (file_store == nullptr || care_.running())
        return;
    if (!(just_opened && file_store->care_due()) && !copy_is_due(file_store->file()))
        return;
    care_.start(
        [file = file_store->file()](const TaskControl&) {
            const Outcome cared = take_care_of(file);
            return cared ? QString() : format::qt(cared.error().text());
        },
        [this](const QString& trouble) {
            if (!trouble.isEmpty())
                emit said(trouble);
        });
}

void ShopWatch::look() {
    if (store_ == nullptr)
        return;
    constexpr int looks_an_hour = 3600;
    if (++looks_ % looks_an_hour == 0)
        takeCare(false);
    const StoreNews news = store_->news();
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
    if (news.changed || !news.conflicts.empty() || trouble_) {
        trouble_ = false;
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
    if (!session_.hasJob() || store_->is_current(session_.job().id))
        return;
    // What the disk did not take yet is shown until it is there; saving it adds its readings to the other
    // side's.
    if (session_.unsavedJob(session_.job().id) != nullptr)
        return;
    const auto job = store_->load(session_.job().id);
    if (!job) {
        emit said(format::qt(job.error().text()));
        return;
    }
    // Undoing from here would take the other side's entries back too.
    session_.takeOver(*job);
    emit said(
        tr("Another window has changed this job. It is shown as it stands now, your readings with it."));
}

}  // namespace eh
