// SPDX-License-Identifier: GPL-3.0-or-later
// The look that tables of answers share.
#pragma once

#include <QTableView>

namespace eh {

// Rows, no grid, heads at the left; Tab leaves the table.
void dress_answer_table(QTableView& table, const QString& name);

}  // namespace eh
