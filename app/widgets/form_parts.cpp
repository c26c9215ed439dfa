// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/form_parts.h"

#include <qcustomplot.h>

#include <QCoreApplication>
#include <QScrollBar>
#include <algorithm>

#include "app/style/theme.h"

namespace eh::form {

QLabel* title(const QString& text, QWidget* parent) {
    auto* label = new QLabel(text, parent);
    label->setFont(theme::text_font(1.0, true));
    return label;
}

QLabel* wrapped(QWidget* parent, const QString& name) {
    auto* label = new QLabel(parent);
    label->setWordWrap(true);
    label->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    label->setAccessibleName(name);
    return label;
}

QLabel* softly(const QString& text, QWidget* parent) {
    auto* label = wrapped(parent, {});
    label->setText(text);
    label->setProperty("role", "soft");
    return label;
}

QDoubleSpinBox* spin(double least, double most, double value, const QString& unit, const QString& name,
                     QWidget* parent, int decimals) {
    auto* box = new QDoubleSpinBox(parent);
    box->setDecimals(decimals);
    box->setRange(least, most);
    box->setValue(value);
    box->setSuffix(unit);
    box->setAccessibleName(name);
    return box;
}

QComboBox* gauges(const QString& name, double chosen, QWidget* parent) {
    QComboBox* box = choice(name, parent);
    for (const int gauge : {18, 20, 22, 24, 26, 28, 30})
        box->addItem(QCoreApplication::translate("eh::form", "AWG %1").arg(gauge), gauge);
    box->setCurrentIndex(box->findData(static_cast<int>(chosen)));
    return box;
}

QComboBox* choice(const QString& name, QWidget* parent) {
    auto* box = new QComboBox(parent);
    box->setAccessibleName(name);
    // Long titles must not widen the page.
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(10);
    return box;
}

namespace {

// A QScrollArea asks for little by itself; this one asks for what its panel would have, and makes do with the
// width of it and a few lines.
class ScrolledPanel : public QScrollArea {
  public:
    explicit ScrolledPanel(QWidget* panel) : QScrollArea(panel->parentWidget()) {
        if (panel->minimumWidth() == panel->maximumWidth()) {
            setFixedWidth(panel->minimumWidth());
            panel->setMinimumWidth(0);
            panel->setMaximumWidth(QWIDGETSIZE_MAX);
        }
        setWidget(panel);
        setWidgetResizable(true);
        setFrameShape(QFrame::NoFrame);
        setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        viewport()->setAutoFillBackground(false);
        panel->setAutoFillBackground(false);
    }
    [[nodiscard]] QSize sizeHint() const override { return widget()->sizeHint(); }
    [[nodiscard]] QSize minimumSizeHint() const override {
        constexpr int few_lines = 120;
        return {widget()->minimumSizeHint().width() + verticalScrollBar()->sizeHint().width(),
                std::min(few_lines, widget()->minimumSizeHint().height())};
    }
};

}  // namespace

namespace {
constexpr int share_steps = 1000;
}

QProgressBar* share_bar(const QString& name, QWidget* parent) {
    constexpr int thin_pixels = 5;
    auto* bar = new QProgressBar(parent);
    bar->setRange(0, share_steps);
    bar->setTextVisible(false);
    bar->setFixedHeight(thin_pixels);
    bar->setAccessibleName(name);
    auto keep = bar->sizePolicy();
    keep.setRetainSizeWhenHidden(true);
    bar->setSizePolicy(keep);
    bar->hide();
    return bar;
}

void show_share(QProgressBar& bar, double share) {
    bar.setValue(static_cast<int>(share * share_steps));
}

QScrollArea* scrolled(QWidget* panel) {
    return new ScrolledPanel(panel);
}

QString paragraph(Weight weight, const QString& says) {
    const auto& c = theme::colours();
    const QString word = weight == Weight::problem ? QCoreApplication::translate("eh::form", "Problem")
                         : weight == Weight::note  ? QCoreApplication::translate("eh::form", "Note")
                                                   : QCoreApplication::translate("eh::form", "Fine");
    const QColor ink = weight == Weight::problem ? c.bad : weight == Weight::note ? c.suspicion : c.good;
    return QStringLiteral("<p style='margin:3px 0'><b style='color:%1'>%2.</b> %3</p>")
        .arg(ink.name(), word, says.toHtmlEscaped());
}

QString paragraphs(const QStringList& sentences) {
    QString text;
    for (const QString& sentence : sentences)
        text += QStringLiteral("<p style='margin:3px 0'>%1</p>").arg(sentence.toHtmlEscaped());
    return text;
}

void show_html(QLabel* label, const QString& html) {
    label->setTextFormat(Qt::RichText);
    label->setText(html);
}

void show_plain(QLabel* label, const QString& text) {
    label->setTextFormat(Qt::PlainText);
    label->setText(text);
}

void dress(QCustomPlot& plot, const QString& x, const QString& y) {
    const auto& c = theme::colours();
    plot.setBackground(c.surface);
    plot.xAxis->setLabel(x);
    plot.yAxis->setLabel(y);
    for (QCPAxis* axis : {plot.xAxis, plot.yAxis}) {
        axis->setLabelFont(theme::text_font(0.85));
        axis->setTickLabelFont(theme::number_font(0.8));
        axis->setLabelColor(c.soft_ink);
        axis->setTickLabelColor(c.ink);
        axis->setBasePen(QPen(c.soft_ink, 1));
        axis->grid()->setPen(QPen(c.paper, 1));
    }
}

}  // namespace eh::form
