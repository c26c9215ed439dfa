// SPDX-License-Identifier: GPL-3.0-or-later
// Questions on which entries hang: asked in a dialog, answered by a test without one.
#pragma once

#include <QString>
#include <functional>
#include <string>
#include <vector>

#include "app/services/job_import.h"

class QWidget;

namespace eh {

// A job file meets another state of the same job in the shop. Whatever is chosen, the readings of both stay;
// keeping the shop's state is what Enter does.
ImportChoice ask_import_in_dialog(QWidget* parent, const Job& known,
                                  const std::vector<std::string>& differences);

// The window is to close while something is not on disk.
enum class UnsavedChoice { try_again, keep_elsewhere, lose, stay };
using AskUnsaved = std::function<UnsavedChoice(const QString& what)>;
// Staying is what Enter and Escape do.
UnsavedChoice ask_unsaved_in_dialog(QWidget* parent, const QString& what);

}  // namespace eh
