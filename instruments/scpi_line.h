// SPDX-License-Identifier: GPL-3.0-or-later
// An instrument that speaks SCPI (IEEE 488.2 common commands, SCPI-99), one question at a time.
//
// Says who it is when it is reached (*IDN?), keeps questions in order, and gives a connection up whose
// answers do not come: an answer that is late must never be taken for that of the next question.
#pragma once

#include <QObject>
#include <QTimer>
#include <deque>
#include <functional>
#include <optional>

#include "core/electrics/scpi_number.h"
#include "instruments/wire.h"

namespace eh {

// What the answer's bytes say, as core/electrics/scpi_number.h reads them.
inline std::optional<double> scpi_number(const QByteArray& text) {
    return parse_scpi_number(std::string_view(text.constData(), static_cast<std::size_t>(text.size())));
}

class ScpiLine : public QObject {
    Q_OBJECT
  public:
    using Take = std::function<void(const QByteArray& answer)>;
    static constexpr int patience_ms = 2000;  // for one answer

    explicit ScpiLine(QObject* parent = nullptr);

    void open(const QString& address);
    void close();

    [[nodiscard]] bool isOpen() const { return wire_.state() == Wire::State::open; }
    // Whether it is reached and has said who it is.
    [[nodiscard]] bool ready() const { return isOpen() && !identity_.isEmpty(); }
    [[nodiscard]] Wire::State state() const { return wire_.state(); }
    [[nodiscard]] QString address() const { return wire_.address(); }
    [[nodiscard]] QString identity() const { return identity_; }  // what *IDN? gave
    // A sentence that says why it does not answer, or what it refused last; empty when all is well.
    [[nodiscard]] QString problem() const;
    // Whether it is one of the stand-ins that ship with the program: those are told where the probes are.
    [[nodiscard]] bool simulated() const;

    // Asks a question; `take` gets the answer. Dropped with the connection.
    void ask(const QByteArray& question, Take take);
    // Gives an order, and asks the error queue whether it was understood; a refusal goes to refused().
    void tell(const QByteArray& order);
    // As tell(), before everything that waits, and out on the wire before this returns if it can be.
    void tellNow(const QByteArray& order);
    // Questions that wait for their turn or answer.
    [[nodiscard]] std::size_t waiting() const { return questions_.size(); }

  signals:
    void identified();
    void lost();
    void changed();                         // state, identity or problem
    void refused(const QString& sentence);  // from the instrument's error queue

  private:
    struct Question {
        QByteArray line;
        Take take;
    };

    void greet();
    void askNext();
    void readLines(const QByteArrayList& lines);
    void giveUp();

    Wire wire_;
    QTimer patience_;
    std::deque<Question> questions_;
    bool reading_ = false;  // lines that have arrived are being handed out
    bool asked_ = false;    // the first of them
    QString identity_;
    QString refusal_;
};

}  // namespace eh
