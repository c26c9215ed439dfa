// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/answer_table.h"

#include <QHeaderView>

namespace eh {

void dress_answer_table(QTableView& table, const QString& name) {
    table.setShowGrid(false);
    table.setSelectionBehavior(QAbstractItemView::SelectRows);
    table.setSelectionMode(QAbstractItemView::SingleSelection);
    table.setTabKeyNavigation(false);
    table.setWordWrap(false);
    table.verticalHeader()->hide();
    table.horizontalHeader()->setDefaultAlignment(Qt::AlignLeft);
    table.horizontalHeader()->setHighlightSections(false);
    table.setAccessibleName(name);
}

}  // namespace eh
