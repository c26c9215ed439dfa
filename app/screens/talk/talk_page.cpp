// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/talk/talk_page.h"

#include <QDateTime>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QPainter>
#include <QVBoxLayout>

#include "app/format/text.h"
#include "app/screens/talk/ladder_delegate.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"

namespace eh {
namespace {

constexpr int side_width = 330;
constexpr int lanes_height = 26;
constexpr double usual_volts = 20.0;
constexpr int progress_steps = 1000;
constexpr int progress_width = 140;

// Names the lines of life above the ladder.
class LaneNames : public QWidget {
  public:
    LaneNames(const QListView& ladder, QWidget* parent) : QWidget(parent), ladder_(ladder) {
        setFixedHeight(lanes_height);
        setAccessibleName(TalkPage::tr("Lanes: charger, cable, machine"));
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setFont(theme::text_font(1.0, true));
        painter.setPen(theme::colours().ink);
        const QStringList names{TalkPage::tr("Charger"), TalkPage::tr("Cable"), TalkPage::tr("Machine")};
        constexpr int half_width = 70;
        for (int lane = 0; lane < names.size(); ++lane) {
            const int x = ladder_.viewport()->x() + LadderDelegate::lane_x(lane);
            painter.drawText(QRect(x - half_width, 0, 2 * half_width, height()), Qt::AlignCenter,
                             names[lane]);
        }
    }

