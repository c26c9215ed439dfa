// SPDX-License-Identifier: GPL-3.0-or-later
// Keeping the shop: whole exports and imports, copies put back, a customer's data forgotten.
#pragma once

#include <QMenu>
#include <filesystem>

#include "core/base/result.h"

namespace eh {

class JobStore;
class MainWindow;

class ShopMenu : public QMenu {
    Q_OBJECT
  public:
    explicit ShopMenu(MainWindow& window);

    // The whole shop into one file; an existing one is replaced only when the new one is complete.
    Outcome exportShop(const QString& file, bool personal_data);
    // Jobs and files that are not here yet.
    Outcome importShop(const QString& file);
    // Puts a copy in the place of the shop file; what stood there is kept beside it.
    Outcome restore(const std::filesystem::path& copy);
    // Moves the window to a shop on a server (user@host:port/database), or with an empty address back to the
    // shop file; remembered for the next start. `beside`: folder of this bench's own files.
    Outcome useServer(const QString& address, const std::filesystem::path& beside);
    // Takes what makes the open job's customer known out of it and of every job under the same name, and
    // removes their pictures. Not undone: that is the point.
    Outcome forgetCustomer();

  private:
    void askExport(bool personal_data);
    void askImport();
    void askRestore();
    void askForget();
    void askServer();
    Outcome allKept();
    void removePictures(const JobStore& store, const JobId& job);
    void tell(const Outcome& outcome);

    MainWindow& window_;
};

}  // namespace eh
