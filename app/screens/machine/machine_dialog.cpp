// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/machine/machine_dialog.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "core/electrics/engineering.h"
#include "core/readings/accuracy.h"

namespace eh {
namespace {

constexpr int net_role = Qt::UserRole;

QTableWidget* table_of(const QStringList& headings, const QString& name, QWidget* parent) {
    auto* table = new QTableWidget(0, static_cast<int>(headings.size()), parent);
    table->setHorizontalHeaderLabels(headings);
    table->setAccessibleName(name);
    table->verticalHeader()->hide();
    table->setShowGrid(false);
    table->setAlternatingRowColors(true);
    table->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    table->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    return table;
}

QTableWidgetItem* fixed(const QString& text, bool number = false) {
    auto* item = new QTableWidgetItem(text);
    item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
    if (number)
        item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    return item;
}

// A row of several widgets, whose label leads to the first.
void add_row(QFormLayout& form, const QString& label, QWidget* first, QLayout* row) {
    auto* text = new QLabel(label, first->parentWidget());
    text->setBuddy(first);
    form.addRow(text, row);
}

QString quantity(double value, Unit unit) {
    return format::qt(format_quantity(value, unit));
}

}  // namespace

MachineDialog::MachineDialog(MachineLibrary& library, QWidget* parent) : QDialog(parent), library_(library) {
    setWindowTitle(tr("Describe a kind of machine"));
    resize(1000, 680);
    auto* columns = new QHBoxLayout;
    columns->setSpacing(24);
    columns->addWidget(makeFields(), 5);
    columns->addWidget(makePreview(), 4);
    problem_ = new QLabel(this);
    problem_->setWordWrap(true);
    problem_->setMinimumHeight(36);
    auto* buttons = new QDialogButtonBox(this);
    save_ = buttons->addButton(tr("&Save this machine"), QDialogButtonBox::AcceptRole);
    buttons->addButton(QDialogButtonBox::Cancel);
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(16, 14, 16, 14);
    page->addLayout(columns, 1);
    page->addWidget(problem_);
    page->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &MachineDialog::keep);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);

    constexpr int pause_ms = 150;
    settle_.setSingleShot(true);
    settle_.setInterval(pause_ms);
    connect(&settle_, &QTimer::timeout, this, &MachineDialog::refresh);
    const auto changed = [this] {
        if (!filling_)
            settle_.start();
    };
    connect(name_, &QLineEdit::textChanged, this, changed);
    connect(watts_, &QSpinBox::valueChanged, this, changed);
    connect(volts_, &QDoubleSpinBox::valueChanged, this, changed);
    connect(cells_, &QSpinBox::valueChanged, this, changed);
    connect(chemistry_, &QComboBox::currentIndexChanged, this, changed);
    connect(ports_, &QTableWidget::itemChanged, this, changed);
    connect(ohms_, &QTableWidget::itemChanged, this, changed);
    connect(more_ports_, &QPushButton::clicked, this, &MachineDialog::addPort);
    connect(fewer_ports_, &QPushButton::clicked, this, &MachineDialog::removePort);
    connect(like_, &QComboBox::currentIndexChanged, this, [this] {
        if (const Topology* chosen = base(); chosen != nullptr && !filling_)
            fill(*chosen);
    });
}

QWidget* MachineDialog::makeFields() {
    auto* fields = new QWidget(this);
    auto* form = new QFormLayout(fields);
    form->setContentsMargins(0, 0, 0, 0);
    form->setVerticalSpacing(8);
    form->setLabelAlignment(Qt::AlignLeft);
    name_ = new QLineEdit(fields);
    name_->setPlaceholderText(tr("as it should stand in the list at intake"));
    form->addRow(tr("&Name"), name_);
    like_ = new QComboBox(fields);
    like_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    form->addRow(tr("Built &like"), like_);
    ports_ = table_of({tr("Port"), tr("Where")}, tr("Ports"), fields);
    ports_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    ports_->setFixedHeight(132);
    more_ports_ = new QPushButton(tr("&Add a port"), fields);
    fewer_ports_ = new QPushButton(tr("&Take one away"), fields);
    auto* number = new QHBoxLayout;
    number->addWidget(more_ports_);
    number->addWidget(fewer_ports_);
    number->addStretch(1);
    auto* ports = new QVBoxLayout;
    ports->addWidget(ports_);
    ports->addLayout(number);
    add_row(*form, tr("&Ports"), ports_, ports);
    watts_ = new QSpinBox(fields);
    watts_->setRange(10, 240);
    watts_->setSuffix(tr(" W"));
    volts_ = new QDoubleSpinBox(fields);
    volts_->setRange(12.0, 24.0);
    volts_->setDecimals(1);
    volts_->setSingleStep(0.5);
    volts_->setSuffix(tr(" V"));
    volts_->setAccessibleName(tr("Volts of the barrel adapter"));
    auto* charger = new QHBoxLayout;
    charger->addWidget(watts_);
    charger->addWidget(volts_);
    charger->addStretch(1);
    add_row(*form, tr("Cha&rger"), watts_, charger);
    cells_ = new QSpinBox(fields);
    cells_->setRange(1, 6);
    cells_->setSuffix(tr(" in series"));
    chemistry_ = new QComboBox(fields);
    for (const Chemistry& chemistry : library_.knowledge().chemistries)
        chemistry_->addItem(format::qt(chemistry.title), format::qt(chemistry.id));
    chemistry_->setAccessibleName(tr("What the cells are made of"));
    auto* battery = new QHBoxLayout;
    battery->addWidget(cells_);
    battery->addWidget(chemistry_);
    battery->addStretch(1);
    add_row(*form, tr("&Cells"), cells_, battery);
    ohms_ = table_of({tr("Net"), tr("Known ohms")}, tr("Known resistances to ground"), fields);
    ohms_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Fixed);
    ohms_->setColumnWidth(1, 120);
    auto* known = new QVBoxLayout;
    known->addWidget(ohms_, 1);
    auto* hint =
        new QLabel(tr("Measured on sound machines, off and without battery: 0R35, 4k7. Leave the rest "
                      "empty."),
                   fields);
    hint->setProperty("role", "soft");
    hint->setWordWrap(true);
    known->addWidget(hint);
    add_row(*form, tr("&Ohms"), ohms_, known);
    return fields;
}

