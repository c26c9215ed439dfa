// SPDX-License-Identifier: GPL-3.0-or-later
// The millivolt search: where the supply feeds the net, what the pads read, which part it is, where to probe
// next.
#pragma once

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QWidget>
#include <memory>

#include "app/screens/board/board_mark.h"
#include "app/services/board_bench.h"
#include "app/services/latest_task.h"
#include "core/board/millivolt_search.h"

namespace eh {

class MillivoltPanel : public QWidget {
    Q_OBJECT
  public:
    explicit MillivoltPanel(BoardBench& bench, QWidget* parent = nullptr);

    // A pad was clicked on the board.
    void padPicked(int pad);
    // The next clicks on the board are corners of the copper; again: done.
    void drawOutline(bool draw);
    [[nodiscard]] bool isDrawing() const { return drawing_; }
    void placePicked(const Point& place);

    [[nodiscard]] std::vector<BoardMark> marks() const;
    [[nodiscard]] QPushButton& feedButton() { return *feed_; }
    [[nodiscard]] QLineEdit& entry() { return *entry_; }
    [[nodiscard]] QDoubleSpinBox& amps() { return *amps_; }
    [[nodiscard]] QTableWidget& readings() { return *table_; }
    [[nodiscard]] QPushButton& takeButton() { return *take_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    [[nodiscard]] const std::optional<SearchAnswer>& answer() const { return answer_; }
    [[nodiscard]] bool searching() const { return work_.running(); }

  signals:
    void marksChanged();
    void said(const QString& sentence);

  private:
    struct Row {
        int pad = no_index;
        double volts = 0.0;
        double off_volts = 0.0;  // with the supply off
    };
    struct Found {
        std::shared_ptr<MillivoltSearch> search;
        Result<SearchAnswer> answer;
    };

    void wire();
    void take(const Found& found);
    void netPicked();
    void takeTyped();
    void removeRow();
    void editRow(int row, int column);
    void showRows();
    // Solves the copper anew where the net, the feeding place or the outline changed, then asks it.
    void search(bool copper_changed);
    void showAnswer();
    void takeReading();
    [[nodiscard]] QString padName(int pad) const;

    BoardBench& bench_;
    int net_ = no_index;  // the search is about
    int pad_ = no_index;  // that is picked
    int fed_pad_ = no_index;
    bool drawing_ = false;
    std::vector<Point> outline_;
    std::vector<Row> rows_;
    std::shared_ptr<MillivoltSearch> search_;  // of the copper as it is now; nullptr: to be solved
    LatestTask<Found> work_;
    bool again_ = false;  // something changed while it worked
    std::optional<SearchAnswer> answer_;
    QPushButton* feed_;
    QPushButton* draw_;
    QDoubleSpinBox* amps_;
    QComboBox* meter_;
    QLabel* pad_label_;
    QLineEdit* entry_;
    QTableWidget* table_;
    QLabel* verdict_;
    QLabel* list_;
    QPushButton* take_;
};

}  // namespace eh
