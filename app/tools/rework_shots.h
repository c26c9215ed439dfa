// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures of the pages for rework and parts.
#pragma once

#include <QString>

namespace eh {
class MainWindow;
}

// Sets each tab up as a job needs it and saves its picture; false when one could not be saved.
bool take_rework_shots(eh::MainWindow& window, const QString& folder);
