// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/scpi_line.h"

namespace eh {
namespace {

constexpr std::size_t most_waiting = 64;
constexpr const char* error_question = "SYST:ERR?";

}  // namespace

ScpiLine::ScpiLine(QObject* parent) : QObject(parent) {
    patience_.setSingleShot(true);
    patience_.setInterval(patience_ms);
    connect(&patience_, &QTimer::timeout, this, &ScpiLine::giveUp);
    connect(&wire_, &Wire::opened, this, &ScpiLine::greet);
    connect(&wire_, &Wire::lost, this, [this] {
        patience_.stop();
        questions_.clear();
        asked_ = false;
        identity_.clear();
        emit lost();
    });
    connect(&wire_, &Wire::changed, this, &ScpiLine::changed);
    connect(&wire_, &Wire::linesArrived, this, &ScpiLine::readLines);
}

void ScpiLine::open(const QString& address) {
    close();
    wire_.open(address);
}

void ScpiLine::close() {
    patience_.stop();
    questions_.clear();
    asked_ = false;
    identity_.clear();
    refusal_.clear();
    wire_.close();
}

QString ScpiLine::problem() const {
    return wire_.problem().isEmpty() ? refusal_ : wire_.problem();
}

bool ScpiLine::simulated() const {
    return identity_.startsWith(QLatin1String("Eager Hound,"));
}

void ScpiLine::greet() {
    refusal_.clear();
    wire_.send("*CLS");
    ask("*IDN?", [this](const QByteArray& answer) {
        // IEEE 488.2: maker, model, serial number, firmware.
        if (answer.count(',') < 1) {
            wire_.drop(tr("What answers at %1 does not say that it is a measuring instrument: “%2”.")
                           .arg(wire_.address(), QString::fromUtf8(answer.left(60))));
            return;
        }
        identity_ = QString::fromUtf8(answer);
        emit identified();
        emit changed();
    });
}

void ScpiLine::ask(const QByteArray& question, Take take) {
    if (!isOpen() || questions_.size() >= most_waiting)
        return;
    questions_.push_back({question, std::move(take)});
    askNext();
}

void ScpiLine::tell(const QByteArray& order) {
    ask(order + '\n' + error_question, [this, order](const QByteArray& answer) {
        if (answer.trimmed().startsWith("0") || answer.trimmed().startsWith("+0"))
            return;
        refusal_ = tr("The instrument refused “%1”: %2.")
                       .arg(QString::fromUtf8(order), QString::fromUtf8(answer.trimmed()));
        emit refused(refusal_);
        emit changed();
    });
}

void ScpiLine::tellNow(const QByteArray& order) {
    constexpr int at_most_ms = 300;
    if (!isOpen())
        return;
    wire_.send(order);
    wire_.drain(at_most_ms);
}

void ScpiLine::askNext() {
    if (asked_ || reading_ || questions_.empty())
        return;
    asked_ = true;
    patience_.start();
    wire_.send(questions_.front().line);
}

void ScpiLine::readLines(const QByteArrayList& lines) {
    // What is asked by whoever takes an answer is sent after this batch: its further lines were on their way
    // before and cannot be the answer.
    reading_ = true;
    for (const QByteArray& line : lines) {
        // Nobody asked: a greeting, or an instrument that talks by itself.
        if (!asked_)
            continue;
        patience_.stop();
        const Question answered = std::move(questions_.front());
        questions_.pop_front();
        asked_ = false;
        answered.take(line);
    }
    reading_ = false;
    askNext();
}

void ScpiLine::giveUp() {
    wire_.drop(tr("The instrument at %1 did not answer “%2” within %3 s.")
                   .arg(wire_.address(), QString::fromUtf8(questions_.front().line))
                   .arg(1e-3 * patience_ms, 0, 'f', 0));
}

}  // namespace eh
