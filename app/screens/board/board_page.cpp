// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/board/board_page.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QShortcut>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/screens/board/board_view.h"
#include "app/screens/board/expected_panel.h"
#include "app/screens/board/feed_panel.h"
#include "app/screens/board/heat_panel.h"
#include "app/screens/board/millivolt_panel.h"
#include "app/screens/board/photo_panel.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "core/board/board_json.h"
#include "core/board/machine_match.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr int panel_width = 250;
constexpr int tabs_height = 292;
constexpr int low_tabs_height = 236;
constexpr std::size_t most_hits = 40;
constexpr std::size_t most_named_parts = 24;
constexpr int kind_role = Qt::UserRole + 1;
constexpr int net_kind = 1;
constexpr int part_kind = 2;
constexpr double zoom_step = 1.4;
constexpr double beside_mm = 8.0;  // what one sees beside a part through a magnifier
constexpr int most_beside = 8;
constexpr int least_width = 760;

QString sides_word(BoardSide side) {
    return side == BoardSide::bottom ? BoardPage::tr("Side: &bottom") : BoardPage::tr("Side: &top");
}

}  // namespace

BoardPage::BoardPage(JobSession& session, DiagnosisService& diagnosis, const BenchSupply& supply,
                     ThermalCamera& camera, const TraceWatch& trace, Preferences& preferences,
                     const Knowledge& knowledge, QWidget* parent)
    : QWidget(parent),
      session_(session),
      preferences_(preferences),
      knowledge_(knowledge),
      bench_(session, diagnosis, supply, knowledge),
      view_(new BoardView(this)),
      tabs_(new QTabWidget(this)),
      expected_(new ExpectedPanel(bench_, this)),
      feed_(new FeedPanel(bench_, this)),
      millivolts_(new MillivoltPanel(bench_, this)),
      heat_(new HeatPanel(bench_, camera, trace, preferences, this)),
      photo_(new PhotoPanel(bench_, this)),
      title_(new QLabel(this)),
      remarks_(new QLabel(this)),
      search_(new QLineEdit(this)),
      found_(new QListWidget(this)),
      details_(new QLabel(this)),
      empty_(new QLabel(this)),
      side_button_(new QPushButton(sides_word(BoardSide::top), this)) {
    title_->setFont(theme::text_font(1.25, true));
    remarks_->setProperty("role", "soft");
    remarks_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);  // cut before the title is
    empty_->setWordWrap(true);
    empty_->setAlignment(Qt::AlignCenter);
    empty_->setText(
        tr("No board is open. Open the netlist of this machine's board (IPC-D-356A, as board makers test by) "
           "or a board file of this program. It is remembered for this kind of machine. Without one, begin "
           "from a "
           "photo."));
    auto* head = new QHBoxLayout;
    head->addWidget(title_);
    head->addWidget(remarks_, 1);
    const auto add = [&](QPushButton* button, const QString& tip, auto act) {
        button->setToolTip(tip);
        connect(button, &QPushButton::clicked, this, act);
        head->addWidget(button);
    };
    add(side_button_, tr("Turn the board over (T)"), [this] { turnOver(); });
    add(new QPushButton(tr("&Whole board"), this), tr("Show all of it (0)"), [this] { view_->showAll(); });
    add(new QPushButton(tr("&Open …"), this), tr("Open a netlist or a board"), [this] { openAsked(); });
    add(new QPushButton(tr("From a photo …"), this), tr("Without a netlist: mark parts and nets on a photo"),
        [this] { startFromPhoto(); });
    auto* body = new QHBoxLayout;
    body->addWidget(makeSide());
    board_column_ = new QVBoxLayout;
    board_column_->addWidget(view_, 1);
    board_column_->addWidget(tabs_);
    body->addLayout(board_column_, 1);
    body->addWidget(empty_, 1);
    makeTabs();
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(14, 10, 14, 8);
    page->addLayout(head);
    page->addLayout(body, 1);
    connect(view_, &BoardView::padPicked, this, &BoardPage::padPicked);
    connect(&session_, &JobSession::opened, this, &BoardPage::openRemembered);
    connect(&session_, &JobSession::changed, this, [this] {
        openRemembered();
        showDetails();
    });
    const auto key = [&](const QKeySequence& keys, auto act) {
        auto* shortcut = new QShortcut(keys, view_);
        shortcut->setContext(Qt::WidgetShortcut);
        connect(shortcut, &QShortcut::activated, this, act);
    };
    view_->setFocusPolicy(Qt::StrongFocus);
    key(Qt::Key_T, [this] { turnOver(); });
    key(Qt::Key_0, [this] { view_->showAll(); });
    key(Qt::Key_Plus, [this] { view_->zoom(zoom_step, view_->rect().center()); });
    key(Qt::Key_Minus, [this] { view_->zoom(1.0 / zoom_step, view_->rect().center()); });
    key(Qt::Key_Escape, [this] { clearPick(); });
    clearPick();
    view_->hide();
    tabs_->hide();
}

