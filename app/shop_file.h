// SPDX-License-Identifier: GPL-3.0-or-later
// Opening the shop file when the program starts, and what to do when it cannot be used.
#pragma once

#include <QString>
#include <filesystem>
#include <functional>

#include "app/services/job_repository.h"

namespace eh {

// Asks whether the copy may take the place of the shop file, which cannot be used for the reason `why`.
// `copy` is empty when there is none to offer; then the answer does not matter.
using OfferCopy = std::function<bool(const Error& why, const std::filesystem::path& copy)>;
// Told that another program holds the shop file locked; whether to look again. Takes about a second.
using WaitForLock = std::function<bool(const Error& why)>;

using ShopOpened = std::function<void(const Outcome& opened)>;

// Opens the shop file in the repository; makes it when there is none. When it is damaged and `offer` agrees,
// the newest copy takes its place and the damaged file stays beside it under another name. A file that is
// sound but locked, not readable, or of a newer program is never replaced: a locked one is waited for as long
// as `wait` says so. `done` gets the reason when nothing can be opened. Both may be empty: nothing is offered
// or waited for then.
void open_shop(JobRepository& repository, const std::filesystem::path& file, const OfferCopy& offer,
               const WaitForLock& wait, const ShopOpened& done);

// The shop that was chosen: the server at `address` (user@host:port/database), or the file shop.sqlite in
// `beside` when it is empty. A server that does not answer is looked for again while work goes on here, as
// long as this bench has been there before.
void open_usual_shop(JobRepository& repository, const QString& address, const std::filesystem::path& beside,
                     const OfferCopy& offer, const WaitForLock& wait, const ShopOpened& done);

// The offer as a dialog, over no window; Enter and Escape take no copy.
bool offer_copy_in_dialog(const Error& why, const std::filesystem::path& copy);
// Waiting as a dialog that can be cancelled, over no window.
bool wait_in_dialog(const Error& why);

}  // namespace eh
