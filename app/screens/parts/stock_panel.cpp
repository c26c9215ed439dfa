// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/parts/stock_panel.h"

#include <QDateTime>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>
#include <algorithm>

#include "app/format/text.h"
#include "app/style/theme.h"
#include "app/widgets/answer_table.h"
#include "app/widgets/form_parts.h"

namespace eh {
namespace {

constexpr int orders_width = 390;
constexpr int donor_kind = -1;  // in the list of kinds
constexpr double usual_lead_days = 14.0;
constexpr double stock_ms_a_day = 86400e3;

QString kind_word(PartKind kind) {
    static const QStringList words{
        StockPanel::tr("resistor"),      StockPanel::tr("capacitor"),           StockPanel::tr("receptacle"),
        StockPanel::tr("jack"),          StockPanel::tr("regulator or switch"), StockPanel::tr("chip"),
        StockPanel::tr("something else")};
    return words.value(static_cast<int>(kind));
}

}  // namespace

StockPanel::StockPanel(JobSession& session, ShopParts& parts, QWidget* parent)
    : QWidget(parent),
      session_(session),
      parts_(parts),
      search_(new QLineEdit(this)),
      table_(new QTableView(this)),
      model_(new StockModel(parts, this)),
      found_(new QLabel(this)),
      kind_(form::choice(tr("Kind of the new part"), this)),
      add_(new QPushButton(tr("&New part"), this)),
      take_(new QPushButton(tr("&Take one"), this)),
      order_(new QPushButton(tr("&Order it"), this)),
      lead_(form::spin(0, 365, usual_lead_days, tr(" days"), tr("Lead time"), this, 0)),
      orders_(new QTableView(this)),
      order_rows_(new RowsModel({tr("Ordered"), tr("Here by"), tr("For job")}, this)),
      arrived_(new QPushButton(tr("It has &arrived"), this)),
      parked_(form::wrapped(this, tr("Jobs that wait for parts"))),
      donors_(form::wrapped(this, tr("Donor boards"))) {
    search_->setPlaceholderText(tr("100n 25V 0402 · 4k7 1% · receptacle · drawer 3"));
    search_->setAccessibleName(tr("Search the stock"));
    search_->setClearButtonEnabled(true);
    table_->setModel(model_);
    dress_answer_table(*table_, tr("Parts"));
    table_->horizontalHeader()->setSectionResizeMode(StockModel::NameColumn, QHeaderView::Stretch);
    for (const auto& [column, width] : {std::pair{StockModel::ValueColumn, 84},
                                        {StockModel::RatingColumn, 120},
                                        {StockModel::ToleranceColumn, 78},
                                        {StockModel::PackageColumn, 96},
                                        {StockModel::PlaceColumn, 118},
                                        {StockModel::CountColumn, 62}})
        table_->setColumnWidth(column, width);
    for (int k = 0; k < part_kind_count; ++k)
        kind_->addItem(kind_word(static_cast<PartKind>(k)), k);
    kind_->addItem(tr("donor board"), donor_kind);
    auto* below = new QHBoxLayout;
    below->addWidget(take_);
    below->addWidget(kind_);
    below->addWidget(add_);
    below->addStretch(1);
    auto* left = new QVBoxLayout;
    left->addWidget(search_);
    left->addWidget(found_);
    left->addWidget(table_, 1);
    left->addLayout(below);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 10, 14, 8);
    row->setSpacing(16);
    row->addLayout(left, 1);
    row->addWidget(makeOrders());
    found_->setProperty("role", "soft");
    connect(search_, &QLineEdit::textChanged, this, [this](const QString& text) {
        model_->search(text);
        refresh();
    });
    connect(model_, &StockModel::refused, this, &StockPanel::said);
    connect(&parts_, &ShopParts::changed, this, &StockPanel::refresh);
    connect(add_, &QPushButton::clicked, this, &StockPanel::addPart);
    connect(take_, &QPushButton::clicked, this, &StockPanel::takeOne);
    refresh();
}

QWidget* StockPanel::makeOrders() {
    auto* side = new QWidget(this);
    side->setFixedWidth(orders_width);
    orders_->setModel(order_rows_);
    dress_answer_table(*orders_, tr("Orders"));
    orders_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    orders_->setColumnWidth(1, 96);
    orders_->setColumnWidth(2, 86);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(order_);
    buttons->addWidget(lead_);
    buttons->addWidget(arrived_);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form::title(tr("Parked jobs"), side));
    column->addWidget(parked_);
    column->addWidget(form::title(tr("On order"), side));
    column->addWidget(orders_, 1);
    column->addLayout(buttons);
    column->addWidget(form::title(tr("Donor boards"), side));
    column->addWidget(donors_);
    connect(order_, &QPushButton::clicked, this, &StockPanel::orderPicked);
    connect(arrived_, &QPushButton::clicked, this, &StockPanel::markArrived);
    return side;
}

const StockPart* StockPanel::picked() const {
    return model_->part(table_->currentIndex().row());
}