void BoardPage::makeTabs() {
    tabs_->addTab(expected_, tr("E&xpected"));
    tabs_->addTab(feed_, tr("Fee&d it"));
    tabs_->addTab(millivolts_, tr("&Millivolts"));
    tabs_->addTab(heat_, tr("&Heat"));
    tabs_->addTab(photo_, tr("Photo"));
    connect(photo_, &PhotoPanel::said, this, &BoardPage::said);
    connect(photo_, &PhotoPanel::marksChanged, this, &BoardPage::showMarks);
    connect(photo_, &PhotoPanel::boardMade, this, [this] { showBoard(view_->isVisibleTo(this)); });
    tabs_->setFixedHeight(low_tabs_height);
    connect(tabs_, &QTabWidget::currentChanged, this, &BoardPage::showMarks);
    connect(millivolts_, &MillivoltPanel::marksChanged, this, &BoardPage::showMarks);
    connect(heat_, &HeatPanel::marksChanged, this, &BoardPage::showMarks);
    connect(expected_, &ExpectedPanel::said, this, &BoardPage::said);
    connect(millivolts_, &MillivoltPanel::said, this, &BoardPage::said);
    connect(heat_, &HeatPanel::said, this, &BoardPage::said);
    connect(&bench_, &BoardBench::trouble, this, &BoardPage::said);
    connect(&bench_, &BoardBench::readingsChanged, this, &BoardPage::showDetails);
    connect(feed_, &FeedPanel::supplyAsked, this, &BoardPage::supplyAsked);
    connect(view_, &BoardView::placePicked, this, [this](const Point& place) {
        if (tabs_->currentWidget() == millivolts_)
            millivolts_->placePicked(place);
        else if (tabs_->currentWidget() == heat_)
            heat_->placePicked(place, pad_);
        else if (tabs_->currentWidget() == photo_)
            photo_->placePicked(place);
    });
}

void BoardPage::showMarks() {
    const bool by_heat = tabs_->currentWidget() == heat_;
    if (by_heat)
        view_->setMarks(heat_->marks());
    else if (tabs_->currentWidget() == millivolts_)
        view_->setMarks(millivolts_->marks());
    else
        view_->setMarks(tabs_->currentWidget() == photo_ ? photo_->marks() : std::vector<BoardMark>{});
    const bool marking = tabs_->currentWidget() == photo_ && photo_->isUnplaced();
    view_->showPads(!marking);
    const QImage heat = by_heat ? heat_->overlay() : QImage();
    view_->setPicture(heat.isNull() ? (marking || !photo_->isUnplaced() ? photo_->image() : QImage()) : heat,
                      heat.isNull() ? photo_->place() : heat_->view());
}

