// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/style/theme.h"

#include "app/style/plain_text_rule.h"

#include <QApplication>
#include <QFontDatabase>
#include <QPalette>
#include <algorithm>
#include <cmath>

// Resources of a static library are left out by the linker unless someone asks for them, outside any
// namespace.
static void use_resources() {
    Q_INIT_RESOURCE(resources);
}

namespace eh::theme {
namespace {

constexpr double base_points = 10.5;

double luminance(const QColor& colour) {
    const auto linear = [](double c) {
        return c <= 0.03928 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4);
    };
    return 0.2126 * linear(colour.redF()) + 0.7152 * linear(colour.greenF()) +
           0.0722 * linear(colour.blueF());
}

QString sheet() {
    const Colours& c = colours();
    return QStringLiteral(
               "QLineEdit, QPlainTextEdit, QListView, QTreeView, "
               "QTableView, "
               "QTextBrowser { background: %1; border: 1px solid %2; border-radius: 3px; padding: 4px; "
               "selection-background-color: %3; selection-color: %4; }"
               "QLineEdit:focus, QPlainTextEdit:focus, "
               ""
               "QListView:focus, QTreeView:focus, QTableView:focus { border: 2px solid %3; padding: 3px; }"
               "QPushButton { background: %1; border: 1px solid %2; border-radius: 3px; padding: 7px 14px; }"
               "QPushButton:hover { border-color: %3; }"
               "QPushButton:focus { border: 2px solid %3; padding: 6px 13px; }"
               "QPushButton:default { background: %3; color: %4; border-color: %3; }"
               "QPushButton:checked { border: 2px solid %3; padding: 6px 13px; font-weight: bold; }"
               "QPushButton:disabled { color: %5; background: transparent; }"
               "QLabel[role=\"heading\"] { font-size: 15pt; font-weight: bold; }"
               "QLabel[role=\"soft\"] { color: %5; }"
               "QLabel[role=\"caution\"] { background: %6; border-left: 4px solid %7; padding: 8px; }"
               "QLabel[role=\"standing\"] { background: %6; border-left: 4px solid %7; padding: 0px 8px; }"
               "QHeaderView::section { background: transparent; color: %5; border: none; border-bottom: 1px "
               "solid "
               "%2; padding: 4px 6px; }"
               "QTableView::item { padding: 3px 8px; }"
               "QStatusBar { color: %5; }"
               "QToolTip { background: %8; color: %4; border: none; padding: 4px; }")
        .arg(c.surface.name(), c.rule.name(), c.accent.name(), c.accent_ink.name(), c.soft_ink.name(),
             c.warning_wash.name(), c.suspicion.name(), c.band.name());
}

}  // namespace

const Colours& colours() {
    static const Colours light;
    return light;
}

void apply(QApplication& application) {
    use_resources();
    static PlainTextRule rule;  // as long as any label
    application.installEventFilter(&rule);
    for (const char* file : {"B612-Regular", "B612-Bold"})
        QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/%1.otf").arg(QLatin1String(file)));
    application.setStyle("Fusion");
    application.setFont(text_font());
    const Colours& c = colours();
    QPalette palette;
    palette.setColor(QPalette::Window, c.paper);
    palette.setColor(QPalette::WindowText, c.ink);
    palette.setColor(QPalette::Base, c.surface);
    palette.setColor(QPalette::AlternateBase, c.paper);
    palette.setColor(QPalette::Text, c.ink);
    palette.setColor(QPalette::PlaceholderText, c.soft_ink);
    palette.setColor(QPalette::Button, c.surface);
    palette.setColor(QPalette::ButtonText, c.ink);
    palette.setColor(QPalette::Highlight, c.accent);
    palette.setColor(QPalette::HighlightedText, c.accent_ink);
    palette.setColor(QPalette::Link, c.accent);
    application.setPalette(palette);
    application.setStyleSheet(sheet());
}

QFont text_font(double scale, bool bold) {
    QFont font("B612");
    font.setPointSizeF(base_points * scale);
    font.setBold(bold);
    return font;
}

QFont number_font(double scale, bool bold) {
    // The digits of this family are all of one width.
    return text_font(scale, bold);
}

double contrast(const QColor& a, const QColor& b) {
    const double la = luminance(a);
    const double lb = luminance(b);
    return (std::max(la, lb) + 0.05) / (std::min(la, lb) + 0.05);
}

}  // namespace eh::theme
