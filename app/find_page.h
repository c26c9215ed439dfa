// SPDX-License-Identifier: GPL-3.0-or-later
// Pages and dialogs of the window by their type, of which there is one each, and its tabs by their name: for
// what acts on the window from outside. All require that there is such a one.
#pragma once

#include "app/main_window.h"

namespace eh {

template <typename Page>
Page& find_page(MainWindow& window) {
    auto* found = window.findChild<Page*>();
    Q_ASSERT(found != nullptr);
    return *found;
}

inline QTabWidget& find_tabs(MainWindow& window, const char* name) {
    auto* found = window.findChild<QTabWidget*>(QString::fromLatin1(name));
    Q_ASSERT(found != nullptr);
    return *found;
}

}  // namespace eh
