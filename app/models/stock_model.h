// SPDX-License-Identifier: GPL-3.0-or-later
// The parts that a search of the stock found, editable in place.
#pragma once

#include <QAbstractTableModel>
#include <vector>

#include "app/services/shop_parts.h"
#include "core/parts/stock_search.h"

namespace eh {

class StockModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    enum Column {
        NameColumn,
        ValueColumn,
        RatingColumn,
        ToleranceColumn,
        PackageColumn,
        PlaceColumn,
        CountColumn,
        ColumnCount
    };
    explicit StockModel(ShopParts& parts, QObject* parent = nullptr);

    // Shows what the question finds.
    void search(const QString& question);
    [[nodiscard]] const StockPart* part(int row) const;
    // The row of that part, -1 where the search does not show it.
    [[nodiscard]] int rowOf(const std::string& id) const;

    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override;
    // Takes what was typed, as one undoable edit; what cannot be read leaves the part as it was.
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;

  signals:
    void refused(const QString& sentence);

  private:
    void renew();

    ShopParts& parts_;
    StockSearch index_;
    QString question_;
    std::vector<std::size_t> found_;
};

}  // namespace eh