// On a narrow screen the tabs take the whole width, below list and board.
void BoardPage::resizeEvent(QResizeEvent* event) {
    constexpr int narrow_width = 1000;
    constexpr int low_height = 580;
    QWidget::resizeEvent(event);
    tabs_->setFixedHeight(height() < low_height ? low_tabs_height : tabs_height);
    auto* page = qobject_cast<QVBoxLayout*>(layout());
    QVBoxLayout* const wanted = width() < narrow_width ? page : board_column_;
    if (wanted->indexOf(tabs_) >= 0)
        return;
    (wanted == page ? board_column_ : page)->removeWidget(tabs_);
    wanted->addWidget(tabs_);
}

// A page's least size counts in the window whether it is shown or not, and whichever way its tabs stand.
QSize BoardPage::minimumSizeHint() const {
    const QSize own = QWidget::minimumSizeHint();
    return {std::min(own.width(), std::max(tabs_->minimumSizeHint().width(), least_width)), own.height()};
}

QWidget* BoardPage::makeSide() {
    auto* side = new QWidget(this);
    side->setFixedWidth(panel_width);
    search_->setPlaceholderText(tr("Find a net or a part"));
    search_->setClearButtonEnabled(true);
    search_->setAccessibleName(tr("Find a net or a part"));
    found_->setAccessibleName(tr("Nets and parts found"));
    details_->setWordWrap(true);
    details_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    details_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    details_->setAccessibleName(tr("What is picked"));
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 8, 0);
    column->addWidget(search_);
    column->addWidget(found_, 1);
    column->addWidget(form::scrolled(details_), 2);
    connect(search_, &QLineEdit::textChanged, this, &BoardPage::lookFor);
    connect(search_, &QLineEdit::returnPressed, this, [this] {
        if (found_->count() > 0)
            found_->setCurrentRow(0);
    });
    connect(found_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        if (item == nullptr)
            return;
        const int index = item->data(Qt::UserRole).toInt();
        if (item->data(kind_role).toInt() == net_kind)
            pickNet(index);
        else
            pickPart(index);
        view_->showPicked();
    });
    return side;
}

Outcome BoardPage::openFile(const QString& file) {
    auto read = read_board(file.toStdString());
    if (!read)
        return read.error();
    BoardImport import = std::move(read).value();
    if (import.map.title.empty())
        import.map.title = QFileInfo(file).completeBaseName().toStdString();
    view_->setMap(nullptr);
    bench_.open(std::move(import));
    showBoard(false);
    photo_->takePictures(QFileInfo(file).absolutePath());
    view_->showAll();
    if (session_.hasJob())
        preferences_.setBoardOf(format::qt(session_.job().ticket.topology), file);
    return Done{};
}

void BoardPage::showBoard(bool stay) {
    const BoardImport& board = *bench_.board();
    view_->setMap(&board.map, stay);
    view_->show();
    tabs_->show();
    empty_->hide();
    title_->setText(format::qt(board.map.title));
    QString remarks = tr("%1 parts, %2 pads, %3 nets")
                          .arg(board.map.parts().size())
                          .arg(board.map.pads().size())
                          .arg(board.map.nets().size());
    QStringList lines;
    for (const BoardRemark& remark : board.remarks)
        lines += remark.line > 0 ? tr("line %1: %2").arg(remark.line).arg(format::qt(remark.text))
                                 : format::qt(remark.text);
    if (!lines.isEmpty())
        remarks += tr("; %1 remarks, the first: %2")
                       .arg(board.remarks.size() + board.further_remarks)
                       .arg(lines.front());
    remarks_->setText(remarks);
    remarks_->setToolTip(lines.mid(0, static_cast<int>(most_hits)).join('\n'));
    clearPick();
    lookFor(search_->text());
}

// A map that is made of a photo begins with the photo.
void BoardPage::startFromPhoto() {
    const QString file = QFileDialog::getOpenFileName(
        this, tr("Open a photo of the board"), {}, tr("Pictures (*.png *.jpg *.jpeg *.bmp);;All files (*)"));
    if (file.isEmpty())
        return;
    openPhoto(file);
}

