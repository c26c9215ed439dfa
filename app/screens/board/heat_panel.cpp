// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/board/heat_panel.h"

#include <QDragEnterEvent>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QMimeData>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "core/board/part_body.h"
#include "core/electrics/engineering.h"
#include "core/thermal/lock_in.h"
#include "core/thermal/rhythm.h"

namespace eh {
namespace {

constexpr int look_every_ms = 700;
constexpr std::size_t reference_frames = 10;
constexpr std::size_t latest_frames = 10;
constexpr std::size_t wanted_marks = 4;
constexpr double least_certain = 0.05;  // of a spot, to be shown
constexpr std::size_t heat_candidates_named = 5;

Rhythm rhythm_for(HeatPanel::Way way, double period_s, const std::vector<ThermalFrame>& frames,
                  const TraceReading& trace) {
    if (way == HeatPanel::Way::retries)
        return Rhythm::of_retries(trace);
    if (period_s > 0.0)
        return Rhythm::of_period(period_s, *frames.front().t_s, *frames.back().t_s);
    return Rhythm::of_frames(frames);
}

Result<HeatImage> rises_in_rhythm(HeatPanel::Way way, double period_s,
                                  const std::vector<ThermalFrame>& frames, const TraceReading& trace) {
    const Rhythm rhythm = rhythm_for(way, period_s, frames, trace);
    if (rhythm.empty())
        return refused(
            way == HeatPanel::Way::retries
                ? "The meter sees no retries: plug the charger in, or switch the supply on and off."
                : "The frames do not say when the supply goes on: enter the period.");
    const auto image = lock_in_over(frames, rhythm);
    if (!image)
        return image.error();
    return image->heat;
}

}  // namespace

HeatPanel::HeatPanel(BoardBench& bench, ThermalCamera& camera, const TraceWatch& trace,
                     Preferences& preferences, QWidget* parent)
    : QWidget(parent),
      bench_(bench),
      camera_(camera),
      trace_(trace),
      preferences_(preferences),
      picture_(new HeatPicture(this)),
      files_(new QPushButton(tr("Open frames …"), this)),
      address_(new QLineEdit(this)),
      connect_(new QPushButton(tr("&Connect"), this)),
      camera_state_(new QLabel(this)),
      way_(new QComboBox(this)),
      period_(new QDoubleSpinBox(this)),
      reference_(new QPushButton(tr("&Reference (supply off)"), this)),
      mark_(new QPushButton(tr("Mark 4 points"), this)),
      over_(new QPushButton(tr("O&verlay"), this)),
      alcohol_(new QPushButton(tr("By &alcohol"), this)),
      finger_(new QPushButton(tr("By f&inger"), this)),
      verdict_(new QLabel(this)),
      list_(new QLabel(this)),
      take_(new QPushButton(tr("Take as a readin&g"), this)) {
    setAcceptDrops(true);
    auto* row = new QHBoxLayout(this);
    row->setSpacing(16);
    row->addWidget(picture_, 2);
    row->addWidget(form::scrolled(makeSide()));
    row->addWidget(form::scrolled(makeFindings()), 3);
    connect(&camera_, &ThermalCamera::frameArrived, &frames_, &HeatFrames::take);
    connect(&frames_, &HeatFrames::taken, this, &HeatPanel::showTaken);
    connect(&frames_, &HeatFrames::begunAnew, this, [this] { before_.clear(); });
    connect(&frames_, &HeatFrames::progressed, this, &HeatPanel::showReading);
    connect(&frames_, &HeatFrames::filesRead, this, &HeatPanel::endReading);
    connect(&camera_, &ThermalCamera::changed, this, [this] {
        const bool open = camera_.wire().state() != Wire::State::closed;
        connect_->setText(open ? tr("Dis&connect") : tr("&Connect"));
        camera_state_->setText(camera_.answers() ? tr("The camera sends frames.") : camera_.problem());
    });
    connect(picture_, &HeatPicture::picked, this, &HeatPanel::picturePicked);
    connect(&bench_, &BoardBench::picked, this, [this] { looked_at_ = 0; });
    connect(&bench_, &BoardBench::boardGoes, this, [this] { work_.finish(); });
    connect(&bench_, &BoardBench::boardEdited, this, [this] {
        answer_.reset();
        looked_at_ = 0;
        showAnswer();
    });
    connect(&bench_, &BoardBench::boardChanged, this, [this] {
        answer_.reset();
        marked_.clear();
        placed_ = false;
        showAnswer();
    });
    connect(&tick_, &QTimer::timeout, this, &HeatPanel::look);
    tick_.start(look_every_ms);
    showAnswer();
}

HeatPanel::~HeatPanel() {
    camera_.disconnect(this);
}

void HeatPanel::connectCamera(const QString& address) {
    address_->setText(address);
    preferences_.setCameraAddress(address);
    frames_.clear();
    looked_at_ = 0;
    camera_.open(address);
}

void HeatPanel::setSide(BoardSide side) {
    side_ = side;
    looked_at_ = 0;
}

void HeatPanel::showTaken() {
    if (isVisible() && !rises_)
        picture_->setFrame(frames_.last());
}

void HeatPanel::openFiles(const QStringList& files) {
    camera_.close();
    rises_.reset();
    looked_at_ = 0;
    frames_.openFiles(files);
    showReading(0.0);
}

void HeatPanel::showReading(double share) {
    if (!frames_.reading())
        return;
    files_->setText(tr("&Stop reading"));
    verdict_->setText(tr("Reading frames … %1 %").arg(static_cast<int>(100.0 * share)));
}

void HeatPanel::endReading(const QStringList& remarks) {
    files_->setText(tr("Open frames …"));
    if (!remarks.isEmpty())
        emit said(remarks.front());
    looked_at_ = 0;
    look();
    showAnswer();
}

void HeatPanel::askForFiles() {
    const QStringList files = QFileDialog::getOpenFileNames(
        this, tr("Open thermal frames"), {}, tr("Thermal frames (*.csv *.pgm *.png);;All files (*)"));
    if (!files.isEmpty())
        openFiles(files);
}

void HeatPanel::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls())
        event->acceptProposedAction();
}

