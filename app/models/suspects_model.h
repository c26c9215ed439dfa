// SPDX-License-Identifier: GPL-3.0-or-later
// Suspected parts with, below each, the readings that speak for or against it.
#pragma once

#include <QAbstractItemModel>

#include "app/services/diagnosis_service.h"

namespace eh {

class SuspectsModel : public QAbstractItemModel {
    Q_OBJECT
  public:
    enum Role {
        ProbabilityRole = Qt::UserRole,  // double, of a part; invalid on evidence
        DetailRole,                      // QString: in which way it is at fault; what was seen and expected
        BlockRole,                       // QString: block id, "" for nothing wrong and none of these
        WeightRole,                      // double: natural log weight of a reading
        ReadingRole,                     // QString: reading id of an evidence row
    };

    explicit SuspectsModel(QObject* parent = nullptr);

    void show(const Answer& answer);
    // Adds a part that is hardly suspected, to show why not. False for one that the catalogue knows no fault
    // of.
    bool include(const Answer& answer, const std::string& block);
    void clear();
    [[nodiscard]] QModelIndex indexOfBlock(const QString& block) const;

    [[nodiscard]] QModelIndex index(int row, int column, const QModelIndex& parent = {}) const override;
    [[nodiscard]] QModelIndex parent(const QModelIndex& child) const override;
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;

  private:
    struct Line {
        QString text;
        QString detail;
        double weight = 0.0;
        QString reading;
    };
    struct Part {
        QString title;
        QString detail;
        QString block;
        double probability = 0.0;
        std::vector<Line> lines;
    };

    static Part described(const Answer& answer, const PartSuspicion& suspect);

    std::vector<Part> parts_;
};

}  // namespace eh
