// SPDX-License-Identifier: GPL-3.0-or-later
// Colours, fonts and the style sheet: the only place that knows them.
#pragma once

#include <QColor>
#include <QFont>

class QApplication;

namespace eh::theme {

// Semantic colours. Each ink is readable on each ground that it is used on (WCAG AA; a test measures it).
struct Colours {
    QColor paper{"#f4f1ea"};       // window
    QColor surface{"#ffffff"};     // panels and fields
    QColor ink{"#1c2226"};         // text
    QColor soft_ink{"#4c565c"};    // secondary text
    QColor rule{"#cfc8bb"};        // lines between things
    QColor band{"#1f2e33"};        // the rail of stations
    QColor band_ink{"#f2efe8"};    // text on it
    QColor accent{"#0f5f6b"};      // the one accent
    QColor accent_ink{"#ffffff"};  // text on it
    QColor accent_wash{"#d9e9eb"};
    QColor suspicion{"#a8480c"};  // how much a part is suspected
    QColor suspicion_wash{"#f6e2cf"};
    QColor good{"#1d6a3a"};
    QColor good_wash{"#dcefe1"};
    QColor bad{"#9c241c"};
    QColor warning_wash{"#fdeeb8"};
    QColor volts{"#0f5f6b"};  // curves of the roll
    QColor amps{"#8a3f0a"};
};

const Colours& colours();

// Loads the shipped fonts and applies palette, font and style sheet.
void apply(QApplication& application);

// Text font, `scale` relative to the base size.
QFont text_font(double scale = 1.0, bool bold = false);
// Tabular figures for numbers.
QFont number_font(double scale = 1.0, bool bold = false);

// Contrast ratio of two colours (WCAG 2.1), 1 to 21.
double contrast(const QColor& a, const QColor& b);

}  // namespace eh::theme