void StockPanel::refresh() {
    const Stock& stock = parts_.stock();
    found_->setText(stock.parts.empty() ? tr("The stock is empty: choose a kind below and press “New part”.")
                                        : tr("%1 of %2 parts; click twice to change, Enter to keep")
                                              .arg(model_->rowCount())
                                              .arg(stock.parts.size()));
    std::vector<RowsModel::Row> rows;
    order_ids_.clear();
    for (const PartOrder& order : stock.orders) {
        if (order.arrived)
            continue;
        const StockPart* part = stock.find(order.what);
        const auto due = order.ordered_ms + static_cast<qint64>(order.lead_days * stock_ms_a_day);
        rows.push_back(
            {{tr("%1 × %2").arg(order.count).arg(format::qt(part == nullptr ? order.what : part->name)),
              QDateTime::fromMSecsSinceEpoch(due).toString("d MMM"), format::qt(order.job)},
             RowsModel::Tone::plain});
        order_ids_.push_back(order.id);
    }
    order_rows_->show(std::move(rows));
    arrived_->setEnabled(!order_ids_.empty());
    QString parked;
    for (const ParkedJob& job : parked_jobs(stock, QDateTime::currentMSecsSinceEpoch())) {
        const QString due = QDateTime::fromMSecsSinceEpoch(job.expected_ms).toString("d MMM");
        const QString text = (job.late ? tr("%1 waits for %2, which was due on %3. Ask where it is.")
                                       : tr("%1 waits for %2, due on %3."))
                                 .arg(format::qt(job.job), format::qt(job.what), due);
        parked += form::paragraph(job.late ? form::Weight::problem : form::Weight::note, text);
    }
    form::show_html(parked_, parked.isEmpty() ? tr("No job waits for a part.") : parked);
    QStringList donors;
    for (const DonorBoard& donor : stock.donors) {
        QStringList taken;
        for (const std::string& position : donor.taken)
            taken << format::qt(position);
        donors << (taken.isEmpty()
                       ? tr("%1, %2: whole").arg(format::qt(donor.title), format::qt(donor.place))
                       : tr("%1, %2: without %3")
                             .arg(format::qt(donor.title), format::qt(donor.place), taken.join(", ")));
    }
    form::show_html(donors_, donors.isEmpty() ? tr("None is kept.") : form::paragraphs(donors));
}

void StockPanel::addDonor() {
    // The search field names it: "TITLE, PLACE".
    const QString words = search_->text().trimmed();
    if (words.isEmpty()) {
        emit said(tr("Write the board's name and place into the search, as in “Heron 13 main, box 2”."));
        return;
    }
    parts_.editStock(tr("Donor board"), [&](Stock& stock) {
        stock.donors.push_back({fresh_stock_id(stock, "d"),
                                words.section(',', 0, 0).trimmed().toStdString(),
                                words.section(',', 1).trimmed().toStdString(),
                                {}});
    });
    search_->clear();
    emit said(tr("Donor board kept: %1.").arg(words));
}

void StockPanel::addPart() {
    if (kind_->currentData().toInt() == donor_kind) {
        addDonor();
        return;
    }
    StockPart part;
    part.kind = static_cast<PartKind>(kind_->currentData().toInt());
    part.name = tr("new %1").arg(kind_word(part.kind)).toStdString();
    parts_.editStock(tr("New part"), [&](Stock& stock) {
        part.id = fresh_stock_id(stock, "s");
        stock.parts.push_back(part);
    });
    search_->clear();
    const int row = model_->rowOf(part.id);
    if (row < 0)
        return;
    const QModelIndex index = model_->index(row, StockModel::NameColumn);
    table_->setCurrentIndex(index);
    table_->scrollTo(index);
    table_->edit(index);
}

void StockPanel::takeOne() {
    const StockPart* part = picked();
    if (part == nullptr || part->count == 0) {
        emit said(part == nullptr ? tr("Pick the part first.") : tr("None of it is left; order it."));
        return;
    }
    const std::string id = part->id;
    const QString name = format::qt(part->name);
    const QString place = format::qt(part->place);
    parts_.editStock(tr("One %1 taken").arg(name), [&](Stock& stock) {
        for (StockPart& each : stock.parts)
            if (each.id == id)
                --each.count;
    });
    table_->selectRow(model_->rowOf(id));
    emit said(tr("One %1 taken from %2.").arg(name, place));
}

void StockPanel::orderPicked() {
    const StockPart* part = picked();
    const QString words = search_->text().trimmed();
    if (part == nullptr && words.isEmpty()) {
        emit said(tr("Pick a part, or write into the search what is wanted."));
        return;
    }
    PartOrder order;
    order.what = part == nullptr ? words.toStdString() : part->id;
    order.ordered_ms = QDateTime::currentMSecsSinceEpoch();
    order.lead_days = lead_->value();
    order.job = session_.hasJob() ? session_.job().ticket.number : std::string();
    parts_.editStock(tr("Order"), [&](Stock& stock) {
        order.id = fresh_stock_id(stock, "o");
        stock.orders.push_back(order);
    });
    emit said(
        order.job.empty()
            ? tr("Ordered.")
            : tr("Ordered; job %1 waits for it. Put the machine together safely: a shorted jack stays out.")
                  .arg(format::qt(order.job)));
}

void StockPanel::markArrived() {
    const int row = std::max(0, orders_->currentIndex().row());
    if (row >= static_cast<int>(order_ids_.size()))
        return;
    const std::string id = order_ids_[static_cast<std::size_t>(row)];
    parts_.editStock(tr("Arrived"), [&](Stock& stock) {
        for (PartOrder& order : stock.orders) {
            if (order.id != id)
                continue;
            order.arrived = true;
            for (StockPart& part : stock.parts)
                if (part.id == order.what)
                    part.count += order.count;
        }
    });
}

}  // namespace eh
