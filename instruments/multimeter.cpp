// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/multimeter.h"

#include <cmath>

namespace eh {
namespace {

constexpr int meter_pace_ms = 250;

const char* question_of(MultimeterFunction function) {
    switch (function) {
        case MultimeterFunction::ohms:
            return "MEAS:RES?";
        case MultimeterFunction::amps:
            return "MEAS:CURR?";
        case MultimeterFunction::volts:
            break;
    }
    return "MEAS:VOLT:DC?";
}

}  // namespace

Multimeter::Multimeter(QObject* parent) : QObject(parent) {
    pace_.setInterval(meter_pace_ms);
    connect(&pace_, &QTimer::timeout, this, &Multimeter::measure);
    connect(&line_, &ScpiLine::lost, this, [this] {
        value_.reset();
        emit changed();
    });
    connect(&line_, &ScpiLine::changed, this, &Multimeter::changed);
}

void Multimeter::watch(MultimeterFunction function) {
    function_ = function;
    value_.reset();
    ++round_;
    pace_.start();
    emit changed();
}

void Multimeter::rest() {
    pace_.stop();
}

void Multimeter::putProbe(const QByteArray& net) {
    value_.reset();
    ++round_;
    // No net is picked before a job is open.
    if (line_.simulated() && !net.isEmpty())
        line_.tell("SIM:PROBE " + net);
    emit changed();
}

void Multimeter::measure() {
    if (!line_.ready() || line_.waiting() > 0)
        return;
    line_.ask(question_of(function_), [this, round = round_](const QByteArray& answer) {
        if (round != round_)
            return;
        value_ = scpi_number(answer);
        if (value_)
            emit measured(*value_);
        emit changed();
    });
}

}  // namespace eh