void BoardPage::openPhoto(const QString& file) {
    if (const auto done = photo_->openPhoto(file, view_->side()); !done) {
        emit said(format::qt(done.error().text()));
        return;
    }
    tabs_->setCurrentWidget(photo_);
    view_->showAll();
}

void BoardPage::openAsked() {
    const QString file = QFileDialog::getOpenFileName(
        this, tr("Open a board"), {}, tr("Boards (*.ipc *.net *.356 *.d356 *.json);;All files (*)"));
    if (file.isEmpty())
        return;
    if (const auto done = openFile(file); !done)
        emit said(format::qt(done.error().text()));
}

void BoardPage::openRemembered() {
    const std::string machine = session_.hasJob() ? session_.job().ticket.topology : std::string();
    if (machine == remembered_for_)
        return;
    remembered_for_ = machine;
    const QString file = preferences_.boardOf(format::qt(machine));
    if (!file.isEmpty() && openFile(file))
        return;
    view_->setMap(nullptr);
    bench_.close();
    view_->hide();
    tabs_->hide();
    empty_->show();
    title_->setText(tr("Board"));
    remarks_->clear();
    found_->clear();
    clearPick();
}

void BoardPage::lookFor(const QString& typed) {
    const QSignalBlocker quiet(found_);
    found_->clear();
    if (map() == nullptr)
        return;
    const BoardMap& map = *bench_.map();
    const auto add = [&](const QString& text, int index, int kind) {
        auto* item = new QListWidgetItem(text, found_);
        item->setData(Qt::UserRole, index);
        item->setData(kind_role, kind);
    };
    const std::string wanted = typed.trimmed().toStdString();
    for (const int net : map.nets_like(wanted, most_hits))
        add(tr("net %1 · %2 pads").arg(format::qt(map.net(net).name)).arg(map.net(net).pads.size()), net,
            net_kind);
    for (const int part : map.parts_like(wanted, most_hits))
        add(tr("part %1 · %2 pins").arg(format::qt(map.part(part).name)).arg(map.part(part).pads.size()),
            part, part_kind);
}

std::vector<NetReach> BoardPage::waysFrom(int net) const {
    return nets_reached(*bench_.map(), net, [this](int part) { return bench_.carriesOn(part); });
}

void BoardPage::pickNet(int net) {
    view_->pick(net, no_index, waysFrom(net));
    bench_.pick(net, no_index);
    showDetails();
}

void BoardPage::pickPart(int part) {
    if (!reachable(bench_.map()->part(part).side, view_->side()))
        turnOver();
    view_->pick(no_index, part, {});
    bench_.pick(no_index, part);
    showDetails();
}

void BoardPage::clearPick() {
    view_->pick(no_index, no_index, {});
    bench_.pick(no_index, no_index);
    showDetails();
}

void BoardPage::turnOver() {
    view_->setSide(view_->side() == BoardSide::bottom ? BoardSide::top : BoardSide::bottom);
    heat_->setSide(view_->side());
    photo_->setSide(view_->side());
    side_button_->setText(sides_word(view_->side()));
}

void BoardPage::padPicked(int pad) {
    pad_ = pad;
    // While points are marked or a place is told, clicks on the board mean that alone.
    if (map() == nullptr || heat_->wantsPlace() || millivolts_->isDrawing() || photo_->wantsPlace())
        return;
    if (pad == no_index) {
        clearPick();
    } else {
        const Pad& own = map()->pad(pad);
        view_->pick(own.net, own.part, own.net == no_index ? std::vector<NetReach>{} : waysFrom(own.net));
        bench_.pick(own.net, own.part);
        showDetails();
    }
    millivolts_->padPicked(pad);
}