void HeatPanel::dropEvent(QDropEvent* event) {
    QStringList files;
    for (const QUrl& url : event->mimeData()->urls())
        files += url.toLocalFile();
    openFiles(files);
    event->acceptProposedAction();
}

void HeatPanel::takeReference() {
    if (frames_.empty()) {
        emit said(tr("No frame has come yet: connect the camera, or open frames."));
        return;
    }
    before_ = frames_.latest(reference_frames);
    looked_at_ = 0;
    emit said(tr("Kept %1 frames as the reference. Now feed the net.").arg(before_.size()));
}

void HeatPanel::markPoints(bool mark) {
    half_marked_.reset();
    if (mark) {
        marked_.clear();
        placed_ = false;
    }
    showAnswer();
}

void HeatPanel::picturePicked(const PicturePoint& point) {
    if (!mark_->isChecked())
        return;
    half_marked_ = point;
    showAnswer();
}

void HeatPanel::placePicked(const Point& place, int pad) {
    if (finding_sigma_mm_ > 0.0 && bench_.map() != nullptr) {
        HeatSearchOptions options;
        options.net = bench_.net();
        options.side = side_;
        auto found = search_place(*bench_.map(), place, finding_sigma_mm_, options);
        found_certainty_ = finding_certainty_;
        by_camera_ = false;
        finding_sigma_mm_ = 0.0;
        alcohol_->setChecked(false);
        finger_->setChecked(false);
        if (found)
            answer_ = std::move(found).value();
        showAnswer();
        return;
    }
    if (!mark_->isChecked() || !half_marked_)
        return;
    // A pad is where one means its middle.
    const bool at_pad = pad != no_index && bench_.map()->pad(pad).place.has_value();
    marked_.push_back({*half_marked_, at_pad ? *bench_.map()->pad(pad).place : place});
    half_marked_.reset();
    if (marked_.size() < wanted_marks) {
        showAnswer();
        return;
    }
    const auto map = PlaneMap::from_marks(marked_);
    if (map)
        view_ = *map;
    else
        emit said(format::qt(map.error().message));
    placed_ = map.ok();
    looked_at_ = 0;
    mark_->setChecked(false);
    showAnswer();
}

