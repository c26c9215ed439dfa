// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/station_button.h"

#include <QPainter>

#include "app/style/theme.h"

namespace eh {

StationButton::StationButton(const QString& name, const QString& key, QWidget* parent)
    : QAbstractButton(parent), key_(key) {
    setText(name);
    setCheckable(true);
    setFocusPolicy(Qt::NoFocus);
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Preferred);
    setMaximumHeight(height_pixels);
    setAccessibleName(tr("%1, key %2").arg(name, key));
}

void StationButton::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (isChecked()) {
        painter.fillRect(rect(), c.paper);
        painter.fillRect(QRect(0, 0, 5, height()), c.accent);
    }
    painter.setPen(isChecked() ? c.ink : c.band_ink);
    painter.setFont(theme::text_font(1.0, isChecked()));
    // Name above, key below, as close as the height asks for.
    const int margin = 3 + (height() - least_height_pixels) / 3;
    painter.drawText(rect().adjusted(14, margin, -4, -margin), Qt::AlignLeft | Qt::AlignTop, text());
    painter.setFont(theme::number_font(0.8));
    painter.drawText(rect().adjusted(14, margin, -4, -margin - 1), Qt::AlignLeft | Qt::AlignBottom, key_);
}

}  // namespace eh
