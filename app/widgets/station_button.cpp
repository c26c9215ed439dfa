#include "app/widgets/station_button.h"

#include <QPainter>

#include "app/style/theme.h"

namespace eh {

StationButton::StationButton(const QString& name, const QString& key, QWidget* parent)
    : QAbstractButton(parent), key_(key) {
    setText(name);
    setCheckable(true);
    setFocusPolicy(Qt::NoFocus);
    setFixedSize(width_pixels, height_pixels);
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
    painter.drawText(rect().adjusted(14, 7, -4, -23), Qt::AlignLeft | Qt::AlignVCenter, text());
    painter.setFont(theme::number_font(0.8));
    painter.drawText(rect().adjusted(14, 28, -4, -5), Qt::AlignLeft | Qt::AlignVCenter, key_);
}

}  // namespace eh
