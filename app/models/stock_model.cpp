// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/models/stock_model.h"

#include "app/format/text.h"
#include "app/style/theme.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr double most_pieces = 1e7;

Unit unit_of(PartKind kind) {
    return kind == PartKind::resistor ? Unit::ohms : kind == PartKind::capacitor ? Unit::farads : Unit::none;
}

QString rating(const StockPart& part) {
    QStringList words;
    if (part.volts)
        words << format::qt(format_quantity(*part.volts, Unit::volts));
    if (part.amps)
        words << format::qt(format_quantity(*part.amps, Unit::amps));
    return words.join(", ");
}

QString text_of(const StockPart& part, int column) {
    switch (column) {
        case StockModel::NameColumn:
            return format::qt(part.name);
        case StockModel::ValueColumn:
            return part.value       ? format::qt(format_quantity(*part.value, unit_of(part.kind)))
                   : part.out_volts ? format::qt(format_quantity(*part.out_volts, Unit::volts))
                                    : QString();
        case StockModel::RatingColumn:
            return rating(part);
        case StockModel::ToleranceColumn:
            return part.tolerance ? StockModel::tr("%1 %").arg(format::figures(100.0 * *part.tolerance, 6))
                                  : QString();
        case StockModel::PackageColumn:
            return format::qt(part.package + (part.dielectric.empty() ? "" : " " + part.dielectric));
        case StockModel::PlaceColumn:
            return format::qt(part.place);
        case StockModel::CountColumn:
            return QString::number(part.count);
        default:
            return {};
    }
}

// Puts what was typed into a part; what is wrong, or nothing.
QString change(StockPart& part, int column, const QString& typed) {
    const std::string text = typed.trimmed().toStdString();
    const auto number = [&](Unit unit, std::optional<double>& target) {
        if (text.empty()) {
            target.reset();
            return QString();
        }
        const auto parsed = parse_quantity_as(text, unit);
        if (!parsed)
            return format::qt(parsed.error().text());
        target = parsed->value;
        return QString();
    };
    switch (column) {
        case StockModel::NameColumn:
            part.name = text;
            return text.empty() ? StockModel::tr("A part needs a name to be found by.") : QString();
        case StockModel::ValueColumn:
            return unit_of(part.kind) == Unit::none ? number(Unit::volts, part.out_volts)
                                                    : number(unit_of(part.kind), part.value);
        case StockModel::RatingColumn: {
            part.volts.reset();
            part.amps.reset();
            for (const QString& word : typed.split(',', Qt::SkipEmptyParts)) {
                const auto parsed = parse_quantity(word.trimmed().toStdString());
                if (!parsed || (parsed->unit != Unit::volts && parsed->unit != Unit::amps))
                    return StockModel::tr("“%1”: write volts, amps or both, as in 25 V, 2 A.")
                        .arg(word.trimmed());
                (parsed->unit == Unit::volts ? part.volts : part.amps) = parsed->value;
            }
            return {};
        }
        case StockModel::ToleranceColumn: {
            QString bare = typed.trimmed();
            bare.remove('%');
            bool good = bare.trimmed().isEmpty();
            const double percent = good ? 0.0 : bare.trimmed().toDouble(&good);
            if (!good || percent < 0.0 || percent > 100.0)
                return StockModel::tr("“%1” is no tolerance; write 1 %.").arg(typed);
            part.tolerance = bare.trimmed().isEmpty() ? std::nullopt : std::optional(percent / 100.0);
            return {};
        }
        case StockModel::PackageColumn:
            // The dielectric is written behind the size.
            part.dielectric = typed.section(' ', 1).trimmed().toStdString();
            part.package = typed.section(' ', 0, 0).trimmed().toStdString();
            return {};
        case StockModel::PlaceColumn:
            part.place = text;
            return {};
        case StockModel::CountColumn: {
            bool good = false;
            const int count = typed.trimmed().toInt(&good);
            if (!good || count < 0 || count > most_pieces)
                return StockModel::tr("“%1” is no count.").arg(typed);
            part.count = count;
            return {};
        }
        default:
            return {};
    }
}

}  // namespace

StockModel::StockModel(ShopParts& parts, QObject* parent)
    : QAbstractTableModel(parent), parts_(parts), index_(parts.stock()) {
    connect(&parts_, &ShopParts::changed, this, &StockModel::renew);
    search({});
}

void StockModel::renew() {
    index_ = StockSearch(parts_.stock());
    search(question_);
}

void StockModel::search(const QString& question) {
    beginResetModel();
    question_ = question;
    found_ = index_.find(question.toStdString());
    endResetModel();
}

const StockPart* StockModel::part(int row) const {
    return row >= 0 && row < rowCount() ? &parts_.stock().parts[found_[static_cast<std::size_t>(row)]]
                                        : nullptr;
}

int StockModel::rowOf(const std::string& id) const {
    for (int row = 0; row < rowCount(); ++row)
        if (part(row)->id == id)
            return row;
    return -1;
}

int StockModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(found_.size());
}

int StockModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : ColumnCount;
}

QVariant StockModel::data(const QModelIndex& index, int role) const {
    const StockPart* found = index.isValid() ? part(index.row()) : nullptr;
    if (found == nullptr)
        return {};
    if (role == Qt::DisplayRole || role == Qt::EditRole)
        return text_of(*found, index.column());
    if (role == Qt::ForegroundRole)
        return found->count == 0 ? theme::colours().soft_ink : theme::colours().ink;
    if (role == Qt::ToolTipRole)
        return found->note.empty() ? QVariant() : format::qt(found->note);
    return {};
}

QVariant StockModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (role != Qt::DisplayRole || orientation != Qt::Horizontal)
        return {};
    static const QStringList names{tr("Part"), tr("Value"), tr("Rated"), tr("Tolerance"),
                                   tr("Size"), tr("Place"), tr("Count")};
    return names.value(section);
}

Qt::ItemFlags StockModel::flags(const QModelIndex& index) const {
    return QAbstractTableModel::flags(index) | (index.isValid() ? Qt::ItemIsEditable : Qt::NoItemFlags);
}

bool StockModel::setData(const QModelIndex& index, const QVariant& value, int role) {
    const StockPart* found = index.isValid() && role == Qt::EditRole ? part(index.row()) : nullptr;
    // Leaving a field as it was is no edit.
    if (found == nullptr || value.toString() == text_of(*found, index.column()))
        return false;
    StockPart changed = *found;
    const QString problem = change(changed, index.column(), value.toString());
    if (!problem.isEmpty()) {
        emit refused(problem);
        return false;
    }
    parts_.editStock(tr("Part %1").arg(format::qt(changed.name)), [&](Stock& stock) {
        for (StockPart& each : stock.parts)
            if (each.id == changed.id)
                each = changed;
    });
    return true;
}

}  // namespace eh