QWidget* MachineDialog::makePreview() {
    auto* preview = new QWidget(this);
    auto* column = new QVBoxLayout(preview);
    column->setContentsMargins(0, 0, 0, 0);
    auto* title = new QLabel(tr("What a sound one shows"), preview);
    title->setProperty("role", "heading");
    column->addWidget(title);
    shown_ = table_of({tr("Reading"), tr("Value")}, tr("What a sound machine of this kind shows"), preview);
    shown_->horizontalHeaderItem(1)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    shown_->setSelectionBehavior(QAbstractItemView::SelectRows);
    column->addWidget(shown_, 1);
    auto* hint = new QLabel(
        tr("Worked out by the model from the fields beside it: compare with a machine that works."), preview);
    hint->setProperty("role", "soft");
    hint->setWordWrap(true);
    column->addWidget(hint);
    return preview;
}

const Topology* MachineDialog::base() const {
    return library_.knowledge().find_topology(like_->currentData().toString().toStdString());
}

void MachineDialog::listKinds(const std::string& chosen) {
    filling_ = true;
    like_->clear();
    for (const Topology& known : library_.knowledge().topologies)
        like_->addItem(format::qt(known.title), format::qt(known.id));
    like_->setCurrentIndex(std::max(0, like_->findData(format::qt(chosen))));
    like_->setEnabled(changed_.empty());
    filling_ = false;
}

void MachineDialog::startFrom(const std::string& topology) {
    changed_.clear();
    setWindowTitle(tr("Describe a kind of machine"));
    listKinds(topology);
    name_->clear();
    fill(*base());
    name_->setFocus();
}

void MachineDialog::change(const std::string& topology) {
    changed_ = topology;
    setWindowTitle(tr("Change a kind of machine"));
    const Topology& machine = *library_.knowledge().find_topology(topology);
    const MachineProfile profile = profile_of(machine, library_.knowledge());
    listKinds(profile.base);
    name_->setText(format::qt(profile.title));
    fill(machine);
    name_->setFocus();
}

void MachineDialog::fill(const Topology& base) {
    filling_ = true;
    const MachineProfile usual = profile_like(base, library_.knowledge());
    ports_->setRowCount(0);
    for (const ProfilePort& port : usual.ports) {
        const int row = ports_->rowCount();
        ports_->insertRow(row);
        ports_->setItem(row, 0, new QTableWidgetItem(format::qt(port.title)));
        ports_->setItem(row, 1, new QTableWidgetItem(format::qt(port.place)));
    }
    watts_->setValue(qRound(usual.adapter_watts));
    volts_->setValue(usual.adapter_volts);
    volts_->setVisible(std::any_of(base.ports.begin(), base.ports.end(),
                                   [](const Port& port) { return port.family.rfind("barrel", 0) == 0; }));
    cells_->setValue(usual.cells_in_series);
    chemistry_->setCurrentIndex(chemistry_->findData(format::qt(usual.chemistry)));
    ohms_->setRowCount(0);
    for (const Net& net : base.nets) {
        const int row = ohms_->rowCount();
        ohms_->insertRow(row);
        auto* title = fixed(format::qt(net.title));
        title->setData(net_role, format::qt(net.id));
        ohms_->setItem(row, 0, title);
        ohms_->setItem(
            row, 1, new QTableWidgetItem(net.known_ohms ? quantity(*net.known_ohms, Unit::ohms) : QString()));
    }
    filling_ = false;
    refresh();
}

