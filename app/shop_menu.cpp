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

std::filesystem::path beside(const std::filesystem::path& shop, const char* tail) {
    return shop.string() + tail;
}

Error no_shop() {
    return {ErrorKind::unavailable, "no shop file is open", {}};
}

Outcome write_export(JobStore& store, const QString& file, const ShopExportOptions& options) {
    const auto text = export_shop(store, beside(store.file(), ".parts"), options);
    if (!text)
        return text.error();
    QSaveFile out(file);
    if (!out.open(QIODevice::WriteOnly) ||
        out.write(text->data(), static_cast<qint64>(text->size())) != static_cast<qint64>(text->size()) ||
        !out.commit())
        return Error{ErrorKind::unavailable,
                     "the export could not be written: " + out.errorString().toStdString(),
                     file.toStdString()};
    return Done{};
}

void remove_pictures(const JobStore& store, const JobId& job) {
    QDir(QString::fromStdString(inside(beside(store.file(), ".photos"), job).string())).removeRecursively();
}

// How many other jobs were under the customer's name.
Result<int> forget_in_shop(JobStore& store, const JobId& open_job, const std::string& customer) {
    remove_pictures(store, open_job);
    const auto jobs = store.list();
    if (!jobs)
        return jobs.error();
    int others = 0;
    for (const JobSummary& summary : *jobs) {
        if (customer.empty() || summary.customer != customer || summary.id == open_job)
            continue;
        auto loaded = store.load(summary.id);
        if (!loaded)
            return loaded.error();
        Job job = std::move(loaded).value();
        remove_personal_data(job);
        if (auto saved = store.save(job); !saved)
            return saved.error();
        remove_pictures(store, job.id);
        ++others;
    }
    return others;
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

ShopMenu::Told ShopMenu::teller() {
    return [this](const Outcome& outcome) { window_.sayProblem(outcome); };
}

void ShopMenu::exportShop(const QString& file, bool personal_data, const Told& done) {
    JobRepository& repository = window_.workbench().repository;
    if (!repository.hasShop()) {
        done(no_shop());
        return;
    }
    window_.workbench().shop_parts.flush();
    window_.say(tr("Exporting the shop …"));
    ShopExportOptions options;
    options.personal_data = personal_data;
    // Through a view of its own: a large shop takes its time, and entries are not to wait for it.
    repository.ask<JobStore::Opener>(
        view_, [](JobStore& store) { return store.another(); },
        [this, file, options, done](const JobStore::Opener& open) {
            exporting_.start(
                [open, file, options](const TaskControl&) {
                    const auto store = open();
                    return store ? write_export(**store, file, options) : Outcome(store.error());
                },
                [this, file, done](const Outcome& written) {
                    if (written)
                        window_.say(tr("The shop is in %1.").arg(file));
                    done(written);
                });
        });
}

void ShopMenu::importShop(const QString& file, const Told& done) {
    if (!window_.workbench().repository.hasShop()) {
        done(no_shop());
        return;
    }
    window_.workbench().shop_parts.flush();
    window_.say(tr("Reading the export …"));
    const std::filesystem::path parts = beside(window_.workbench().repository.shop().file, ".parts");
    const auto taken = [this, parts, done](const Result<ShopImport>& import) {
        if (import) {
            window_.workbench().shop_parts.openFolder(parts);
            window_.go(MainWindow::ShelfStation);
            window_.say(tr("%1 jobs taken over, %2 were here already.").arg(import->jobs).arg(import->known));
        }
        done(import ? Outcome(Done{}) : Outcome(import.error()));
    };
    reading_.start([file](const TaskControl&) { return read_text_file(file.toStdString(), largest_export); },
                   [this, file, parts, taken, done](const Result<std::string>& text) {
                       if (!text) {
                           done(text.error());
                           return;
                       }
                       window_.workbench().repository.ask<Result<ShopImport>>(
                           import_,
                           [text = *text, name = QFileInfo(file).fileName().toStdString(),
                            parts](JobStore& store) { return import_shop(text, name, store, parts); },
                           taken);
                   });
}

void ShopMenu::whenAllKept(const Told& done, std::function<void()> then) {
    window_.workbench().shop_parts.flush();
    window_.workbench().repository.saveAgain([this, done, then = std::move(then)](bool all) {
        if (all && window_.workbench().shop_parts.unsaved().isEmpty())
            then();
        else
            done(Error{ErrorKind::unavailable,
                       "some entries are not on disk yet and would be lost; make room on the disk first",
                       {}});
    });
}

void ShopMenu::restore(const std::filesystem::path& copy, const Told& done) {
    if (!window_.workbench().repository.hasShop()) {
        done(no_shop());
        return;
    }
    const OpenShop shop = window_.workbench().repository.shop();
    if (shop.on_server) {
        done(Error{ErrorKind::unavailable, "this shop is on a server; its copies are put back there",
                   shop.place});
        return;
    }
    whenAllKept(done, [this, copy, file = shop.file, done] {
        window_.workbench().session.close();
        // Where the copy cannot be put back, the shop is opened as it was, and that is said.
        auto restored = std::make_shared<Outcome>(Done{});
        window_.workbench().repository.open(
            [copy, file, restored] {
                *restored = restore_backup(copy, file);
                return JobStore::open(file);
            },
            [this, restored, done](const Outcome& opened) {
                window_.go(MainWindow::ShelfStation);
                if (opened && *restored)
                    window_.say(tr("The copy is in its place; what stood there is kept beside it."));
                done(opened ? *restored : opened);
            },
            JobRepository::Former::closed_first);
    });
}

void ShopMenu::useServer(const QString& address, const std::filesystem::path& folder, const Told& done) {
    whenAllKept(done, [this, address, folder, done] {
        open_usual_shop(
            window_.workbench().repository, address, folder, {}, {},
            [this, address, done](const Outcome& opened) {
                if (opened) {
                    window_.workbench().preferences.setShopServer(address.trimmed());
                    window_.go(MainWindow::ShelfStation);
                    window_.say(tr("The shop is now %1.")
                                    .arg(format::qt(window_.workbench().repository.shop().place)));
                }
                done(opened);
            });
    });
}

void ShopMenu::forgetCustomer(const Told& done) {
    if (!window_.workbench().session.hasJob()) {
        done(Error{ErrorKind::not_found, "open the job whose customer is to be forgotten first", {}});
        return;
    }
    const std::string customer = window_.workbench().session.job().ticket.customer;
    const JobId open_id = window_.workbench().session.job().id;
    window_.workbench().session.edit(tr("Customer forgotten"), remove_personal_data);
    window_.workbench().session.undoStack().clear();
    const auto forgotten = [this, done](const Result<int>& others) {
        if (others)
            window_.say(tr("The customer's data is out of this job and of %1 others under the same name, "
                           "with their pictures. Older copies of the shop still hold it until they are "
                           "replaced.")
                            .arg(*others));
        done(others ? Outcome(Done{}) : Outcome(others.error()));
    };
    if (!window_.workbench().repository.hasShop()) {
        forgotten(0);
        return;
    }
    window_.workbench().repository.ask<Result<int>>(
        forgetting_,
        [open_id, customer](JobStore& store) { return forget_in_shop(store, open_id, customer); }, forgotten);
}

void ShopMenu::askExport(bool personal_data) {
    const QString file =
        QFileDialog::getSaveFileName(&window_, tr("Export the shop"), "shop.json", tr("Shop (*.json)"));
    if (!file.isEmpty())
        exportShop(file, personal_data, teller());
}

void ShopMenu::askImport() {
    const QString file = QFileDialog::getOpenFileName(&window_, tr("Import a shop"), {}, tr("Shop (*.json)"));
    if (!file.isEmpty())
        importShop(file, teller());
}

void ShopMenu::askRestore() {
    if (!window_.workbench().repository.hasShop())
        return;
    copies_.start(
        [file = window_.workbench().repository.shop().file](const TaskControl&) { return backups_of(file); },
        [this](const std::vector<std::filesystem::path>& copies) { chooseCopy(copies); });
}

void ShopMenu::chooseCopy(const std::vector<std::filesystem::path>& copies) {
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
        restore(copies[static_cast<std::size_t>(names.indexOf(chosen))], teller());
}

void ShopMenu::askServer() {
    bool accepted = false;
    const QString address =
        QInputDialog::getText(&window_, tr("Share the shop on a server"),
                              tr("A PostgreSQL server that several benches use: user@host:port/database.\n"
                                 "The password is read from the password file of PostgreSQL's own programs.\n"
                                 "Left empty, the shop is the file on this machine. Jobs are taken along by "
                                 "exporting and importing."),
                              QLineEdit::Normal, window_.workbench().preferences.shopServer(), &accepted);
    if (accepted)
        useServer(address, QStandardPaths::writableLocation(QStandardPaths::AppDataLocation).toStdString(),
                  teller());
}

void ShopMenu::askForget() {
    const auto answer =
        QMessageBox::question(&window_, tr("Forget the customer"),
                              tr("Name, words, notes and pictures of this job's customer are "
                                 "taken out for good, here and in every other job under the same "
                                 "name; readings and work stay."));
    if (answer == QMessageBox::Yes)
        forgetCustomer(teller());
}

}  // namespace eh
