// SPDX-License-Identifier: GPL-3.0-or-later
// Keeping the shop: whole exports and imports, copies put back, a customer's data forgotten.
#pragma once

#include <QMenu>
#include <filesystem>

#include "app/services/job_repository.h"
#include "app/services/latest_task.h"

namespace eh {

class MainWindow;

class ShopMenu : public QMenu {
    Q_OBJECT
  public:
    explicit ShopMenu(MainWindow& window);

    // All of these go on beside the window; `done` learns how it went.
    using Told = std::function<void(const Outcome& outcome)>;
    // The whole shop into one file; an existing one is replaced only when the new one is complete.
    void exportShop(const QString& file, bool personal_data, const Told& done);
    // Jobs and files that are not here yet.
    void importShop(const QString& file, const Told& done);
    // Puts a copy in the place of the shop file; what stood there is kept beside it.
    void restore(const std::filesystem::path& copy, const Told& done);
    // Moves the window to a shop on a server (user@host:port/database), or with an empty address back to the
    // shop file; remembered for the next start. `beside`: folder of this bench's own files.
    void useServer(const QString& address, const std::filesystem::path& beside, const Told& done);
    // Takes what makes the open job's customer known out of it and of every job under the same name, and
    // removes their pictures. Not undone: that is the point.
    void forgetCustomer(const Told& done);

  private:
    void askExport(bool personal_data);
    void askImport();
    void askRestore();
    void chooseCopy(const std::vector<std::filesystem::path>& copies);
    void askForget();
    void askServer();
    // Goes on once all is on disk; another shop forgets what this one could not take.
    void whenAllKept(const Told& done, std::function<void()> then);
    [[nodiscard]] Told teller();

    MainWindow& window_;
    Asking view_;
    Asking import_;
    Asking forgetting_;
    LatestTask<Outcome> exporting_;
    LatestTask<Result<std::string>> reading_;
    LatestTask<std::vector<std::filesystem::path>> copies_;
};

}  // namespace eh
