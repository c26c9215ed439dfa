// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/bench_supply.h"

#include <algorithm>
#include <cmath>
#include <memory>

namespace eh {
namespace {

constexpr int supply_pace_ms = 250;
constexpr double set_tolerance = 0.02;  // of what is set, read back
constexpr double over_volts_tolerance =
    0.1;                                // volts above the net's own that a supply's meter may be wrong by
constexpr double limits_below = 0.97;   // of the set volts
constexpr double limits_from = 0.8;     // of the set amps, as its own meter shows them
constexpr double gives_nothing = 0.03;  // of what is set

QByteArray number(double value) {
    return QByteArray::number(value, 'f', 3);
}

bool near(double value, double wanted) {
    return std::abs(value - wanted) <= set_tolerance * wanted + 0.002;
}

bool is_on(const QByteArray& answer) {
    return answer.trimmed() == "1" || answer.trimmed().toUpper() == "ON";
}

bool is_off(const QByteArray& answer) {
    return answer.trimmed() == "0" || answer.trimmed().toUpper() == "OFF";
}

std::optional<double> finite(const std::optional<double>& number) {
    return number && std::isfinite(*number) ? number : std::nullopt;
}

}  // namespace

BenchSupply::BenchSupply(QObject* parent) : QObject(parent) {
    pace_.setInterval(supply_pace_ms);
    connect(&pace_, &QTimer::timeout, this, &BenchSupply::measure);
    connect(&line_, &ScpiLine::identified, this, [this] {
        // However it was left: a supply that is reached starts off.
        line_.tellNow("OUTP OFF");
        if (output_ == Output::unknown)
            why_off_ = tr("The connection is back, and the output was switched off.");
        output_ = Output::off;
        forget();
        confirmOff();
        emit changed();
    });
    connect(&line_, &ScpiLine::lost, this, [this] {
        if (output_ != Output::off && output_ != Output::unknown) {
            output_ = Output::unknown;
            emit said(
                tr("The supply's connection dropped while its output was on: switch it off at the supply "
                   "itself."));
        }
        forget();
        emit changed();
    });
    connect(&line_, &ScpiLine::refused, this, [this](const QString& sentence) {
        if (output_ != Output::off)
            switchOff(sentence);
        emit said(sentence);
    });
    connect(&line_, &ScpiLine::changed, this, &BenchSupply::changed);
}

BenchSupply::~BenchSupply() {
    line_.disconnect(this);
    if (output_ != Output::off)
        line_.tellNow("OUTP OFF");
}

void BenchSupply::forget() {
    pace_.stop();
    volts_.reset();
    amps_.reset();
    ++attempt_;
}

Outcome BenchSupply::switchOn(double volts, double limit_amps, const SupplyBounds& bounds) {
    const std::string place = "bench supply";
    const auto say = [](const QString& sentence) { return sentence.toStdString(); };
    if (!line_.ready())
        return Error{ErrorKind::unavailable, say(tr("the supply does not answer; connect it first")), place};
    if (bounds.battery_connected)
        return refused(
            say(tr("the strip says that the battery is connected; disconnect it before feeding a net")),
            place);
    if (bounds.charger_connected)
        return refused(say(tr("the strip says that the charger is in; pull it before feeding a net")), place);
    if (!(volts > 0.0) || volts > bounds.most_volts)
        return refused(say(tr("%1 carries %2 V in a sound machine; set more than 0 V and no more than that")
                               .arg(bounds.net_name)
                               .arg(bounds.most_volts)),
                       place);
    if (!(limit_amps > 0.0) || limit_amps > bounds.most_amps)
        return refused(say(tr("set a limit above 0 A and no more than %1 A").arg(bounds.most_amps)), place);
    forget();
    bounds_ = bounds;
    set_volts_ = volts;
    set_amps_ = limit_amps;
    output_ = Output::switching;
    why_off_.clear();
    line_.tellNow("OUTP OFF");
    line_.tell("VOLT " + number(volts));
    line_.tell("CURR " + number(limit_amps));
    // On only when the supply itself says that it stands as it was told.
    const auto as_set = std::make_shared<bool>(true);
    const int attempt = attempt_;
    line_.ask("VOLT?", [this, as_set, attempt](const QByteArray& answer) {
        if (attempt == attempt_)
            *as_set = near(scpi_number(answer).value_or(-1.0), set_volts_);
    });
    line_.ask("CURR?", [this, as_set, attempt](const QByteArray& answer) {
        if (attempt == attempt_)
            goOn(*as_set && near(scpi_number(answer).value_or(-1.0), set_amps_));
    });
    emit changed();
    return Done{};
}

void BenchSupply::goOn(bool as_set) {
    if (output_ != Output::switching)
        return;
    if (!as_set) {
        switchOff(tr("The supply does not take %1 V and %2 A: it stands at something else.")
                      .arg(set_volts_)
                      .arg(set_amps_));
        emit said(why_off_);
        return;
    }
    line_.tell("OUTP ON");
    const int attempt = attempt_;
    line_.ask("OUTP?", [this, attempt](const QByteArray& answer) {
        if (attempt != attempt_ || output_ != Output::switching)
            return;
        if (is_on(answer)) {
            seenOn();
            return;
        }
        switchOff(tr("The supply did not go on."));
        emit said(why_off_);
    });
}

void BenchSupply::seenOn() {
    output_ = Output::on;
    pace_.start();
    emit changed();
}

void BenchSupply::assumeLeftOn() {
    if (output_ != Output::off)
        return;
    output_ = Output::unknown;
    why_off_ = tr("When the program ended last, the output was on: look at the supply itself.");
    emit changed();
}

void BenchSupply::confirmOff() {
    const int attempt = attempt_;
    line_.ask("OUTP?", [this, attempt](const QByteArray& answer) {
        if (attempt != attempt_ || (output_ != Output::off && output_ != Output::unknown))
            return;
        if (is_off(answer)) {
            const bool news = output_ == Output::unknown;
            output_ = Output::off;
            if (news)
                emit changed();
            return;
        }
        output_ = Output::unknown;
        why_off_ =
            tr("The supply was told to switch off and does not say that it did: switch it off at the "
               "supply itself.");
        emit said(why_off_);
        emit changed();
    });
}

void BenchSupply::unsupervised() {
    switchOff(tr("Switched off: the supply does not say what it gives, so nobody could watch over it."));
    emit said(why_off_);
}

void BenchSupply::tripped() {
    switchOff(tr("The supply has switched its output off by itself: its protection tripped."));
    emit said(why_off_);
}

void BenchSupply::switchOff(const QString& why) {
    if (output_ == Output::off)
        return;
    line_.tellNow("OUTP OFF");
    // An order that waits behind others must not switch it on again.
    output_ = line_.isOpen() && output_ != Output::unknown ? Output::off : Output::unknown;
    why_off_ = why;
    forget();
    if (line_.isOpen()) {
        line_.tell("OUTP OFF");
        confirmOff();
    }
    emit changed();
}

void BenchSupply::close() {
    switchOff(tr("The connection was closed."));
    line_.close();
    emit changed();
}

void BenchSupply::putClip(const QByteArray& net) {
    if (output_ != Output::off)
        switchOff(tr("The clip goes to another net."));
    if (line_.simulated())
        line_.tell("SIM:CLIP " + net);
}

bool BenchSupply::limits() const {
    return output_ == Output::on && volts_ && amps_ &&
           *volts_<limits_below * set_volts_&& * amps_> limits_from * set_amps_;
}

void BenchSupply::measure() {
    if (output_ != Output::on || line_.waiting() > 0)
        return;
    const int attempt = attempt_;
    line_.ask("OUTP?", [this, attempt](const QByteArray& answer) {
        if (attempt == attempt_ && is_off(answer))
            tripped();
    });
    line_.ask("MEAS:VOLT:DC?", [this, attempt](const QByteArray& answer) {
        if (attempt != attempt_)
            return;
        volts_ = finite(scpi_number(answer));
        if (!volts_) {
            unsupervised();
            return;
        }
        if (volts_ && *volts_ > bounds_.most_volts + over_volts_tolerance) {
            switchOff(tr("Switched off: %1 V stand where %2 carries %3 V.")
                          .arg(*volts_)
                          .arg(bounds_.net_name)
                          .arg(bounds_.most_volts));
            emit said(why_off_);
        }
    });
    line_.ask("MEAS:CURR?", [this, attempt](const QByteArray& answer) {
        if (attempt != attempt_)
            return;
        amps_ = finite(scpi_number(answer));
        if (!amps_)
            unsupervised();
        else if (volts_ && *volts_ < gives_nothing * set_volts_ && *amps_ < gives_nothing * set_amps_)
            tripped();  // a short would draw the limit, an open net would stand at the set volts
        else
            emit changed();
    });
}

}  // namespace eh