void HeatPanel::findBy(double sigma_mm, double certainty) {
    const bool alcohol = sigma_mm == alcohol_sigma_mm;
    (alcohol ? finger_ : alcohol_)->setChecked(false);
    const bool wanted = (alcohol ? alcohol_ : finger_)->isChecked();
    finding_sigma_mm_ = wanted ? sigma_mm : 0.0;
    finding_certainty_ = certainty;
    showAnswer();
}

// Works the frames out beside the window, when new ones have come or something else was asked.
void HeatPanel::look() {
    const auto way = static_cast<Way>(way_->currentData().toInt());
    reference_->setEnabled(way == Way::rise);
    period_->setEnabled(way == Way::supply);
    if (!isVisible() || work_.running() || frames_.empty() || looked_at_ == frames_.came())
        return;
    looked_at_ = frames_.came();
    if (way == Way::rise && before_.empty()) {
        rises_.reset();
        picture_->setFrame(frames_.last());
        showAnswer();
        return;
    }
    const Frames looked = frames_.latest(way == Way::rise ? latest_frames : frames_.size());
    HeatSearchOptions options;
    options.net = bench_.net();
    options.side = side_;
    const BoardMap* map = placed_ ? bench_.map() : nullptr;
    // The map lives as long as the board is open, and a board is closed only after the work has ended.
    const auto work_out = [way, looked, before = before_, map, view = view_, options,
                           period_s = period_->value(), trace = trace_.reading()](const TaskControl&) {
        const auto plain = [](const Frames& taken, bool by_arrival) {
            std::vector<ThermalFrame> frames;
            for (const auto& one : taken) {
                frames.push_back(one->frame);
                if (by_arrival)
                    frames.back().t_s = one->arrived_s;
            }
            return frames;
        };
        Work work;
        const auto rises = way == Way::rise
                               ? rise_between(plain(before, false), plain(looked, false))
                               : rises_in_rhythm(way, period_s, plain(looked, way == Way::retries), trace);
        if (!rises) {
            work.sentence = format::qt(rises.error().message);
            return work;
        }
        work.rises = *rises;
        if (map != nullptr) {
            auto found = search_heat(*map, *rises, view, options);
            if (found)
                work.answer = std::move(found).value();
            else
                work.sentence = format::qt(found.error().message);
        }
        return work;
    };
    work_.start(work_out, [this](const Work& work) { showWork(work); });
}

void HeatPanel::showWork(const Work& work) {
    rises_ = work.rises;
    if (rises_)
        picture_->setRises(in_step(*rises_));
    else if (!frames_.empty())
        picture_->setFrame(frames_.last());
    // What was found by hand stays until it is taken or something else is asked.
    if (work.answer && (by_camera_ || !answer_)) {
        answer_ = work.answer;
        by_camera_ = true;
        found_certainty_ = 1.0;
    }
    showAnswer();
    if (!work.sentence.isEmpty())
        verdict_->setText(work.sentence);
}

// What is missing before the picture says something; empty when nothing is.
QString HeatPanel::need() const {
    if (bench_.map() == nullptr)
        return tr("Open the board first: the warm place is named by its map.");
    if (finding_sigma_mm_ > 0.0)
        return tr("Click on the board where it is.");
    if (mark_->isChecked())
        return half_marked_ ? tr("Point %1: now click the same place on the board.").arg(marked_.size() + 1)
                            : tr("Point %1 of 4: click it in the picture. Shiny parts and corners show.")
                                  .arg(marked_.size() + 1);
    if (answer_)
        return {};
    if (frames_.empty())
        return tr("Feed the net and look with the camera, or find the warm place by alcohol or finger.");
    if (!placed_)
        return tr("Mark four points, so that the picture lies on the board.");
    if (static_cast<Way>(way_->currentData().toInt()) == Way::rise && before_.empty())
        return tr("With the supply still off, take the reference.");
    return tr("Looking …");
}

