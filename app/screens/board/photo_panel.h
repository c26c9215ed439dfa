// SPDX-License-Identifier: GPL-3.0-or-later
// A board map from a photo: four points tie it to millimetres, then parts and nets are marked on it.
#pragma once

#include <QImage>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>
#include <map>

#include "app/screens/board/board_mark.h"
#include "app/services/board_bench.h"
#include "core/board/plane_map.h"

namespace eh {

class PhotoPanel : public QWidget {
    Q_OBJECT
  public:
    explicit PhotoPanel(BoardBench& bench, QWidget* parent = nullptr);

    // Takes a picture for this side; refused when it is none.
    Outcome openPhoto(const QString& file, BoardSide side);
    // Shows the pictures that the open board came with; `folder` is where its file is.
    void takePictures(const QString& folder);
    void setSide(BoardSide side);
    void placePicked(const Point& place);
    // Clicks on the board mean this panel alone.
    [[nodiscard]] bool wantsPlace() const;
    Outcome save(const QString& file) const;

    // There is a photo of this side that does not lie on the board yet.
    [[nodiscard]] bool isUnplaced() const { return photo() != nullptr && !photo()->placed; }
    // What lies under the pads of this side, and where.
    [[nodiscard]] QImage image() const;
    [[nodiscard]] PlaneMap place() const;
    [[nodiscard]] std::vector<BoardMark> marks() const;

    [[nodiscard]] QPushButton& pointsButton() { return *points_; }
    [[nodiscard]] QLineEdit& pointPlace() { return *point_place_; }
    [[nodiscard]] QPushButton& addButton() { return *add_; }
    [[nodiscard]] QLineEdit& pad() { return *pad_; }
    [[nodiscard]] QPushButton& undoButton() { return *undo_; }
    [[nodiscard]] QPushButton& fittedButton() { return *fitted_; }
    [[nodiscard]] QString need() const { return need_->text(); }

  signals:
    void boardMade();     // the bench holds a board that was made or changed here
    void marksChanged();  // something to paint
    void said(const QString& sentence);

  private:
    struct Photo {
        BoardPicture picture;
        QImage image;
        PlaneMap place;  // a tenth of a millimetre a pixel until four points are marked
        bool placed = false;
    };

    void askForPhoto();
    void askWhereToSave();
    void takePoint();
    void takePad(const Point& place);
    void undoPad();
    void toggleFitted();
    void rebuild(std::size_t pads);
    void refresh();
    [[nodiscard]] QString nextStep() const;
    [[nodiscard]] Photo* photo();
    [[nodiscard]] const Photo* photo() const;

    BoardBench& bench_;
    BoardSide side_ = BoardSide::top;
    std::map<BoardSide, Photo> photos_;
    std::optional<PicturePoint> half_marked_;
    QPushButton* points_;
    QLineEdit* point_place_;
    QPushButton* add_;
    QLineEdit* pad_;
    QPushButton* undo_;
    QPushButton* fitted_;
    QPushButton* save_;
    QLabel* need_;
};

}  // namespace eh
