// SPDX-License-Identifier: GPL-3.0-or-later
// The bench multimeter: one value at a time, or again and again while somebody looks.
#pragma once

#include <QObject>
#include <QTimer>
#include <optional>

#include "instruments/scpi_line.h"

namespace eh {

enum class MultimeterFunction { volts, ohms, amps };

class Multimeter : public QObject {
    Q_OBJECT
  public:
    explicit Multimeter(QObject* parent = nullptr);

    [[nodiscard]] ScpiLine& line() { return line_; }
    [[nodiscard]] const ScpiLine& line() const { return line_; }

    // Measures again and again from now on; the last value is forgotten.
    void watch(MultimeterFunction function);
    void rest();
    [[nodiscard]] MultimeterFunction function() const { return function_; }
    // The last value of that function while it is fresh: infinity for over the range (OL).
    [[nodiscard]] std::optional<double> value() const { return value_; }
    // Tells a simulated one which net the red probe is on; the last value is forgotten.
    void putProbe(const QByteArray& net);

  signals:
    void measured(double value);
    void changed();

  private:
    void measure();

    ScpiLine line_;
    QTimer pace_;
    MultimeterFunction function_ = MultimeterFunction::volts;
    std::optional<double> value_;
    int round_ = 0;  // answers to questions of an earlier round are let go
};

}  // namespace eh
