// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shop_file.h"

#include <QMessageBox>
#include <QPushButton>
#include <QTimer>

#include "store/file_store.h"
#include "store/server_store.h"

namespace eh {

namespace {

JobStore::Opener opener_after_restoring(const std::filesystem::path& copy,
                                        const std::filesystem::path& file) {
    return [copy, file]() -> Result<std::unique_ptr<JobStore>> {
        if (auto restored = restore_backup(copy, file); !restored)
            return restored.error();
        return JobStore::open(file);
    };
}

JobStore::Opener server_opener(const ServerAddress& server, const std::filesystem::path& unsent) {
    return [server, unsent]() -> Result<std::unique_ptr<JobStore>> {
        std::error_code problem;
        auto opened = ServerStore::open_server(server, unsent, std::filesystem::exists(unsent, problem));
        if (!opened)
            return opened.error();
        return std::unique_ptr<JobStore>(std::move(opened).value());
    };
}

}  // namespace

void open_shop(JobRepository& repository, const std::filesystem::path& file, const OfferCopy& offer,
               const WaitForLock& wait, const ShopOpened& done) {
    auto copies = std::make_shared<std::vector<std::filesystem::path>>();
    repository.open(
        [file, copies] {
            auto store = JobStore::open(file);
            if (!store && store.error().kind == ErrorKind::damaged)
                *copies = backups_of(file);
            return store;
        },
        [&repository, file, offer, wait, done, copies](const Outcome& opened) {
            if (opened) {
                done(opened);
                return;
            }
            const Error& why = opened.error();
            if (why.kind == ErrorKind::locked && wait && wait(why)) {
                open_shop(repository, file, offer, wait, done);
                return;
            }
            const bool agreed =
                offer && offer(why, copies->empty() ? std::filesystem::path() : copies->front());
            if (agreed && !copies->empty())
                repository.open(opener_after_restoring(copies->front(), file), done);
            else
                done(opened);
        });
}

void open_usual_shop(JobRepository& repository, const QString& address, const std::filesystem::path& beside,
                     const OfferCopy& offer, const WaitForLock& wait, const ShopOpened& done) {
    if (address.trimmed().isEmpty()) {
        open_shop(repository, beside / "shop.sqlite", offer, wait, done);
        return;
    }
    const auto server = parse_server_address(address.trimmed().toStdString());
    if (server)
        repository.open(server_opener(*server, beside / "unsent.sqlite"), done);
    else
        done(server.error());
}

bool offer_copy_in_dialog(const Error& why, const std::filesystem::path& copy) {
    QMessageBox box(QMessageBox::Warning, QMessageBox::tr("The shop file cannot be used"),
                    QString::fromStdString(why.text()));
    QPushButton* use_copy = nullptr;
    if (!copy.empty())
        use_copy = box.addButton(
            QMessageBox::tr("Use the last copy (%1)").arg(QString::fromStdString(copy.filename().string())),
            QMessageBox::AcceptRole);
    QPushButton* quit = box.addButton(QMessageBox::tr("Quit"), QMessageBox::RejectRole);
    box.setDefaultButton(quit);
    box.setEscapeButton(quit);
    box.exec();
    return use_copy != nullptr && box.clickedButton() == use_copy;
}

bool wait_in_dialog(const Error& why) {
    constexpr int look_again_ms = 1000;
    QMessageBox box(QMessageBox::Information, QMessageBox::tr("Waiting for the shop file"),
                    QString::fromStdString(why.text()) + QLatin1Char('\n') +
                        QMessageBox::tr("It is opened as soon as it is free."));
    box.addButton(QMessageBox::Cancel);
    QTimer::singleShot(look_again_ms, &box, [&box] { box.done(QMessageBox::Retry); });
    return box.exec() == QMessageBox::Retry;
}

}  // namespace eh
