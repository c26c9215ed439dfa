// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/instruments/instrument_card.h"

#include <QHBoxLayout>

#include "app/style/theme.h"
#include "app/widgets/form_parts.h"

namespace eh {
namespace {

// Always the same, whatever is shown, so that nothing below jumps; less on a low screen, where switches must
// stay in sight.
constexpr int problem_height = 60;
constexpr int value_height = 96;
constexpr int low_card_height = 540;
constexpr int low_problem_height = 40;
constexpr int low_value_height = 74;

QString ink(const QString& text, const QColor& colour) {
    return QStringLiteral("<span style='color:%1'>%2</span>").arg(colour.name(), text.toHtmlEscaped());
}

}  // namespace

InstrumentCard::InstrumentCard(const QString& name, const QString& about, QWidget* parent)
    : QFrame(parent),
      about_(about),
      words_(new QLabel(this)),
      state_(new QLabel(this)),
      address_(new QLineEdit(this)),
      connect_(new QPushButton(this)),
      problem_(new QLabel(this)),
      first_(new QLabel(this)),
      second_(new QLabel(this)),
      value_(new QWidget(this)),
      body_(new QVBoxLayout) {
    setObjectName("card");
    setStyleSheet(QStringLiteral("QFrame#card { background: %1; border: 1px solid %2; }")
                      .arg(theme::colours().surface.name(), theme::colours().rule.name()));
    auto* title = new QLabel(name, this);
    title->setFont(theme::text_font(1.25, true));
    words_->setText(about);
    words_->setProperty("role", "soft");
    words_->setWordWrap(true);
    state_->setFont(theme::text_font(1.0, true));
    state_->setAccessibleName(tr("State of the %1").arg(name.toLower()));
    address_->setPlaceholderText(tr("host:port or /dev/ttyUSB0@115200"));
    address_->setAccessibleName(tr("Address of the %1").arg(name.toLower()));
    problem_->setWordWrap(true);
    problem_->setFixedHeight(problem_height);
    problem_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    first_->setFont(theme::number_font(2.4, true));
    first_->setAccessibleName(tr("Value of the %1").arg(name.toLower()));
    second_->setFont(theme::number_font(1.5, true));
    value_->setFixedHeight(value_height);
    auto* numbers = new QVBoxLayout(value_);
    numbers->setContentsMargins(0, 0, 0, 0);
    numbers->setSpacing(0);
    numbers->addWidget(first_);
    numbers->addWidget(second_);
    numbers->addStretch(1);
    auto* head = new QHBoxLayout;
    head->addWidget(title, 1);
    head->addWidget(state_);
    auto* line = new QHBoxLayout;
    line->addWidget(address_, 1);
    line->addWidget(connect_);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 12, 14, 12);
    column->addLayout(head);
    column->addWidget(words_);
    column->addLayout(line);
    column->addWidget(problem_);
    column->addWidget(value_);
    auto* body = new QWidget(this);
    body->setLayout(body_);
    body_->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form::scrolled(body), 1);
    const auto act = [this] {
        if (connected_)
            emit disconnectAsked();
        else
            emit connectAsked(address_->text());
    };
    connect(connect_, &QPushButton::clicked, this, act);
    connect(address_, &QLineEdit::returnPressed, this, [this] { emit connectAsked(address_->text()); });
    setConnected(false);
}

void InstrumentCard::resizeEvent(QResizeEvent* event) {
    QFrame::resizeEvent(event);
    const bool low = height() < low_card_height;
    problem_->setFixedHeight(low ? low_problem_height : problem_height);
    value_->setFixedHeight(low ? low_value_height : value_height);
}

void InstrumentCard::setState(const QString& word, Tone tone) {
    // The word says it; the colour only helps.
    const auto& c = theme::colours();
    form::show_html(state_, ink(word, tone == Tone::good     ? c.good
                                      : tone == Tone::danger ? c.bad
                                                             : c.soft_ink));
}

void InstrumentCard::setIdentity(const QString& identity) {
    words_->setText(identity.isEmpty() ? about_ : identity);
}

void InstrumentCard::setProblem(const QString& sentence) {
    form::show_html(problem_, ink(sentence, theme::colours().bad));
}

void InstrumentCard::setConnected(bool connected) {
    connected_ = connected;
    connect_->setText(connected ? tr("Disconnect") : tr("Connect"));
}

void InstrumentCard::setValue(const QString& first, const QString& second) {
    first_->setText(first);
    second_->setText(second);
}

}  // namespace eh
