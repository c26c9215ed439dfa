// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/board/photo_panel.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QImageReader>
#include <QRegularExpression>
#include <QSaveFile>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "core/board/board_json.h"

namespace eh {
namespace {

constexpr std::size_t photo_marks = 4;
constexpr double unplaced_mm_a_pixel = 0.1;
constexpr double marked_pad_mm = 0.8;

// As wide as the board, or a tenth of a millimetre a pixel where that is not known; rows going down.
PlaneMap unplaced(const QImage& image, const BoardMap* map) {
    const double wide = image.width();
    const double high = image.height();
    Point corner;
    double mm_a_pixel = unplaced_mm_a_pixel;
    if (map != nullptr && map->extent()) {
        corner = map->extent()->least;
        mm_a_pixel = std::max(map->extent()->most.x_mm - corner.x_mm, 10.0) / wide;
    }
    std::vector<MarkedPoint> marks;
    for (const PicturePoint seen :
         {PicturePoint{0, 0}, PicturePoint{wide, 0}, PicturePoint{wide, high}, PicturePoint{0, high}})
        marks.push_back(
            {seen, {corner.x_mm + mm_a_pixel * seen.x_px, corner.y_mm + mm_a_pixel * (high - seen.y_px)}});
    return *PlaneMap::from_marks(marks);
}

}  // namespace

PhotoPanel::PhotoPanel(BoardBench& bench, QWidget* parent)
    : QWidget(parent),
      bench_(bench),
      points_(new QPushButton(tr("Mark 4 points"), this)),
      point_place_(new QLineEdit(this)),
      add_(new QPushButton(tr("&Add pads"), this)),
      pad_(new QLineEdit(this)),
      undo_(new QPushButton(tr("Take the last pad bac&k"), this)),
      fitted_(new QPushButton(tr("&Not fitted"), this)),
      save_(new QPushButton(tr("&Save the board …"), this)),
      need_(new QLabel(this)) {
    auto* open = new QPushButton(tr("Open a photo …"), this);
    points_->setCheckable(true);
    add_->setCheckable(true);
    point_place_->setPlaceholderText(tr("12.5, 40 or C12-1"));
    point_place_->setAccessibleName(tr("Where the marked point is"));
    pad_->setPlaceholderText(tr("C12-1 vin"));
    pad_->setAccessibleName(tr("The pad that is clicked next"));
    fitted_->setToolTip(tr("The picked part's place is empty by design: it is never suspected"));
    need_->setWordWrap(true);
    need_->setFont(theme::text_font(1.05, true));
    need_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    need_->setAccessibleName(tr("What to do next"));
    auto* form = new QFormLayout;
    form->addRow(points_, point_place_);
    form->addRow(add_, pad_);
    auto* left = new QVBoxLayout;
    left->addWidget(open);
    left->addLayout(form);
    left->addStretch(1);
    auto* buttons = new QHBoxLayout;
    for (QPushButton* button : {undo_, fitted_, save_})
        buttons->addWidget(button);
    buttons->addStretch(1);
    auto* right = new QVBoxLayout;
    right->addWidget(need_, 1);
    right->addLayout(buttons);
    auto* row = new QHBoxLayout(this);
    row->setSpacing(20);
    row->addLayout(left, 2);
    row->addLayout(right, 3);
    connect(open, &QPushButton::clicked, this, &PhotoPanel::askForPhoto);
    connect(points_, &QPushButton::toggled, this, [this](bool on) {
        half_marked_.reset();
        if (on) {
            add_->setChecked(false);
            photo()->picture.marks.clear();
        }
        refresh();
    });
    connect(add_, &QPushButton::toggled, this, [this](bool on) {
        if (on)
            points_->setChecked(false);
        refresh();
    });
    connect(point_place_, &QLineEdit::returnPressed, this, &PhotoPanel::takePoint);
    connect(undo_, &QPushButton::clicked, this, &PhotoPanel::undoPad);
    connect(fitted_, &QPushButton::clicked, this, &PhotoPanel::toggleFitted);
    connect(save_, &QPushButton::clicked, this, &PhotoPanel::askWhereToSave);
    connect(&bench_, &BoardBench::picked, this, &PhotoPanel::refresh);
    refresh();
}

PhotoPanel::Photo* PhotoPanel::photo() {
    const auto found = photos_.find(side_);
    return found == photos_.end() ? nullptr : &found->second;
}

const PhotoPanel::Photo* PhotoPanel::photo() const {
    const auto found = photos_.find(side_);
    return found == photos_.end() ? nullptr : &found->second;
}

void PhotoPanel::setSide(BoardSide side) {
    side_ = side;
    half_marked_.reset();
    points_->setChecked(false);
    refresh();
}

bool PhotoPanel::wantsPlace() const {
    return isVisible() && (points_->isChecked() || add_->isChecked());
}

Outcome PhotoPanel::openPhoto(const QString& file, BoardSide side) {
    QImageReader reader(file);
    reader.setAutoTransform(true);
    const QImage image = reader.read();
    if (image.isNull())
        return refused(tr("This is no picture that can be read: %1").arg(reader.errorString()).toStdString(),
                       QFileInfo(file).fileName().toStdString());
    side_ = side;
    photos_[side] = {{file.toStdString(), side, {}}, image, unplaced(image, bench_.map()), false};
    if (bench_.map() == nullptr) {
        BoardImport board;
        board.map.title = QFileInfo(file).completeBaseName().toStdString();
        board.map.index();
        bench_.open(std::move(board));
        emit boardMade();
    }
    refresh();
    return Done{};
}

void PhotoPanel::takePictures(const QString& folder) {
    photos_.clear();
    add_->setChecked(false);
    points_->setChecked(false);
    if (bench_.board() != nullptr) {
        for (const BoardPicture& picture : bench_.board()->pictures) {
            const QString file = QDir(folder).filePath(format::qt(picture.file));
            QImageReader reader(file);
            reader.setAutoTransform(true);
            const QImage image = reader.read();
            const auto place = PlaneMap::from_marks(picture.marks);
            if (image.isNull() || !place) {
                emit said(tr("The picture %1 of this board cannot be shown: %2")
                              .arg(file, image.isNull() ? reader.errorString()
                                                        : format::qt(place.error().message)));
                continue;
            }
            photos_[picture.side] = {{file.toStdString(), picture.side, picture.marks}, image, *place, true};
        }
    }
    refresh();
}

void PhotoPanel::askForPhoto() {
    const QString file =
        QFileDialog::getOpenFileName(this, tr("Open a photo of this side of the board"), {},
                                     tr("Pictures (*.png *.jpg *.jpeg *.bmp);;All files (*)"));
    if (file.isEmpty())
        return;
    if (const auto done = openPhoto(file, side_); !done)
        emit said(format::qt(done.error().text()));
}

void PhotoPanel::placePicked(const Point& place) {
    Photo* own = photo();
    if (points_->isChecked() && own != nullptr) {
        half_marked_ = own->place.seen_at(place);
        point_place_->setFocus();
        refresh();
    } else if (add_->isChecked()) {
        takePad(place);
    }
}

// "12.5, 40" or a pad of the map.
void PhotoPanel::takePoint() {
    Photo* own = photo();
    if (own == nullptr || !half_marked_) {
        emit said(tr("Click the point in the photo first."));
        return;
    }
    static const QRegularExpression numbers(QStringLiteral(R"(^\s*(-?[\d.]+)\s*[,; ]\s*(-?[\d.]+)\s*$)"));
    const auto match = numbers.match(point_place_->text());
    std::optional<Point> place;
    if (match.hasMatch()) {
        place = Point{match.captured(1).toDouble(), match.captured(2).toDouble()};
    } else {
        const QString part = point_place_->text().trimmed().section('-', 0, 0);
        const QString pin = point_place_->text().trimmed().section('-', 1);
        const int index = bench_.map()->find_part(part.toStdString());
        if (index != no_index)
            for (const int pad : bench_.map()->part(index).pads)
                if (pin.isEmpty() || bench_.map()->pad(pad).pin == pin.toStdString())
                    place = bench_.map()->pad(pad).place;
    }
    if (!place) {
        emit said(tr(
            "Write where that point is: its x and y in millimetres, like 12.5, 40, or a pad of the map, like "
            "C12-1."));
        return;
    }
    own->picture.marks.push_back({*half_marked_, *place});
    half_marked_.reset();
    point_place_->clear();
    if (own->picture.marks.size() >= photo_marks) {
        const auto map = PlaneMap::from_marks(own->picture.marks);
        if (map) {
            own->place = *map;
            own->placed = true;
        } else {
            emit said(format::qt(map.error().message));
            own->picture.marks.clear();
        }
        points_->setChecked(false);
        rebuild(bench_.map()->pads().size());
    }
    refresh();
}

void PhotoPanel::takePad(const Point& place) {
    static const QRegularExpression words(QStringLiteral(R"(^\s*([^\s-]+)(?:-(\S+))?\s+(\S+)\s*$)"));
    const auto match = words.match(pad_->text());
    if (!match.hasMatch()) {
        emit said(tr("Name the pad first: part-pin and net, for instance C12-1 vin."));
        return;
    }
    BoardImport board = *bench_.board();
    Pad pad;
    pad.part = board.map.part_named(match.captured(1).toStdString());
    pad.pin = match.captured(2).toStdString();
    pad.net = board.map.net_named(match.captured(3).toStdString());
    pad.place = place;
    pad.side = side_;
    pad.width_mm = pad.height_mm = marked_pad_mm;
    board.map.add_pad(pad);
    board.map.index();
    bench_.change(std::move(board));
    emit boardMade();
    // The next pin of the part; its net is another one.
    bool number = false;
    const int next = match.captured(2).toInt(&number) + 1;
    pad_->setText(number ? QStringLiteral("%1-%2 ").arg(match.captured(1)).arg(next) : QString());
    pad_->setFocus();
    refresh();
}

// The board with its first so many pads, and the pictures as they are now.
void PhotoPanel::rebuild(std::size_t pads) {
    const BoardMap& old = *bench_.map();
    BoardImport board;
    board.map.title = old.title;
    for (std::size_t p = 0; p < std::min(pads, old.pads().size()); ++p) {
        Pad pad = old.pads()[p];
        if (pad.net != no_index)
            pad.net = board.map.net_named(old.net(pad.net).name);
        if (pad.part != no_index)
            pad.part = board.map.part_named(old.part(pad.part).name);
        board.map.add_pad(pad);
    }
    for (const BoardPart& part : old.parts())
        if (const int same = board.map.find_part(part.name); same != no_index)
            board.map.set_fitted(same, part.fitted);
    board.map.index();
    for (const auto& [side, photo] : photos_)
        if (photo.placed)
            board.pictures.push_back(photo.picture);
    bench_.change(std::move(board));
    emit boardMade();
}

void PhotoPanel::undoPad() {
    if (bench_.map() != nullptr && !bench_.map()->pads().empty())
        rebuild(bench_.map()->pads().size() - 1);
    refresh();
}

void PhotoPanel::toggleFitted() {
    const int part = bench_.part();
    if (part == no_index)
        return;
    BoardImport board = *bench_.board();
    board.map.set_fitted(part, !board.map.part(part).fitted);
    bench_.change(std::move(board));
    emit boardMade();
}

Outcome PhotoPanel::save(const QString& file) const {
    std::vector<BoardPicture> pictures;
    for (const auto& [side, photo] : photos_) {
        if (!photo.placed)
            continue;
        pictures.push_back(photo.picture);
        // Beside the board's file a name is enough, so that both can be moved together.
        const QFileInfo own(format::qt(photo.picture.file));
        if (own.absolutePath() == QFileInfo(file).absolutePath())
            pictures.back().file = own.fileName().toStdString();
    }
    QSaveFile out(file);
    const QByteArray text = QByteArray::fromStdString(write_board(*bench_.map(), pictures));
    if (!out.open(QIODevice::WriteOnly) || out.write(text) != text.size() || !out.commit())
        return Error{ErrorKind::unavailable,
                     tr("the board cannot be written: %1").arg(out.errorString()).toStdString(),
                     file.toStdString()};
    return Done{};
}

void PhotoPanel::askWhereToSave() {
    const QString file = QFileDialog::getSaveFileName(this, tr("Save the board"), {}, tr("Boards (*.json)"));
    if (file.isEmpty())
        return;
    const auto done = save(file);
    emit said(done ? tr("Saved. Open it from there, and it is remembered for this kind of machine.")
                   : format::qt(done.error().text()));
}

QImage PhotoPanel::image() const {
    return photo() == nullptr ? QImage() : photo()->image;
}

PlaneMap PhotoPanel::place() const {
    return photo() == nullptr ? PlaneMap() : photo()->place;
}

std::vector<BoardMark> PhotoPanel::marks() const {
    std::vector<BoardMark> marks;
    const Photo* own = photo();
    if (own == nullptr || !points_->isChecked())
        return marks;
    for (std::size_t i = 0; i < own->picture.marks.size(); ++i)
        marks.push_back({BoardMark::Look::read, own->place.place_of(own->picture.marks[i].seen),
                         QString::number(i + 1), 1.0});
    if (half_marked_)
        marks.push_back({BoardMark::Look::next, own->place.place_of(*half_marked_), tr("this point"), 1.0});
    return marks;
}

QString PhotoPanel::nextStep() const {
    const Photo* own = photo();
    if (points_->isChecked() && half_marked_)
        return tr(
            "Where is it? Its x and y in millimetres from one corner of the board, or the name of a pad, "
            "Enter.");
    if (points_->isChecked())
        return tr("Point %1 of 4: click it in the photo. Screw holes and corners are good ones.")
            .arg(own->picture.marks.size() + 1);
    if (add_->isChecked())
        return tr("Type part-pin and net, then click that pad in the photo. The next pin is offered.");
    if (own == nullptr)
        return tr(
            "No netlist? A photo will do: open one of this side, tie it to millimetres by four points, and "
            "mark "
            "the parts of the rail in question. A netlist can have a photo under it too.");
    if (!own->placed)
        return tr("Mark four points whose places you measured with a ruler, or that are pads of the map.");
    return tr("The photo lies on the board. Add the pads that you need, and save.");
}

void PhotoPanel::refresh() {
    const Photo* own = photo();
    const bool any = bench_.map() != nullptr;
    points_->setEnabled(own != nullptr);
    point_place_->setEnabled(points_->isChecked());
    add_->setEnabled(any && (own == nullptr || own->placed));
    pad_->setEnabled(add_->isChecked());
    undo_->setEnabled(any && !bench_.map()->pads().empty());
    fitted_->setEnabled(any && bench_.part() != no_index);
    if (fitted_->isEnabled())
        fitted_->setText(bench_.map()->part(bench_.part()).fitted ? tr("&Not fitted") : tr("It &is fitted"));
    save_->setEnabled(any && (own == nullptr || own->placed));
    need_->setText(nextStep());
    emit marksChanged();
}

}  // namespace eh
