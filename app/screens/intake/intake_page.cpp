// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/intake/intake_page.h"

#include <QFormLayout>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QRegularExpressionValidator>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/form_parts.h"
#include "app/widgets/two_columns.h"
#include "core/entry/amount.h"

namespace eh {
namespace {

QString money_text(const std::optional<double>& amount) {
    return format::qt(format_amount(amount));
}

}  // namespace

IntakePage::IntakePage(JobSession& session, const Knowledge& knowledge, QWidget* parent)
    : QWidget(parent),
      session_(session),
      knowledge_(knowledge),
      titles_(new QStringListModel(this)),
      kinds_(new QListView(this)),
      usbc_ports_(form::choice(tr("USB-C ports"), this)),
      other_inlet_(form::choice(tr("Other inlet"), this)),
      not_seen_(new QCheckBox(this)),
      describe_(new QPushButton(tr("&Describe another…"), this)),
      number_(new QLineEdit(this)),
      customer_(new QLineEdit(this)),
      machine_(new QLineEdit(this)),
      claim_(new QPlainTextEdit(this)),
      brought_(new QLineEdit(this)),
      return_of_(new QLineEdit(this)),
      technician_(new QLineEdit(this)),
      price_limit_(new QLineEdit(this)),
      estimate_(new QLineEdit(this)),
      charger_label_(new QLineEdit(this)),
      money_problem_(new QLabel(this)),
      data_(new QCheckBox(tr("Ask before any work that may wipe data"), this)) {
    auto* title = new QLabel(tr("Intake"), this);
    title->setProperty("role", "heading");

    listKinds();
    kinds_->setModel(titles_);
    kinds_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    kinds_->setWordWrap(true);
    kinds_->setSpacing(3);
    kinds_->setMinimumHeight(52);  // on a low screen it scrolls before anything else is cut
    kinds_->setAccessibleName(tr("Kind of machine"));
    auto* kind_label = new QLabel(tr("How does it take power?  (choose one, or leave it open below)"), this);
    kind_label->setBuddy(kinds_);
    auto* to_bench = new QPushButton(tr("To the bench   Enter"), this);
    to_bench->setDefault(true);

    auto* left = new QVBoxLayout;
    left->addLayout(makeOutside());
    left->addWidget(kind_label);
    left->addWidget(kinds_, 1);
    left->addWidget(not_seen_);
    auto* under_kinds = new QHBoxLayout;
    under_kinds->addWidget(to_bench);
    under_kinds->addStretch(1);
    under_kinds->addWidget(describe_);
    describe_->hide();
    left->addLayout(under_kinds);
    auto* facts_title = new QLabel(tr("What is known or claimed changes what is likely"), this);
    facts_title->setProperty("role", "soft");
    left->addSpacing(10);
    left->addWidget(facts_title);
    left->addWidget(form::scrolled(makeFacts()));
    auto* caution = new QLabel(
        tr("A swollen or dented battery: do not charge it, do not press it flat; take it out first "
           "and store it outside, on stone or sand. Mains chargers are replaced, never opened."),
        this);
    caution->setWordWrap(true);
    caution->setProperty("role", "caution");
    auto* right = new QVBoxLayout;
    right->addWidget(form::scrolled(makeFields()), 1);
    right->addWidget(caution);
    auto* columns = new QHBoxLayout;
    columns->setSpacing(28);
    left->setSpacing(8);  // else they take that of the columns
    right->setSpacing(8);
    // The claims of both columns need the wider side.
    columns->addLayout(left, 7);
    columns->addLayout(right, 5);
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(16, 12, 16, 12);
    page->addWidget(title);
    page->addLayout(columns, 1);

    connect(to_bench, &QPushButton::clicked, this, &IntakePage::benchAsked);
    wire();
    refresh();
}

// What anybody sees without a screwdriver leaves fewer kinds in the list.
QLayout* IntakePage::makeOutside() {
    usbc_ports_->addItem(tr("any"), -1);
    for (int ports = 0; ports <= 4; ++ports)
        usbc_ports_->addItem(QString::number(ports), ports);
    other_inlet_->addItem(tr("any"), static_cast<int>(OtherInlet::any));
    other_inlet_->addItem(tr("none"), static_cast<int>(OtherInlet::none));
    other_inlet_->addItem(tr("round jack"), static_cast<int>(OtherInlet::round_jack));
    other_inlet_->addItem(tr("magnetic"), static_cast<int>(OtherInlet::magnetic));
    charger_label_->setAccessibleName(tr("Volts on the label of its charger"));
    charger_label_->setPlaceholderText(tr("V"));
    charger_label_->setMaximumWidth(52);
    for (QComboBox* choice : {usbc_ports_, other_inlet_})
        choice->setMinimumContentsLength(4);
    charger_label_->setValidator(new QRegularExpressionValidator(
        QRegularExpression(QStringLiteral("\\d{0,2}([.,]\\d?)?")), charger_label_));
    auto* outside = new QHBoxLayout;
    outside->setSpacing(6);
    const auto add = [&](const QString& text, QWidget* field) {
        auto* label = new QLabel(text, this);
        label->setBuddy(field);
        outside->addWidget(label);
        outside->addWidget(field);
    };
    add(tr("USB-C ports"), usbc_ports_);
    add(tr("&Other inlet"), other_inlet_);
    add(tr("Charger's label"), charger_label_);
    outside->addStretch(1);
    for (QComboBox* choice : {usbc_ports_, other_inlet_})
        connect(choice, &QComboBox::activated, this, &IntakePage::takeOutside);
    connect(charger_label_, &QLineEdit::textEdited, this, &IntakePage::takeOutside);
    setTabOrder(usbc_ports_, other_inlet_);
    setTabOrder(other_inlet_, charger_label_);
    setTabOrder(charger_label_, kinds_);
    connect(not_seen_, &QCheckBox::clicked, this, &IntakePage::leaveKindOpen);
    return outside;
}

SeenOutside IntakePage::seenOutside() const {
    SeenOutside seen;
    if (const int ports = usbc_ports_->currentData().toInt(); ports >= 0)
        seen.usbc_ports = ports;
    seen.other = static_cast<OtherInlet>(other_inlet_->currentData().toInt());
    if (const auto volts = parse_amount(charger_label_->text().toStdString(), "label"); volts)
        seen.charger_label_volts = *volts;
    return seen;
}

void IntakePage::showOutside() {
    SeenOutside seen;
    if (session_.hasJob() && !session_.job().ticket.kind_seen) {
        if (const Topology* topology = knowledge_.find_topology(session_.job().ticket.topology))
            seen = seen_of(knowledge_, *topology);
    }
    usbc_ports_->setCurrentIndex(usbc_ports_->findData(seen.usbc_ports.value_or(-1)));
    other_inlet_->setCurrentIndex(other_inlet_->findData(static_cast<int>(seen.other)));
    charger_label_->clear();
    listMachines();
}

void IntakePage::takeOutside() {
    listMachines();
    if (session_.hasJob() && !session_.job().ticket.kind_seen)
        leaveKindOpen(true);
}

void IntakePage::leaveKindOpen(bool open) {
    if (refreshing_ || !session_.hasJob())
        return;
    const Topology* likeliest = likeliest_of(knowledge_, listed_);
    const Topology* kind = open ? likeliest : knowledge_.find_topology(session_.job().ticket.topology);
    if (kind != nullptr)
        putKind(tr("Not known inside"), *kind, !open);
    refresh();
}

QWidget* IntakePage::makeFields() {
    auto* lines = new QFormLayout;
    lines->setLabelAlignment(Qt::AlignLeft);
    lines->setVerticalSpacing(8);
    lines->addRow(tr("Job &number"), number_);
    lines->addRow(tr("C&ustomer"), customer_);
    lines->addRow(tr("Mac&hine"), machine_);
    claim_->setTabChangesFocus(true);
    claim_->setFixedHeight(84);
    lines->addRow(tr("What the customer &says"), claim_);
    lines->addRow(tr("Brou&ght along"), brought_);
    return_of_->setPlaceholderText(tr("number of the earlier job"));
    lines->addRow(tr("Comes back f&rom"), return_of_);
    technician_->setPlaceholderText(tr("name; kept for the next one"));
    lines->addRow(tr("Worked on b&y"), technician_);
    auto* money = new QHBoxLayout;
    money->addWidget(price_limit_);
    auto* estimate_label = new QLabel(tr("Es&timate"), this);
    money->setSpacing(10);
    estimate_label->setBuddy(estimate_);
    money->addWidget(estimate_label);
    money->addWidget(estimate_);
    auto* limit_label = new QLabel(tr("Price &limit"), this);
    limit_label->setBuddy(price_limit_);
    lines->addRow(limit_label, money);
    money_problem_->setStyleSheet(QStringLiteral("color: %1").arg(theme::colours().bad.name()));
    lines->addRow(QString(), money_problem_);
    lines->addRow(data_);
    auto* fields = new QWidget(this);
    lines->setContentsMargins(0, 0, 0, 0);
    // A form hands spare height out between its lines; here they stay together.
    auto* above_spare = new QVBoxLayout(fields);
    above_spare->setContentsMargins(0, 0, 0, 0);
    above_spare->addLayout(lines);
    above_spare->addStretch(1);
    return fields;
}

QWidget* IntakePage::makeFacts() {
    auto* fact_boxes = new TwoColumns(this);
    for (const IntakeFact& fact : knowledge_.catalogue.facts) {
        auto* box = new FactBox(fact, this);
        facts_.append(box);
        fact_boxes->add(box);
        connect(box, &FactBox::placed, this, [this, id = fact.id](const QStringList& places) {
            session_.edit(tr("Where an intake fact holds"), [&](Job& job) {
                auto& known = job.ticket.fact_places[id];
                known.clear();
                for (const QString& place : places)
                    known.push_back(place.toStdString());
                if (known.empty())
                    job.ticket.fact_places.erase(id);
            });
        });
        connect(box, &FactBox::said, this, [this, id = fact.id](bool on) {
            if (refreshing_ || !session_.hasJob())
                return;
            session_.edit(tr("Intake fact"), [&](Job& job) {
                if (on)
                    answer_fact(job.ticket, id, FactAnswer::so);
                else
                    forget_fact(job.ticket, id);
            });
        });
    }
    return fact_boxes;
}

void IntakePage::wire() {
    connect(kinds_->selectionModel(), &QItemSelectionModel::currentChanged, this,
            [this](const QModelIndex& index) { chooseKind(index.row()); });
    connect(kinds_, &QListView::activated, this, &IntakePage::benchAsked);
    connect(describe_, &QPushButton::clicked, this, &IntakePage::machineAsked);
    connectText(number_, tr("Job number"), &Ticket::number);
    connectText(customer_, tr("Customer"), &Ticket::customer);
    connectText(machine_, tr("Machine"), &Ticket::machine);
    connectText(brought_, tr("Brought along"), &Ticket::brought);
    connectText(return_of_, tr("Comes back from"), &Ticket::return_of);
    connect(technician_, &QLineEdit::textEdited, this, [this](const QString& name) {
        if (!session_.hasJob())
            return;
        session_.edit(
            tr("Technician"), [&](Job& job) { job.technician = name.toStdString(); }, "technician");
        emit technicianNamed(name);
    });
    connectMoney(price_limit_, tr("Price limit"), &Ticket::price_limit);
    connectMoney(estimate_, tr("Estimate"), &Ticket::estimate);
    connect(claim_, &QPlainTextEdit::textChanged, this, [this] {
        if (!refreshing_ && session_.hasJob())
            session_.edit(
                tr("Claim"), [&](Job& job) { job.ticket.claim = claim_->toPlainText().toStdString(); },
                "claim");
    });
    connect(data_, &QCheckBox::toggled, this, [this](bool on) {
        if (!refreshing_ && session_.hasJob())
            session_.edit(tr("Data"), [&](Job& job) { job.ticket.ask_before_data_loss = on; });
    });
    connect(&session_, &JobSession::changed, this, &IntakePage::refresh);
    connect(&session_, &JobSession::closed, this, &IntakePage::refresh);
    connect(&session_, &JobSession::opened, this, &IntakePage::showOutside);
}

void IntakePage::connectText(QLineEdit* field, const QString& what, std::string Ticket::*member) {
    connect(field, &QLineEdit::textEdited, this, [this, what, member](const QString& text) {
        if (session_.hasJob())
            session_.edit(
                what, [&](Job& job) { job.ticket.*member = text.toStdString(); }, what);
    });
}

void IntakePage::connectMoney(QLineEdit* field, const QString& what, std::optional<double> Ticket::*member) {
    connect(field, &QLineEdit::textEdited, this, [this, what, member](const QString& text) {
        if (!session_.hasJob())
            return;
        const auto amount = parse_amount(text.toStdString(), what.toStdString());
        if (!amount) {
            money_problem_->setText(format::qt(amount.error().text()));
            return;
        }
        money_problem_->clear();
        session_.edit(
            what, [&](Job& job) { job.ticket.*member = *amount; }, what);
    });
}

void IntakePage::listKinds() {
    listed_ = kinds_seen_as(knowledge_, seenOutside());
    QStringList titles;
    for (const Topology* topology : listed_)
        titles << format::qt(topology->title);
    titles_->setStringList(titles);
}

void IntakePage::listMachines() {
    refreshing_ = true;
    listKinds();
    refreshing_ = false;
    refresh();
}

int IntakePage::rowOf(const std::string& kind) const {
    const auto found = std::find_if(listed_.begin(), listed_.end(),
                                    [&](const Topology* topology) { return topology->id == kind; });
    return found == listed_.end() ? -1 : static_cast<int>(found - listed_.begin());
}

void IntakePage::takeUpMachine(const QString& id) {
    usbc_ports_->setCurrentIndex(0);
    other_inlet_->setCurrentIndex(0);
    charger_label_->clear();
    listMachines();
    chooseKind(rowOf(id.toStdString()));
    refresh();
}

void IntakePage::startTicket() {
    kinds_->setFocus(Qt::OtherFocusReason);
    if (!kinds_->currentIndex().isValid())
        kinds_->setCurrentIndex(kinds_->model()->index(0, 0));
}

void IntakePage::chooseKind(int row) {
    if (refreshing_ || !session_.hasJob() || row < 0)
        return;
    const Topology& topology = *listed_[static_cast<std::size_t>(row)];
    if (session_.job().ticket.topology != topology.id)
        putKind(tr("Kind of machine"), topology, true);
}

void IntakePage::putKind(const QString& what, const Topology& topology, bool seen) {
    const Ticket& now = session_.job().ticket;
    if (now.topology == topology.id && now.kind_seen == seen)
        return;
    session_.edit(what, [&](Job& job) {
        job.ticket.topology = topology.id;
        job.ticket.kind_seen = seen;
        if (topology.find_port(job.bench.port) == nullptr)
            job.bench.port = topology.ports.front().id;
    });
}

void IntakePage::refresh() {
    refreshing_ = true;
    setEnabled(session_.hasJob());
    const Ticket ticket = session_.hasJob() ? session_.job().ticket : Ticket{};
    kinds_->setCurrentIndex(
        kinds_->model()->index(rowOf(ticket.topology), 0));  // no index where there is none
    not_seen_->setChecked(session_.hasJob() && !ticket.kind_seen);
    not_seen_->setEnabled(not_seen_->isChecked() || likeliest_of(knowledge_, listed_) != nullptr);
    not_seen_->setText(not_seen_->isEnabled()
                           ? tr("Not kno&wn inside: weigh all kinds that look like this")
                           : tr("Not kno&wn inside: say first, above, which inlets it has"));
    kinds_->setEnabled(!not_seen_->isChecked());
    const auto put = [](QLineEdit* field, const QString& text) {
        // What is being typed is not overwritten with how it would be written.
        if (field->text() != text && !(field->hasFocus() && field->isModified()))
            field->setText(text);
    };
    put(number_, format::qt(ticket.number));
    put(customer_, format::qt(ticket.customer));
    put(machine_, format::qt(ticket.machine));
    put(brought_, format::qt(ticket.brought));
    put(return_of_, format::qt(ticket.return_of));
    put(technician_, session_.hasJob() ? format::qt(session_.job().technician) : QString());
    put(price_limit_, money_text(ticket.price_limit));
    put(estimate_, money_text(ticket.estimate));
    if (claim_->toPlainText() != format::qt(ticket.claim))
        claim_->setPlainText(format::qt(ticket.claim));
    data_->setChecked(ticket.ask_before_data_loss);
    for (qsizetype i = 0; i < facts_.size(); ++i) {
        const IntakeFact& fact = knowledge_.catalogue.facts[static_cast<std::size_t>(i)];
        const auto is_in = [&](const std::vector<std::string>& facts) {
            return std::find(facts.begin(), facts.end(), fact.id) != facts.end();
        };
        const QString title = format::qt(fact.title);
        const auto places = ticket.fact_places.find(fact.id);
        facts_[i]->show(is_in(ticket.facts),
                        is_in(ticket.facts_denied)    ? tr("%1 — asked: no").arg(title)
                        : is_in(ticket.facts_unknown) ? tr("%1 — asked: not known").arg(title)
                                                      : title,
                        places == ticket.fact_places.end() ? std::vector<std::string>() : places->second,
                        knowledge_.find_topology(ticket.topology));
    }
    refreshing_ = false;
}

}  // namespace eh
