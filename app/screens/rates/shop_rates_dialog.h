// SPDX-License-Identifier: GPL-3.0-or-later
// The shop's own repairs beside the shipped rates, and whether they count.
#pragma once

#include <QAbstractTableModel>
#include <QDialog>

#include "core/shop/shop_rates.h"

class QCheckBox;
class QLabel;

namespace eh {

class ShopRatesModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    enum Column { PartColumn, WorkColumn, ExpectedColumn, DoneColumn, FactorColumn, ColumnCount };

    ShopRatesModel(const Knowledge& knowledge, QObject* parent = nullptr)
        : QAbstractTableModel(parent), knowledge_(knowledge) {}

    void show(const ShopRates& rates);
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

  private:
    const Knowledge& knowledge_;
    ShopRates rates_;
};

class ShopRatesDialog : public QDialog {
    Q_OBJECT
  public:
    ShopRatesDialog(const Knowledge& knowledge, QWidget* parent = nullptr);

    // `used` tells whether they count now.
    void show(const ShopRates& rates, bool used);

  signals:
    void useChanged(bool use);

  private:
    ShopRatesModel* model_;
    QLabel* summary_;
    QCheckBox* use_;
};

}  // namespace eh
