// SPDX-License-Identifier: GPL-3.0-or-later
// The bench supply that feeds a net through a limit.
//
// The output goes on only by switchOn(), never above the volts that the net carries in a sound machine, and
// off again when the connection drops and comes back, when somebody closes it, and when a battery is
// connected.
#pragma once

#include <QObject>
#include <QTimer>
#include <optional>

#include "core/base/result.h"
#include "instruments/scpi_line.h"

namespace eh {

// What feeding a net is bounded by.
struct SupplyBounds {
    QString net_name;         // for sentences
    double most_volts = 0.0;  // the net's own
    double most_amps = 0.0;   // that the shop allows
    bool battery_connected = true;
    bool charger_connected = true;
};

class BenchSupply : public QObject {
    Q_OBJECT
  public:
    enum class Output {
        off,
        switching,  // told to go on, not seen on yet
        on,
        unknown,  // nobody has seen it off since it was on: only the supply's own switch is sure
    };
    Q_ENUM(Output)

    explicit BenchSupply(QObject* parent = nullptr);
    ~BenchSupply() override;

    [[nodiscard]] ScpiLine& line() { return line_; }
    [[nodiscard]] const ScpiLine& line() const { return line_; }

    // Sets volts and limit, reads them back, and switches the output on. Refused with a sentence, and nothing
    // is sent, when the bounds forbid it or the supply does not answer.
    Outcome switchOn(double volts, double limit_amps, const SupplyBounds& bounds);
    // Off at once; why is for the page.
    void switchOff(const QString& why);
    // Switches off and lets the connection go.
    void close();
    // Tells a simulated one which net its clip is on.
    void putClip(const QByteArray& net);

    [[nodiscard]] Output output() const { return output_; }
    [[nodiscard]] QString why_off() const { return why_off_; }
    [[nodiscard]] double set_volts() const { return set_volts_; }
    [[nodiscard]] double set_amps() const { return set_amps_; }
    // As measured by the supply while it is on.
    [[nodiscard]] std::optional<double> volts() const { return volts_; }
    [[nodiscard]] std::optional<double> amps() const { return amps_; }
    // An earlier run of the program ended while the output was on: unknown until the supply says that it is
    // off.
    void assumeLeftOn();
    // Whether it is at its limit: the volts stay below what is set, while it gives about the amps of its
    // limit.
    [[nodiscard]] bool limits() const;

  signals:
    void changed();
    void said(const QString& sentence);

  private:
    void goOn(bool as_set);
    void seenOn();
    void measure();
    void tripped();
    void unsupervised();
    // Asks whether the output is off, as it was told; until it says no, it counts as off.
    void confirmOff();
    void forget();

    ScpiLine line_;
    QTimer pace_;
    Output output_ = Output::off;
    QString why_off_;
    SupplyBounds bounds_;
    double set_volts_ = 0.0;
    double set_amps_ = 0.0;
    std::optional<double> volts_;
    std::optional<double> amps_;
    int attempt_ = 0;  // answers of an earlier switching on are let go
};

}  // namespace eh