  private:
    const QListView& ladder_;
};

QLabel* heading(const QString& text, QWidget* parent) {
    auto* label = new QLabel(text, parent);
    label->setFont(theme::text_font(0.95, true));
    return label;
}

QLabel* paragraph(QWidget* parent, const QString& name) {
    auto* label = new QLabel(parent);
    label->setWordWrap(true);
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    label->setAccessibleName(name);
    return label;
}

QString list_html(const QStringList& items, const char* tag) {
    QString html = QStringLiteral("<%1 style='margin-left:-18px'>").arg(QLatin1String(tag));
    for (const QString& item : items)
        html += QStringLiteral("<li style='margin-bottom:4px'>%1</li>").arg(item.toHtmlEscaped());
    return html + QStringLiteral("</%1>").arg(QLatin1String(tag));
}

}  // namespace

TalkPage::TalkPage(JobSession& session, TalkRecording& recording, const Knowledge& knowledge, QWidget* parent)
    : QWidget(parent),
      session_(session),
      recording_(recording),
      knowledge_(knowledge),
      verdict_(paragraph(this, tr("What the conversation came to"))),
      origin_(new QLabel(this)),
      offers_(paragraph(this, tr("What the charger offers"))),
      points_(paragraph(this, tr("What that points at"))),
      packet_(paragraph(this, tr("The chosen packet"))),
      empty_(paragraph(this, tr("What to do first"))),
      form_(new CaptureForm(this)),
      ladder_(new QListView(this)),
      lanes_(new LaneNames(*ladder_, this)),
      progress_(new QProgressBar(this)),
      stop_(new QPushButton(tr("Stop"), this)),
      record_(new QPushButton(tr("&Record"), this)),
      otherwise_(new QPushButton(tr("Read it other&wise"), this)),
      open_(new QPushButton(tr("&Open a capture …"), this)),
      reading_(new QPushButton(tr("&Take as a reading"), this)) {
    verdict_->setFont(theme::text_font(1.25, true));
    origin_->setProperty("role", "soft");
    origin_->setWordWrap(true);
    ladder_->setModel(&model_);
    ladder_->setItemDelegate(new LadderDelegate(ladder_));
    ladder_->setUniformItemSizes(true);
    ladder_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    ladder_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    ladder_->setAccessibleName(tr("Conversation between charger, cable and machine"));
    record_->setToolTip(tr("Ask the recorder on the CC line for everything since the plug went in"));
    reading_->setToolTip(tr("Let the suspects know what the conversation came to"));
    otherwise_->setToolTip(
        tr("Say which wire, which unit of time and which volts this capture is read with"));
    otherwise_->setCheckable(true);
    form_->hide();
    reading_->setDefault(true);
    empty_->setText(
        tr("<p>Nothing has been heard yet.</p>"
           "<p>Clip a recorder to the CC line of the plug (a breakout between plug and machine), start it, "
           "and only "
           "then plug in: what is said in the first second decides.</p>"
           "<p>Then open the capture here, or drop the file on this window: a value-change dump (.vcd), "
           "samples as a table (.csv) or as bytes (.bin), or a list of messages (.json).</p>"));

    auto* ladder_column = new QVBoxLayout;
    ladder_column->setSpacing(0);
    ladder_column->addWidget(form_);
    ladder_column->addWidget(lanes_);
    ladder_column->addWidget(ladder_, 1);
    ladder_column->addWidget(empty_, 1);
    auto* body = new QHBoxLayout;
    body->addLayout(ladder_column, 1);
    body->addWidget(makeSide());
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(14, 10, 14, 8);
    page->addLayout(makeHead());
    page->addLayout(body, 1);

    wire();
    refresh();
}

QLayout* TalkPage::makeHead() {
    auto* head = new QHBoxLayout;
    auto* words = new QVBoxLayout;
    words->setSpacing(2);
    words->addWidget(verdict_);
    words->addWidget(origin_);
    head->addLayout(words, 1);
    progress_->setRange(0, progress_steps);
    progress_->setTextVisible(false);
    progress_->setFixedWidth(progress_width);
    progress_->hide();
    stop_->hide();
    head->addWidget(progress_, 0, Qt::AlignTop);
    head->addWidget(stop_, 0, Qt::AlignTop);
    head->addWidget(record_, 0, Qt::AlignTop);
    head->addWidget(otherwise_, 0, Qt::AlignTop);
    head->addWidget(open_, 0, Qt::AlignTop);
    head->addWidget(reading_, 0, Qt::AlignTop);
    return head;
}

void TalkPage::wire() {
    connect(record_, &QPushButton::clicked, &recording_, &TalkRecording::record);
    connect(open_, &QPushButton::clicked, this, &TalkPage::openAsked);
    connect(reading_, &QPushButton::clicked, this, &TalkPage::takeReading);
    connect(stop_, &QPushButton::clicked, &recording_, &TalkRecording::cancel);
    connect(&recording_, &TalkRecording::progressed, this, [this](double share) {
        if (!recording_.loading())
            return;
        progress_->setValue(static_cast<int>(progress_steps * share));
        progress_->show();
        stop_->show();
    });
    connect(&recording_, &TalkRecording::refused, this, [this](const QString& sentence) {
        progress_->hide();
        stop_->hide();
        emit said(sentence);
    });
    connect(&recording_, &TalkRecording::changed, this, [this] {
        showForm(false);
        refresh();
    });
    connect(&recording_, &TalkRecording::unclear, this, [this] { showForm(true); });
    connect(otherwise_, &QPushButton::toggled, this, &TalkPage::showForm);
    connect(form_, &CaptureForm::readAsked, &recording_, &TalkRecording::loadAgain);
    connect(&recording_, &TalkRecording::recorderFound, this, &TalkPage::refresh);
    connect(&session_, &JobSession::changed, this, &TalkPage::refresh);
    connect(&session_, &JobSession::opened, &recording_, &TalkRecording::clear);
    connect(ladder_->selectionModel(), &QItemSelectionModel::currentChanged, this, &TalkPage::showPacket);
}

QWidget* TalkPage::makeSide() {
    auto* side = new QWidget(this);
    side->setFixedWidth(side_width);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(10, lanes_height, 0, 0);
    column->addWidget(heading(tr("The charger offers"), side));
    column->addWidget(offers_);
    column->addSpacing(8);
    column->addWidget(heading(tr("Look here"), side));
    column->addWidget(points_);
    column->addSpacing(8);
    column->addWidget(heading(tr("The chosen packet"), side));
    column->addWidget(packet_);
    column->addStretch(1);
    return side;
}

double TalkPage::wantedVolts() const {
    const Topology* topology =
        session_.hasJob() ? knowledge_.find_topology(session_.job().ticket.topology) : nullptr;
    return topology == nullptr ? usual_volts : topology->wanted_volts;
}

void TalkPage::refresh() {
    progress_->hide();
    stop_->hide();
    const bool known = recording_.known();
    record_->setVisible(recording_.canRecord());
    reading_->setEnabled(known && session_.hasJob() && !recording_.capture().report.question);
    otherwise_->setVisible(recording_.fromFile());
    empty_->setVisible(!known);
    ladder_->setVisible(known);
    lanes_->setVisible(known);
    model_.show(recording_.frames());
    packet_->setText(tr("Pick a row."));
    if (!known) {
        verdict_->setText(tr("What do charger and machine say to each other?"));
        origin_->clear();
        form::show_plain(offers_, tr("–"));
        form::show_plain(
            points_, tr("A charger that gives 5 V and no more was asked for no more, or heard nobody ask."));
        return;
    }
    const double wanted = wantedVolts();
    const pd::Negotiation negotiation = pd::read_negotiation(recording_.capture(), wanted);
    verdict_->setText(format::qt(pd::verdict_sentence(negotiation, wanted)));
    QString origin = tr("%1; the machine wants %2 V").arg(recording_.origin(), format::figures(wanted, 6));
    for (const std::string& remark : recording_.capture().report.remarks)
        origin += QStringLiteral(". ") + format::qt(remark);
    origin_->setText(origin);
    QStringList offers;
    for (const pd::Offer& offer : negotiation.offers)
        offers += format::qt(pd::describe(offer));
    form::show_html(offers_, offers.isEmpty() ? tr("Nothing was heard.") : list_html(offers, "ol"));
    QStringList points;
    for (const std::string& point : pd::points_at(negotiation))
        points += format::qt(point);
    form::show_html(points_, list_html(points, "ul"));
}

void TalkPage::showForm(bool shown) {
    const QSignalBlocker quiet(otherwise_);
    otherwise_->setChecked(shown);
    form_->setVisible(shown);
    const bool said = !recording_.frames().empty();
    ladder_->setVisible(recording_.known() && (said || !shown));
    lanes_->setVisible(ladder_->isVisibleTo(this));
    if (shown) {
        form_->show(recording_.capture().report, recording_.how());
        form_->readButton().setFocus();
    }
}

void TalkPage::showPacket(const QModelIndex& index) {
    const QString detail = index.data(TalkModel::DetailRole).toString();
    const QString damage = index.data(TalkModel::DamageRole).toString();
    packet_->setText(damage.isEmpty() ? detail : detail + QLatin1Char('\n') + damage);
}

void TalkPage::openAsked() {
    const QString file =
        QFileDialog::getOpenFileName(this, tr("Open a capture of the CC line"), {},
                                     tr("Captures (*.vcd *.csv *.txt *.json *.bin *.raw);;All files (*)"));
    if (file.isEmpty())
        return;
    recording_.load(file);
}

void TalkPage::takeReading() {
    if (!session_.hasJob() || !recording_.known())
        return;
    Reading reading;
    reading.configuration = session_.job().bench;
    const pd::Negotiation negotiation = pd::read_negotiation(recording_.capture(), wantedVolts());
    if (!negotiation.conclusive) {
        emit said(
            tr("Not taken: what was heard does not say how it ended. Record from before the plug goes in."));
        return;
    }
    reading.value = TalkReading{negotiation.end};
    reading.taken_ms = QDateTime::currentMSecsSinceEpoch();
    reading.source = "captured";
    const Topology* topology = knowledge_.find_topology(session_.job().ticket.topology);
    if (topology == nullptr || !reading.configuration.charger_connected) {
        emit said(
            tr("Choose the machine's kind, and set the strip to the port that was recorded, with the charger "
               "in: the reading is stamped with it."));
        return;
    }
    const QString text = format::qt(describe(reading, *topology));
    session_.addReading(std::move(reading));
    emit said(tr("Taken: %1").arg(text));
    emit benchAsked();
}

}  // namespace eh
