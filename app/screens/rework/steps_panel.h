// SPDX-License-Identifier: GPL-3.0-or-later
// The steps of the repair, what came out while opening, and pictures of it.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableView>
#include <QTimer>
#include <QVBoxLayout>
#include <QWidget>
#include <deque>
#include <map>
#include <set>

#include "app/models/opening_model.h"
#include "app/models/steps_model.h"
#include "app/services/job_session.h"
#include "app/services/latest_task.h"
#include "app/services/photo_folder.h"
#include "core/machine/model/knowledge.h"
#include "core/rework/rework_book.h"

namespace eh {

class StepsPanel : public QWidget {
    Q_OBJECT
  public:
    StepsPanel(JobSession& session, const Knowledge& knowledge, const ReworkBook& book,
               QWidget* parent = nullptr);

    // Begins the list that is usual for a remedy on a part of the machine.
    void propose(const std::string& block, Work remedy);
    void keepPhotosIn(const QString& folder) { photos_.setBase(folder); }

    // Ticks the picked step, or takes the tick back, and goes to the next.
    void tickStep();
    // The heat of the picked step took so long until the part moved: ticks it with that time.
    void tickHeat(double seconds);
    // Takes a picture in for the picked step; reads it beside the window.
    void attach(const QString& file);

    [[nodiscard]] QComboBox& repair() { return *repair_; }
    [[nodiscard]] QTableView& steps() { return *steps_; }
    [[nodiscard]] StepsModel& model() { return *model_; }
    [[nodiscard]] QLineEdit& openingLine() { return *opening_line_; }
    [[nodiscard]] QTableView& openingTable() { return *opening_table_; }
    [[nodiscard]] QPushButton& backButton() { return *back_; }
    [[nodiscard]] QString closing() const { return closing_->text(); }
    [[nodiscard]] QString about() const { return about_->text(); }
    [[nodiscard]] QString cautions() const { return cautions_->text(); }
    [[nodiscard]] QCheckBox* factBox(const std::string& id) const;

  signals:
    void said(const QString& sentence);
    void heatAsked(const std::string& heat_part);

  protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    // A picture that is to be taken over.
    struct Coming {
        QString file;
        StepPhoto photo;
        JobId job;
    };

    QWidget* makeChoice();
    QWidget* makeList();
    QWidget* makeOpening();
    void refresh();
    void showFacts(const RepairKind& repair, const std::set<std::string>& facts);
    void showStep();
    void showOpening();
    void showPhotos();
    void takeNextPicture();
    void pictureTaken(Coming picture, const Result<FileName>& taken);
    void begin(const std::string& repair, const std::string& block);
    void editRun(const QString& text, const std::function<void(RepairRun&)>& change);
    void setDone(const std::string& step, bool done, double seconds);
    void addOpening();
    void readBack(int pieces);
    void choosePhoto();
    void startTimer();
    void tick();
    [[nodiscard]] const RepairRun* run() const;
    // What a step of closing waits for; empty when nothing is out.
    [[nodiscard]] std::string stillOut(StepNeeds needs) const;
    [[nodiscard]] std::set<std::string> usualFacts(const RepairKind& repair) const;

    JobSession& session_;
    const Knowledge& knowledge_;
    const ReworkBook& book_;
    PhotoFolder photos_;
    std::deque<Coming> coming_;  // one after the other
    LatestTask<Result<FileName>> taking_;
    QComboBox* repair_;
    QWidget* facts_box_;
    QVBoxLayout* facts_column_;
    std::map<std::string, QCheckBox*> facts_;
    std::string facts_of_;  // the repair that the boxes are of
    QTableView* steps_;
    StepsModel* model_;
    QLabel* about_;
    QLabel* cautions_;
    QLabel* progress_;
    QLabel* clock_;
    QPushButton* done_;
    QPushButton* timer_button_;
    QPushButton* heat_;
    QLineEdit* opening_line_;
    QTableView* opening_table_;
    OpeningModel* opening_;
    QPushButton* back_;
    QPushButton* out_again_;
    QLabel* closing_;
    QPushButton* photo_;
    QLabel* photo_strip_;
    QTimer tick_;
    QElapsedTimer running_;
    std::string timed_step_;
};

}  // namespace eh
