// SPDX-License-Identifier: GPL-3.0-or-later
// The stock: searched by value, edited in place; orders, and the jobs that wait for them.
#pragma once

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableView>
#include <QWidget>

#include "app/models/rows_model.h"
#include "app/models/stock_model.h"
#include "app/services/job_session.h"

namespace eh {

class StockPanel : public QWidget {
    Q_OBJECT
  public:
    StockPanel(JobSession& session, ShopParts& parts, QWidget* parent = nullptr);

    [[nodiscard]] QLineEdit& search() { return *search_; }
    [[nodiscard]] QTableView& table() { return *table_; }
    [[nodiscard]] StockModel& model() { return *model_; }
    [[nodiscard]] QPushButton& takeButton() { return *take_; }
    [[nodiscard]] QPushButton& orderButton() { return *order_; }
    [[nodiscard]] QPushButton& arrivedButton() { return *arrived_; }
    [[nodiscard]] QComboBox& newKind() { return *kind_; }
    [[nodiscard]] QString donors() const { return donors_->text(); }
    [[nodiscard]] QPushButton& addButton() { return *add_; }
    [[nodiscard]] QString found() const { return found_->text(); }
    [[nodiscard]] QString parked() const { return parked_->text(); }

  signals:
    void said(const QString& sentence);

  private:
    QWidget* makeOrders();
    void refresh();
    void addPart();
    void addDonor();
    void takeOne();
    void orderPicked();
    void markArrived();
    [[nodiscard]] const StockPart* picked() const;

    JobSession& session_;
    ShopParts& parts_;
    QLineEdit* search_;
    QTableView* table_;
    StockModel* model_;
    QLabel* found_;
    QComboBox* kind_;
    QPushButton* add_;
    QPushButton* take_;
    QPushButton* order_;
    QDoubleSpinBox* lead_;
    QTableView* orders_;
    RowsModel* order_rows_;
    std::vector<std::string> order_ids_;
    QPushButton* arrived_;
    QLabel* parked_;
    QLabel* donors_;
};

}  // namespace eh
