// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/models/suspects_model.h"

#include <algorithm>
#include <cmath>

#include "app/format/text.h"

namespace eh {
namespace {

constexpr double least_shown = 0.002;
constexpr std::size_t most_shown = 12;

// Where the rate of a suspect comes from.
QString rateWords(const Answer& answer, const Hypothesis& hypothesis) {
    double factor = 1.0;
    for (const FaultInstance& fault : hypothesis.faults) {
        if (const auto own = answer.rate_factors.find(fault.fault); own != answer.rate_factors.end())
            factor *= own->second;
    }
    constexpr double moved = 0.005;
    if (std::abs(factor - 1.0) < moved)
        return SuspectsModel::tr("shipped estimate, with what the intake says");
    return SuspectsModel::tr("shipped estimate, × %1 by this shop's own repairs, with what the intake says")
        .arg(format::number(factor, 2));
}

}  // namespace

SuspectsModel::SuspectsModel(QObject* parent) : QAbstractItemModel(parent) {}

void SuspectsModel::clear() {
    beginResetModel();
    parts_.clear();
    endResetModel();
}

void SuspectsModel::show(const Answer& answer) {
    beginResetModel();
    parts_.clear();
    for (const PartSuspicion& suspect : answer.ranking.parts) {
        if (parts_.size() >= most_shown || suspect.probability < least_shown)
            break;
        parts_.push_back(described(answer, suspect));
    }
    endResetModel();
}

bool SuspectsModel::include(const Answer& answer, const std::string& block) {
    if (indexOfBlock(format::qt(block)).isValid())
        return true;
    const auto& parts = answer.ranking.parts;
    const auto suspect =
        std::find_if(parts.begin(), parts.end(), [&](const PartSuspicion& p) { return p.block == block; });
    if (block.empty() || suspect == parts.end())
        return false;
    const int row = static_cast<int>(parts_.size());
    beginInsertRows({}, row, row);
    parts_.push_back(described(answer, *suspect));
    endInsertRows();
    return true;
}

SuspectsModel::Part SuspectsModel::described(const Answer& answer, const PartSuspicion& suspect) {
    const PredictionTable& table = *answer.table;
    const MachinePlan& plan = answer.engine->plan;
    const Suspicion& leading = answer.ranking.suspicions[suspect.leading_hypothesis];
    const Hypothesis& hypothesis = table.hypotheses()[leading.hypothesis];
    Part part;
    part.probability = suspect.probability;
    part.block = format::qt(suspect.block);
    if (suspect.kind == HypothesisKind::fault) {
        part.title = format::blockTitle(plan, suspect.block);
        part.detail = format::faultWords(plan, hypothesis, suspect.block);
    } else {
        part.title = format::qt(hypothesis_title(hypothesis, plan));
        part.detail = suspect.kind == HypothesisKind::nothing_wrong
                          ? tr("machine, charger and lead are sound")
                          : tr("something that is not in the catalogue");
    }
    Line rate;
    rate.text = tr("Before any reading: %1").arg(format::percent(leading.prior));
    rate.detail = rateWords(answer, hypothesis);
    part.lines.push_back(rate);
    for (const Evidence& evidence : leading.evidence) {
        const auto reading = std::find_if(answer.readings.begin(), answer.readings.end(),
                                          [&](const Reading& r) { return r.id == evidence.reading_id; });
        if (reading == answer.readings.end())
            continue;
        const bool odd =
            std::any_of(answer.ranking.odd.begin(), answer.ranking.odd.end(),
                        [&](const OddReading& o) { return o.reading_id == evidence.reading_id; });
        Line line;
        line.reading = format::qt(evidence.reading_id);
        line.weight = evidence.weight;
        line.text = format::qt(describe(*reading, plan.topology()));
        const QString expected = format::qt(expectation_text(table, leading.hypothesis, *reading));
        line.detail = odd ? tr("odd: no suspect explains it; take it again, with another meter if you can")
                          : tr("%1; expected %2").arg(format::weightWords(evidence.weight), expected);
        part.lines.push_back(line);
    }
    return part;
}

QModelIndex SuspectsModel::indexOfBlock(const QString& block) const {
    for (std::size_t i = 0; i < parts_.size(); ++i) {
        if (parts_[i].block == block)
            return index(static_cast<int>(i), 0);
    }
    return {};
}

// A part has internal id 0, an evidence row the number of its part plus one.
QModelIndex SuspectsModel::index(int row, int column, const QModelIndex& parent) const {
    if (!hasIndex(row, column, parent))
        return {};
    return createIndex(row, column, parent.isValid() ? static_cast<quintptr>(parent.row()) + 1 : 0);
}

QModelIndex SuspectsModel::parent(const QModelIndex& child) const {
    if (!child.isValid() || child.internalId() == 0)
        return {};
    return createIndex(static_cast<int>(child.internalId()) - 1, 0, quintptr{0});
}

int SuspectsModel::rowCount(const QModelIndex& parent) const {
    if (!parent.isValid())
        return static_cast<int>(parts_.size());
    return parent.internalId() == 0
               ? static_cast<int>(parts_[static_cast<std::size_t>(parent.row())].lines.size())
               : 0;
}

int SuspectsModel::columnCount(const QModelIndex&) const {
    return 1;
}

QVariant SuspectsModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid())
        return {};
    if (index.internalId() == 0) {
        const Part& part = parts_[static_cast<std::size_t>(index.row())];
        switch (role) {
            case Qt::DisplayRole:
                return part.title;
            case Qt::AccessibleTextRole:
                return tr("%1, %2, %3").arg(part.title, part.detail, format::percent(part.probability));
            case ProbabilityRole:
                return part.probability;
            case DetailRole:
                return part.detail;
            case BlockRole:
                return part.block;
            default:
                return {};
        }
    }
    const Line& line = parts_[index.internalId() - 1].lines[static_cast<std::size_t>(index.row())];
    switch (role) {
        case Qt::DisplayRole:
        case Qt::ToolTipRole:
            return role == Qt::DisplayRole ? line.text : line.text + "\n" + line.detail;
        case DetailRole:
            return line.detail;
        case WeightRole:
            return line.weight;
        case ReadingRole:
            return line.reading;
        default:
            return {};
    }
}

}  // namespace eh
