// SPDX-License-Identifier: GPL-3.0-or-later
// The heat search: a camera's frames laid over the board by four points, and the warm part by name; or a
// place found by alcohol or finger.
#pragma once

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>
#include <QWidget>
#include <memory>

#include "app/screens/board/board_mark.h"
#include "app/screens/board/heat_picture.h"
#include "app/services/board_bench.h"
#include "app/services/heat_frames.h"
#include "app/services/latest_task.h"
#include "app/services/trace_watch.h"
#include "app/settings/preferences.h"
#include "core/thermal/heat_search.h"
#include "instruments/thermal_camera.h"

namespace eh {

class HeatPanel : public QWidget {
    Q_OBJECT
  public:
    enum class Way { rise, supply, retries };

    HeatPanel(BoardBench& bench, ThermalCamera& camera, const TraceWatch& trace, Preferences& preferences,
              QWidget* parent = nullptr);
    ~HeatPanel() override;

    // A click on the board: the place, and the pad that was there or no_index.
    void placePicked(const Point& place, int pad);
    // The next click on the board is for this panel alone.
    [[nodiscard]] bool wantsPlace() const { return finding_sigma_mm_ > 0.0 || half_marked_.has_value(); }
    void setSide(BoardSide side);
    // Reads frames from files beside the window, in the order of their names.
    void openFiles(const QStringList& files);
    void connectCamera(const QString& address);

    [[nodiscard]] std::vector<BoardMark> marks() const;
    // What lies over the board, and where; null when the points are not marked or it is not wanted.
    [[nodiscard]] QImage overlay() const;
    [[nodiscard]] const PlaneMap& view() const { return view_; }

    [[nodiscard]] HeatPicture& picture() { return *picture_; }
    [[nodiscard]] QComboBox& way() { return *way_; }
    [[nodiscard]] QPushButton& markButton() { return *mark_; }
    [[nodiscard]] QPushButton& referenceButton() { return *reference_; }
    [[nodiscard]] QPushButton& alcoholButton() { return *alcohol_; }
    [[nodiscard]] QPushButton& fingerButton() { return *finger_; }
    [[nodiscard]] QPushButton& overButton() { return *over_; }
    [[nodiscard]] QPushButton& takeButton() { return *take_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    [[nodiscard]] const std::optional<HeatAnswer>& answer() const { return answer_; }
    [[nodiscard]] std::size_t marked() const { return marked_.size(); }

  signals:
    void marksChanged();
    void said(const QString& sentence);

  protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

  private:
    struct Work {
        std::optional<HeatImage> rises;
        std::optional<HeatAnswer> answer;
        QString sentence;
    };
    using Frames = std::vector<HeatFrames::Shared>;

    QWidget* makeSide();
    QWidget* makeFindings();
    void showTaken();
    void showReading(double share);
    void endReading(const QStringList& remarks);
    void takeReference();
    void markPoints(bool mark);
    void picturePicked(const PicturePoint& point);
    void findBy(double sigma_mm, double certainty);
    void look();
    void showWork(const Work& work);
    void showAnswer();
    void takeReading();
    void askForFiles();
    [[nodiscard]] QString need() const;

    BoardBench& bench_;
    ThermalCamera& camera_;
    const TraceWatch& trace_;
    Preferences& preferences_;
    BoardSide side_ = BoardSide::top;
    HeatFrames frames_;
    Frames before_;  // with the supply off
    std::size_t looked_at_ = 0;
    std::vector<MarkedPoint> marked_;
    std::optional<PicturePoint> half_marked_;  // in the picture, not on the board yet
    bool placed_ = false;                      // view_ holds
    PlaneMap view_;
    double finding_sigma_mm_ = 0.0;  // of what the next click on the board says; 0: nothing
    double finding_certainty_ = 1.0;
    double found_certainty_ = 1.0;  // of what the answer rests on
    bool by_camera_ = false;        // the answer is
    std::optional<HeatImage> rises_;
    std::optional<HeatAnswer> answer_;
    LatestTask<Work> work_;
    QTimer tick_;
    HeatPicture* picture_;
    QPushButton* files_;
    QLineEdit* address_;
    QPushButton* connect_;
    QLabel* camera_state_;
    QComboBox* way_;
    QDoubleSpinBox* period_;
    QPushButton* reference_;
    QPushButton* mark_;
    QPushButton* over_;
    QPushButton* alcohol_;
    QPushButton* finger_;
    QLabel* verdict_;
    QLabel* list_;
    QPushButton* take_;
};

}  // namespace eh