// What the machine's model and the job know of a net of that name.
QString BoardPage::machineWords(int net) const {
    const Topology* topology = bench_.topology();
    const Net* same = topology == nullptr ? nullptr : machine_net(*bench_.map(), net, *topology);
    if (same == nullptr)
        return {};
    QString words = tr("%1; %2 when sound")
                        .arg(format::qt(same->title), format::qt(format_quantity(same->volts, Unit::volts)));
    const auto& readings = session_.job().readings;
    for (auto reading = readings.rbegin(); reading != readings.rend(); ++reading) {
        const bool of_net = reading->kind() == ReadingKind::net_ohms ||
                            reading->kind() == ReadingKind::net_volts ||
                            reading->kind() == ReadingKind::diode;
        if (of_net && reading->place() == same->id && !reading->set_aside) {
            words += tr("; measured in this job: %1").arg(format::qt(describe_value(*reading, *topology)));
            break;
        }
    }
    return words;
}

QString BoardPage::netWords(int net) const {
    const BoardMap& map = *bench_.map();
    QString text = tr("<p><b>Net %1</b>, %2 pads</p>")
                       .arg(format::qt(map.net(net).name).toHtmlEscaped())
                       .arg(map.net(net).pads.size());
    if (const QString known = machineWords(net); !known.isEmpty())
        text += QStringLiteral("<p>%1</p>").arg(known.toHtmlEscaped());
    if (map.net(net).may_be_several)
        text += tr("<p>Its name was cut in the file: this may be several nets.</p>");
    QStringList names;
    const auto parts = map.parts_on(net);
    for (const int part : parts) {
        if (static_cast<std::size_t>(names.size()) == most_named_parts)
            break;
        names += map.part(part).fitted ? format::qt(map.part(part).name)
                                       : tr("%1 (not fitted)").arg(format::qt(map.part(part).name));
    }
    if (parts.size() > most_named_parts)
        names += tr("and %1 more").arg(parts.size() - most_named_parts);
    text += tr("<p>Parts on it: %1</p>").arg(names.join(", ").toHtmlEscaped());
    QStringList ways;
    for (const NetReach& reach : waysFrom(net)) {
        if (reach.hops > 0 && static_cast<std::size_t>(ways.size()) < most_named_parts)
            ways += tr("over %1 to %2")
                        .arg(format::qt(map.part(reach.over).name), format::qt(map.net(reach.net).name));
    }
    if (!ways.isEmpty())
        text += tr("<p>Goes on %1</p>").arg(ways.join("; ").toHtmlEscaped());
    return text;
}

void BoardPage::showDetails() {
    if (map() == nullptr) {
        details_->clear();
        return;
    }
    const BoardMap& map = *bench_.map();
    QString text;
    if (bench_.part() != no_index) {
        const BoardPart& part = map.part(bench_.part());
        QStringList nets;
        for (const int net : map.nets_of(bench_.part()))
            nets += format::qt(map.net(net).name);
        text += tr("<p><b>Part %1</b>, %2 pins%3</p><p>Nets: %4</p>")
                    .arg(format::qt(part.name).toHtmlEscaped())
                    .arg(part.pads.size())
                    .arg(part.fitted ? QString() : tr(", not fitted: never suspected"))
                    .arg(nets.mid(0, static_cast<int>(most_named_parts)).join(", ").toHtmlEscaped());
    }
    if (bench_.net() != no_index)
        text += netWords(bench_.net());
    if (bench_.part() != no_index && map.part(bench_.part()).placed) {
        QStringList beside;
        for (const int pad : map.near(map.part(bench_.part()).centre, beside_mm, view_->side())) {
            const int other = map.pad(pad).part;
            if (other == no_index || other == bench_.part() || beside.size() >= most_beside)
                continue;
            if (const QString name = format::qt(map.part(other).name); !beside.contains(name))
                beside += name;
        }
        if (!beside.isEmpty())
            text += tr("<p>Beside it: %1</p>").arg(beside.join(", ").toHtmlEscaped());
    }
    if (text.isEmpty())
        text =
            tr("<p>Click a pad, or type a name above. A picked net is ringed; nets that it goes on to over "
               "inductors, "
               "beads, fuses and sense resistors are hatched.</p>");
    form::show_html(details_, text);
}

}  // namespace eh
