// SPDX-License-Identifier: GPL-3.0-or-later
// Answers as rows of text with a tone each: for tables that are read, never sorted or edited.
#pragma once

#include <QAbstractTableModel>
#include <QColor>
#include <QStringList>
#include <vector>

namespace eh {

class RowsModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    enum class Tone { plain, good, soft };
    struct Row {
        QStringList cells;
        Tone tone = Tone::plain;
    };
    explicit RowsModel(QStringList headers, QObject* parent = nullptr);

    void show(std::vector<Row> rows);
    // Requires that there is such a cell.
    void setCell(int row, int column, const QString& text);
    [[nodiscard]] QString cell(int row, int column) const;

    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

  private:
    QStringList headers_;
    std::vector<Row> rows_;
};

}  // namespace eh