void MachineDialog::addPort() {
    const int row = ports_->rowCount();
    ports_->insertRow(row);
    ports_->setItem(row, 1, new QTableWidgetItem);
    ports_->setItem(row, 0, new QTableWidgetItem(tr("Port %1").arg(row + 1)));
}

void MachineDialog::removePort() {
    const int row = ports_->currentRow() >= 0 ? ports_->currentRow() : ports_->rowCount() - 1;
    ports_->removeRow(row);
    settle_.start();
}

Result<MachineProfile> MachineDialog::profile() const {
    MachineProfile profile;
    profile.id = changed_;
    profile.title = name_->text().trimmed().toStdString();
    profile.base = like_->currentData().toString().toStdString();
    const auto text_at = [](const QTableWidget& table, int row, int column) {
        const QTableWidgetItem* item = table.item(row, column);
        return item == nullptr ? std::string() : item->text().trimmed().toStdString();
    };
    for (int row = 0; row < ports_->rowCount(); ++row)
        profile.ports.push_back({text_at(*ports_, row, 0), text_at(*ports_, row, 1)});
    profile.adapter_watts = watts_->value();
    profile.adapter_volts = volts_->value();
    profile.cells_in_series = cells_->value();
    profile.chemistry = chemistry_->currentData().toString().toStdString();
    for (int row = 0; row < ohms_->rowCount(); ++row) {
        const std::string typed = text_at(*ohms_, row, 1);
        if (typed.empty())
            continue;
        const auto ohms = parse_quantity_as(typed, Unit::ohms);
        if (!ohms || ohms->over_limit)
            return refused("these ohms cannot be read; write 0R35, 120 or 4k7", text_at(*ohms_, row, 0));
        profile.net_ohms[ohms_->item(row, 0)->data(net_role).toString().toStdString()] = ohms->value;
    }
    return profile;
}

QString MachineDialog::problem() const {
    return problem_->text();
}

void MachineDialog::refresh() {
    const Topology* chosen = base();
    if (chosen == nullptr)
        return;
    const bool may_vary = changed_.empty() && ports_may_vary(*chosen);
    more_ports_->setEnabled(may_vary && ports_->rowCount() < 6);
    fewer_ports_->setEnabled(may_vary && ports_->rowCount() > 1);
    auto described = profile();
    // Without a name it is shown all the same, and not saved.
    const bool named = described && !id_from_title(described->title).empty();
    Result<Topology> machine = refused("");
    if (described) {
        MachineProfile shown = *described;
        if (!named)
            shown.title = "unnamed";
        machine = library_.tried(shown);
    } else {
        machine = described.error();
    }
    save_->setEnabled(named && machine.ok());
    problem_->setStyleSheet(
        QStringLiteral("color: %1").arg((machine ? theme::colours().soft_ink : theme::colours().bad).name()));
    problem_->setText(!machine ? format::qt(machine.error().text())
                      : named  ? tr("A sound machine of this kind charges at every port.")
                               : tr("Give it a name to save it."));
    shown_->setRowCount(0);
    if (!machine)
        return;
    const auto add = [this](const QString& what, const QString& value) {
        const int row = shown_->rowCount();
        shown_->insertRow(row);
        shown_->setItem(row, 0, fixed(what));
        shown_->setItem(row, 1, fixed(value, true));
    };
    const SoundMachine sound = sound_machine(*machine, library_.knowledge());
    for (const SoundPort& port : sound.ports)
        add(tr("%1, at the plug").arg(format::qt(port.title)),
            quantity(port.volts, Unit::volts) + "  " + quantity(port.amps, Unit::amps));
    add(tr("Main rail"), quantity(sound.rail_volts, Unit::volts));
    for (const Net& net : machine->nets) {
        if (net.stage == "battery")
            add(tr("Full battery"), quantity(net.volts, Unit::volts));
    }
    for (std::size_t n = 0; n < machine->nets.size(); ++n)
        add(tr("%1 to ground").arg(format::qt(machine->nets[n].title)),
            sound.net_ohms[n] > AccuracyOptions{}.over_limit_ohms ? tr("OL")
                                                                  : quantity(sound.net_ohms[n], Unit::ohms));
}

void MachineDialog::keep() {
    const auto described = profile();
    const Outcome kept = !described         ? Outcome(described.error())
                         : changed_.empty() ? library_.add(*described)
                                            : library_.change(*described);
    if (kept) {
        accept();
        return;
    }
    problem_->setStyleSheet(QStringLiteral("color: %1").arg(theme::colours().bad.name()));
    problem_->setText(format::qt(kept.error().text()));
}

}  // namespace eh
