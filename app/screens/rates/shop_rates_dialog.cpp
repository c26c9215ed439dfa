// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/rates/shop_rates_dialog.h"

#include <QCheckBox>
#include <QHeaderView>
#include <QLabel>
#include <QTableView>
#include <QVBoxLayout>

#include "app/format/text.h"
#include "app/style/theme.h"

namespace eh {

void ShopRatesModel::show(const ShopRates& rates) {
    beginResetModel();
    rates_ = rates;
    endResetModel();
}

int ShopRatesModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rates_.repairs.size());
}

int ShopRatesModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : ColumnCount;
}

QVariant ShopRatesModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid())
        return {};
    const RepairCount& count = rates_.repairs[static_cast<std::size_t>(index.row())];
    if (role == Qt::TextAlignmentRole && index.column() >= ExpectedColumn)
        return QVariant::fromValue(Qt::AlignRight | Qt::AlignVCenter);
    if (role != Qt::DisplayRole)
        return {};
    switch (index.column()) {
        case PartColumn: {
            const BlockKind* kind = knowledge_.find_kind(count.part_kind);
            return format::qt(kind == nullptr ? count.part_kind : kind->title);
        }
        case WorkColumn:
            return format::workWord(count.work);
        case ExpectedColumn:
            return format::number(count.expected, 1);
        case DoneColumn:
            return count.done;
        case FactorColumn:
            return tr("× %1").arg(format::number(count.factor, 2));
        default:
            return {};
    }
}

QVariant ShopRatesModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal)
        return {};
    if (role == Qt::TextAlignmentRole)
        return QVariant::fromValue((section >= ExpectedColumn ? Qt::AlignRight : Qt::AlignLeft) |
                                   Qt::AlignVCenter);
    if (role != Qt::DisplayRole)
        return {};
    switch (section) {
        case PartColumn:
            return tr("Part");
        case WorkColumn:
            return tr("Work");
        case ExpectedColumn:
            return tr("Shipped rates expect");
        case DoneColumn:
            return tr("This shop did");
        case FactorColumn:
            return tr("Rate now");
        default:
            return {};
    }
}

ShopRatesDialog::ShopRatesDialog(const Knowledge& knowledge, QWidget* parent)
    : QDialog(parent), model_(new ShopRatesModel(knowledge, this)) {
    setWindowTitle(tr("How often parts are at fault"));
    resize(760, 560);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 14, 16, 14);
    column->setSpacing(10);
    summary_ = new QLabel(this);
    summary_->setWordWrap(true);
    column->addWidget(summary_);
    auto* table = new QTableView(this);
    table->setModel(model_);
    table->setAccessibleName(tr("Repairs expected and done"));
    table->setSelectionBehavior(QAbstractItemView::SelectRows);
    table->setAlternatingRowColors(true);
    table->setShowGrid(false);
    table->verticalHeader()->hide();
    table->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table->horizontalHeader()->setSectionResizeMode(ShopRatesModel::PartColumn, QHeaderView::Stretch);
    column->addWidget(table, 1);
    use_ = new QCheckBox(tr("Let this shop's own repairs move the rates"), this);
    column->addWidget(use_);
    connect(use_, &QCheckBox::toggled, this, &ShopRatesDialog::useChanged);
}

void ShopRatesDialog::show(const ShopRates& rates, bool used) {
    model_->show(rates);
    const QSignalBlocker quiet(use_);
    use_->setChecked(used);
    const QString done = rates.jobs == 1 ? tr("One proven repair of this shop")
                                         : tr("%1 proven repairs of this shop").arg(rates.jobs);
    summary_->setText(
        rates.jobs == 0
            ? tr("No repair of this shop is proven yet. The shipped rates are estimates; each job "
                 "whose proof is complete is counted here beside them.")
            : tr("%1, beside what the shipped rates, which are estimates, would have expected. The "
                 "shipped rates weigh as much as a hundred jobs.")
                  .arg(done));
    QDialog::show();
    raise();
}

}  // namespace eh
