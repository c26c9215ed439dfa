// SPDX-License-Identifier: GPL-3.0-or-later
// Small pieces that forms and answers on the pages are made of.
#pragma once

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QProgressBar>
#include <QScrollArea>
#include <QString>

class QCustomPlot;

namespace eh::form {

// A bold line over a group.
QLabel* title(const QString& text, QWidget* parent);
// A text that wraps, with a name for those who cannot see where it stands.
QLabel* wrapped(QWidget* parent, const QString& name);
QLabel* softly(const QString& text, QWidget* parent);
// A number field with its unit and name.
QDoubleSpinBox* spin(double least, double most, double value, const QString& unit, const QString& name,
                     QWidget* parent, int decimals = 2);
// A choice of wire gauges (AWG as data).
QComboBox* gauges(const QString& name, double chosen, QWidget* parent);
QComboBox* choice(const QString& name, QWidget* parent);

// A thin bar without figures for work in the background. It is hidden until it is asked to show, and keeps
// its place meanwhile.
QProgressBar* share_bar(const QString& name, QWidget* parent);
// How much is done, 0..1.
void show_share(QProgressBar& bar, double share);

// A panel that scrolls up and down where the window is low, as wide as the panel would be. A panel of a fixed
// width hands that width to what scrolls it.
QScrollArea* scrolled(QWidget* panel);

// How grave a sentence is: word and colour.
enum class Weight { fine, note, problem };
// A paragraph as rich text: the word of the weight, then the sentence.
QString paragraph(Weight weight, const QString& says);
QString paragraphs(const QStringList& sentences);

// The only two ways a label changes between HTML of our own making and text as it stands. In the HTML
// everything that comes from outside is escaped (QString::toHtmlEscaped).
void show_html(QLabel* label, const QString& html);
void show_plain(QLabel* label, const QString& text);

// Paper, fonts and grid of the house on a plot.
void dress(QCustomPlot& plot, const QString& x, const QString& y);

}  // namespace eh::form
