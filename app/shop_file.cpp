// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shop_file.h"

#include <QMessageBox>
#include <QPushButton>
#include <QTimer>

#include "store/server_store.h"

namespace eh {

Result<std::unique_ptr<JobStore>> open_shop(const std::filesystem::path& file, const OfferCopy& offer,
                                            const WaitForLock& wait) {
    auto store = JobStore::open(file);
    while (!store && store.error().kind == ErrorKind::locked && wait && wait(store.error()))
        store = JobStore::open(file);
    if (store)
        return store;
    const Error why = store.error();
    const auto copies = backups_of(file);
    const bool replaceable = !copies.empty() && why.kind == ErrorKind::damaged;
    if (!offer(why, replaceable ? copies.front() : std::filesystem::path()) || !replaceable)
        return why;
    if (auto restored = restore_backup(copies.front(), file); !restored)
        return restored.error();
    return JobStore::open(file);
}

Result<std::unique_ptr<JobStore>> open_usual_shop(const QString& address, const std::filesystem::path& beside,
                                                  const OfferCopy& offer, const WaitForLock& wait) {
    if (address.trimmed().isEmpty()) {
        const std::filesystem::path file = beside / "shop.sqlite";
        return offer ? open_shop(file, offer, wait) : JobStore::open(file);
    }
    const auto server = parse_server_address(address.trimmed().toStdString());
    if (!server)
        return server.error();
    const std::filesystem::path unsent = beside / "unsent.sqlite";
    std::error_code problem;
    auto opened = ServerStore::open_server(*server, unsent, std::filesystem::exists(unsent, problem));
    if (!opened)
        return opened.error();
    return std::unique_ptr<JobStore>(std::move(opened).value());
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
