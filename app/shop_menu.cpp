// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shop_menu.h"

#include <QDateTime>
#include <QDir>
#include <QFileDialog>
#include <QInputDialog>
#include <QMessageBox>
#include <QSaveFile>
#include <QStandardPaths>

#include "app/format/text.h"
#include "app/main_window.h"
#include "app/shop_file.h"
#include "core/base/files.h"
#include "store/file_store.h"
#include "store/shop_export.h"

namespace eh {
namespace {

constexpr std::size_t largest_export = std::size_t{2} << 30;

std::filesystem::path parts_beside(const JobStore& store) {
    return store.file().string() + ".parts";
}

Error no_shop() {
    return {ErrorKind::unavailable, "no shop file is open", {}};
}

}  // namespace

ShopMenu::ShopMenu(MainWindow& window) : QMenu(tr("The whole &shop"), &window), window_(window) {
    const auto add = [this](const QString& text, auto act) {
        connect(addAction(text), &QAction::triggered, this, act);
    };
    add(tr("&Export the whole shop …"), [this] { askExport(true); });
    add(tr("Export without &customers' data …"), [this] { askExport(false); });
    add(tr("&Import a shop …"), [this] { askImport(); });
    addSeparator();
    add(tr("&Put back a copy …"), [this] { askRestore(); });
    add(tr("&Forget this job's customer …"), [this] { askForget(); });
    addSeparator();
    add(tr("Share the shop on a &server …"), [this] { askServer(); });
}

Outcome ShopMenu::exportShop(const QString& file, bool personal_data) {
    JobStore* store = window_.store();
    if (store == nullptr)
        return no_shop();
    window_.shopParts().flush();
    ShopExportOptions options;
    options.personal_data = personal_data;
    const auto text = export_shop(*store, parts_beside(*store), options);
    if (!text)
        return text.error();
    QSaveFile out(file);
    if (!out.open(QIODevice::WriteOnly) ||
        out.write(text->data(), static_cast<qint64>(text->size())) != static_cast<qint64>(text->size()) ||
        !out.commit())
        return Error{ErrorKind::unavailable,
                     "the export could not be written: " + out.errorString().toStdString(),
                     file.toStdString()};
    window_.say(tr("The shop is in %1.").arg(file));
    return Done{};
}

Outcome ShopMenu::importShop(const QString& file) {
    JobStore* store = window_.store();
    if (store == nullptr)
        return no_shop();
    const auto text = read_text_file(file.toStdString(), largest_export);
    if (!text)
        return text.error();
    window_.shopParts().flush();
    const auto done =
        import_shop(*text, QFileInfo(file).fileName().toStdString(), *store, parts_beside(*store));
    if (!done)
        return done.error();
    window_.shopParts().openFolder(parts_beside(*store));
    window_.go(MainWindow::ShelfStation);
    window_.say(tr("%1 jobs taken over, %2 were here already.").arg(done->jobs).arg(done->known));
    return Done{};
}

// Another shop forgets what this one could not take.
Outcome ShopMenu::allKept() {
    window_.shopParts().flush();
    if (window_.session().saveAgain() && window_.shopParts().unsaved().isEmpty())
        return Done{};
    return Error{ErrorKind::unavailable,
                 "some entries are not on disk yet and would be lost; make room on the disk first",
                 {}};
}

Outcome ShopMenu::restore(const std::filesystem::path& copy) {
    JobStore* store = window_.store();
    if (store == nullptr)
        return no_shop();
    if (dynamic_cast<FileStore*>(store) == nullptr)
        return Error{ErrorKind::unavailable, "this shop is on a server; its copies are put back there",
                     store->place()};
    if (Outcome kept = allKept(); !kept)
        return kept;
    const std::filesystem::path file = store->file();
    window_.useStore(nullptr);
    Outcome restored = restore_backup(copy, file);
    auto opened = JobStore::open(file);
    if (!opened)
        return opened.error();
    window_.useStore(std::move(opened).value());
    window_.go(MainWindow::ShelfStation);
    if (restored)
        window_.say(tr("The copy is in its place; what stood there is kept beside it."));
    return restored;
}

Outcome ShopMenu::useServer(const QString& address, const std::filesystem::path& beside) {
    if (Outcome kept = allKept(); !kept)
        return kept;
    auto opened = open_usual_shop(address, beside);
    if (!opened)
        return opened.error();
    window_.preferences().setShopServer(address.trimmed());
    window_.useStore(std::move(opened).value());
    window_.go(MainWindow::ShelfStation);
    window_.say(tr("The shop is now %1.").arg(format::qt(window_.store()->place())));
    return Done{};
}

Outcome ShopMenu::forgetCustomer() {
    if (!window_.session().hasJob())
        return Error{ErrorKind::not_found, "open the job whose customer is to be forgotten first", {}};
    const std::string customer = window_.session().job().ticket.customer;
    const JobId open_id = window_.session().job().id;
    window_.session().edit(tr("Customer forgotten"), remove_personal_data);
    window_.session().undoStack().clear();
    JobStore* store = window_.store();
    int others = 0;
    if (store != nullptr) {
        removePictures(*store, open_id);
        const auto jobs = store->list();
        if (!jobs)
            return jobs.error();
        for (const JobSummary& summary : *jobs) {
            if (customer.empty() || summary.customer != customer || summary.id == open_id)
                continue;
            auto loaded = store->load(summary.id);
            if (!loaded)
                return loaded.error();
            Job job = std::move(loaded).value();
            remove_personal_data(job);
            if (auto saved = store->save(job); !saved)
                return saved;
            removePictures(*store, job.id);
            ++others;
        }
    }
    window_.say(tr("The customer's data is out of this job and of %1 others under the same name, with their "
                   "pictures. "
                   "Older copies of the shop still hold it until they are replaced.")
                    .arg(others));
    return Done{};
}

void ShopMenu::removePictures(const JobStore& store, const JobId& job) {
    const std::filesystem::path pictures = store.file().string() + ".photos";
    QDir(QString::fromStdString(inside(pictures, job).string())).removeRecursively();
}

void ShopMenu::tell(const Outcome& outcome) {
    if (!outcome)
        window_.say(format::qt(outcome.error().text()));
}

void ShopMenu::askExport(bool personal_data) {
    const QString file =
        QFileDialog::getSaveFileName(&window_, tr("Export the shop"), "shop.json", tr("Shop (*.json)"));
    if (!file.isEmpty())
        tell(exportShop(file, personal_data));
}

void ShopMenu::askImport() {
    const QString file = QFileDialog::getOpenFileName(&window_, tr("Import a shop"), {}, tr("Shop (*.json)"));
    if (!file.isEmpty())
        tell(importShop(file));
}

void ShopMenu::askRestore() {
    if (window_.store() == nullptr)
        return;
    const auto copies = backups_of(window_.store()->file());
    if (copies.empty()) {
        window_.say(tr("There is no copy yet; one is laid beside the shop file every day."));
        return;
    }
    QStringList names;
    for (const auto& copy : copies)
        names << QFileInfo(QString::fromStdString(copy.string()))
                     .lastModified()
                     .toString("d MMM yyyy, hh:mm:ss");
    bool accepted = false;
    const QString chosen = QInputDialog::getItem(
        &window_, tr("Put back a copy"), tr("The shop as it was. What is there now is kept beside it."),
        names, 0, false, &accepted);
    if (accepted && names.contains(chosen))
        tell(restore(copies[static_cast<std::size_t>(names.indexOf(chosen))]));
}

void ShopMenu::askServer() {
    bool accepted = false;
    const QString address =
        QInputDialog::getText(&window_, tr("Share the shop on a server"),
                              tr("A PostgreSQL server that several benches use: user@host:port/database.\n"
                                 "The password is read from the password file of PostgreSQL's own programs.\n"
                                 "Left empty, the shop is the file on this machine. Jobs are taken along by "
                                 "exporting and importing."),
                              QLineEdit::Normal, window_.preferences().shopServer(), &accepted);
    if (accepted)
        tell(useServer(address,
                       QStandardPaths::writableLocation(QStandardPaths::AppDataLocation).toStdString()));
}

void ShopMenu::askForget() {
    const auto answer =
        QMessageBox::question(&window_, tr("Forget the customer"),
                              tr("Name, words, notes and pictures of this job's customer are "
                                 "taken out for good, here and in every other job under the same "
                                 "name; readings and work stay."));
    if (answer == QMessageBox::Yes)
        tell(forgetCustomer());
}

}  // namespace eh
