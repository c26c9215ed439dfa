// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/models/talk_model.h"

#include "app/format/text.h"

namespace eh {
namespace {

// An acknowledgement comes within a millisecond and a bit (tReceive, specification, from memory).
constexpr double acknowledged_within_s = 1.5e-3;

TalkModel::Lane lane_of(pd::Speaker speaker) {
    switch (speaker) {
        case pd::Speaker::charger:
            return TalkModel::Lane::charger;
        case pd::Speaker::machine:
            return TalkModel::Lane::machine;
        case pd::Speaker::cable:
            return TalkModel::Lane::cable;
    }
    return TalkModel::Lane::all;
}

TalkModel::Lane meant_by(const pd::Message& message) {
    const pd::Speaker speaker = pd::speaker_of(message);
    if (message.address == pd::Address::sop)
        return speaker == pd::Speaker::charger ? TalkModel::Lane::machine : TalkModel::Lane::charger;
    return speaker == pd::Speaker::cable ? TalkModel::Lane::charger : TalkModel::Lane::cable;
}

bool is_acknowledgement(const pd::Frame& frame) {
    return frame.kind == pd::FrameKind::message && is(frame.message, pd::ControlType::good_crc);
}

bool acknowledges(const pd::Frame& answer, const pd::Frame& message) {
    return is_acknowledgement(answer) && answer.good() &&
           answer.message.header.id == message.message.header.id &&
           answer.message.address == message.message.address &&
           answer.start_s - message.end_s < acknowledged_within_s;
}

}  // namespace

TalkModel::Row TalkModel::described(const pd::SeenFrame& seen, pd::Interpreter& interpreter) {
    const pd::Frame& frame = seen.frame;
    Row row;
    row.seconds = frame.start_s;
    row.sentence = format::qt(interpreter.sentence(frame));
    row.damage = format::qt(pd::describe(frame.damage));
    row.detail = tr("No header: this is a signal of its own, on CC%1.").arg(seen.line);
    switch (frame.kind) {
        case pd::FrameKind::hard_reset:
            row.name = tr("Hard reset");
            break;
        case pd::FrameKind::cable_reset:
            row.name = tr("Cable reset");
            break;
        case pd::FrameKind::unreadable:
            row.name = tr("Unreadable");
            break;
        case pd::FrameKind::message: {
            row.name = format::qt(pd::name_of(frame.message));
            row.from = lane_of(pd::speaker_of(frame.message));
            row.to = meant_by(frame.message);
            QStringList objects;
            for (const std::uint32_t object : pd::objects_of(frame.message))
                objects += QStringLiteral("%1").arg(object, 8, 16, QLatin1Char('0'));
            row.detail = tr("%1 on CC%2, number %3, header %4")
                             .arg(format::qt(pd::name_of(frame.message.address)))
                             .arg(seen.line)
                             .arg(frame.message.header.id)
                             .arg(pd::pack(frame.message.header), 4, 16, QLatin1Char('0'));
            if (!objects.isEmpty())
                row.detail += tr(", objects %1").arg(objects.join(QLatin1Char(' ')));
            break;
        }
    }
    return row;
}

void TalkModel::show(const std::vector<pd::SeenFrame>& frames) {
    beginResetModel();
    rows_.clear();
    pd::Interpreter interpreter;
    for (std::size_t i = 0; i < frames.size(); ++i) {
        const pd::Frame& frame = frames[i].frame;
        // An acknowledgement that belongs to the row before is said there.
        if (i > 0 && acknowledges(frame, frames[i - 1].frame))
            continue;
        Row row = described(frames[i], interpreter);
        if (frame.kind == pd::FrameKind::message && !is_acknowledgement(frame)) {
            const bool heard = i + 1 < frames.size() && acknowledges(frames[i + 1].frame, frame);
            row.answer = heard ? Answer::acknowledged : Answer::unheard;
        }
        append(std::move(row));
    }
    endResetModel();
}

void TalkModel::append(Row row) {
    row.last_seconds = row.seconds;
    if (!rows_.empty()) {
        Row& before = rows_.back();
        const bool again = row.from != Lane::all && row.name == before.name &&
                           row.sentence == before.sentence && row.answer == before.answer &&
                           row.damage == before.damage;
        if (again) {
            ++before.times;
            before.last_seconds = row.seconds;
            return;
        }
        row.pause = row.seconds - before.last_seconds;
    }
    rows_.push_back(std::move(row));
}

QString TalkModel::spoken(const Row& row) {
    QString text = row.sentence;
    if (row.answer == Answer::unheard)
        text += QLatin1Char(' ') +
                (row.times > 1 ? tr("Nobody ever acknowledges it.") : tr("Nobody acknowledges it."));
    if (row.times > 1)
        text +=
            QLatin1Char(' ') + tr("Said %n times, every %1 ms.", nullptr, row.times)
                                   .arg(qRound(1000.0 * (row.last_seconds - row.seconds) / (row.times - 1)));
    return text;
}

int TalkModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

QVariant TalkModel::data(const QModelIndex& index, int role) const {
    if (!checkIndex(index, CheckIndexOption::IndexIsValid))
        return {};
    const Row& row = rows_[static_cast<std::size_t>(index.row())];
    switch (role) {
        case Qt::DisplayRole:
        case SentenceRole:
            return spoken(row);
        case Qt::ToolTipRole:
        case DetailRole:
            return row.detail;
        case SecondsRole:
            return row.seconds;
        case PauseRole:
            return row.pause;
        case TimesRole:
            return row.times;
        case FromRole:
            return QVariant::fromValue(row.from);
        case ToRole:
            return QVariant::fromValue(row.to);
        case NameRole:
            return row.name;
        case AnswerRole:
            return QVariant::fromValue(row.answer);
        case DamageRole:
            return row.damage;
        default:
            return {};
    }
}

}  // namespace eh