void HeatPanel::showAnswer() {
    const QString missing = need();
    verdict_->setText(missing.isEmpty() ? format::qt(answer_->says) : missing);
    QString text;
    if (answer_ && bench_.map() != nullptr) {
        for (std::size_t i = 0; i < std::min(heat_candidates_named, answer_->candidates.size()); ++i) {
            const HeatCandidate& one = answer_->candidates[i];
            text += tr("%1  %2").arg(format::percent(one.probability),
                                     format::qt(bench_.map()->part(one.part).name));
            if (one.kelvin > 0.0)
                text += tr(", +%1").arg(format::qt(format_quantity(one.kelvin, Unit::kelvin, 2)));
            text += one.on_net ? QStringLiteral("\n") : tr(", not on the net\n");
        }
    }
    list_->setText(text);
    take_->setEnabled(answer_.has_value() && !answer_->candidates.empty());
    std::vector<PicturePoint> points;
    for (const MarkedPoint& mark : marked_)
        points.push_back(mark.seen);
    if (half_marked_)
        points.push_back(*half_marked_);
    picture_->setMarks(std::move(points));
    std::vector<PicturePoint> spots;
    if (answer_ && by_camera_)
        for (const HotSpot& spot : answer_->spots)
            if (spot.certainty >= least_certain)
                spots.push_back(spot.seen);
    picture_->setSpots(std::move(spots));
    emit marksChanged();
}

std::vector<BoardMark> HeatPanel::marks() const {
    std::vector<BoardMark> marks;
    if (bench_.map() == nullptr)
        return marks;
    if (mark_->isChecked())
        for (std::size_t i = 0; i < marked_.size(); ++i)
            marks.push_back({BoardMark::Look::read, marked_[i].place, QString::number(i + 1), 1.0});
    if (!answer_)
        return marks;
    for (const HotSpot& spot : answer_->spots)
        if (spot.certainty >= least_certain)
            marks.push_back({BoardMark::Look::spot, spot.place, {}, 1.0});
    constexpr std::size_t shown = 3;
    constexpr double least_shown = 0.05;
    for (std::size_t i = 0; i < std::min(shown, answer_->candidates.size()); ++i) {
        const HeatCandidate& one = answer_->candidates[i];
        const auto body = body_of(*bench_.map(), one.part);
        if (one.probability >= least_shown && body)
            marks.push_back({BoardMark::Look::candidate, body->centre(),
                             tr("%1 %2").arg(format::qt(bench_.map()->part(one.part).name),
                                             format::percent(one.probability)),
                             one.probability});
    }
    return marks;
}

QImage HeatPanel::overlay() const {
    return placed_ && over_->isChecked() ? picture_->image() : QImage();
}

void HeatPanel::takeReading() {
    if (!answer_ || answer_->candidates.empty())
        return;
    const HeatCandidate& first = answer_->candidates.front();
    // What follows a rhythm is less than the rise that a steady supply would bring.
    const bool steady = by_camera_ && static_cast<Way>(way_->currentData().toInt()) == Way::rise;
    const QString how =
        by_camera_ ? tr("thermal camera over the board map") : tr("found by hand on the board map");
    const auto said_of =
        bench_.takeFound(first.part, found_certainty_ * first.probability,
                         steady ? std::optional(first.kelvin) : std::nullopt, std::nullopt, how);
    emit said(said_of);
    if (!by_camera_) {
        answer_.reset();
        showAnswer();
    }
}

}  // namespace eh
