// SPDX-License-Identifier: GPL-3.0-or-later
// The packets of a conversation as rows: acknowledgements are folded into what they acknowledge, and what is
// said again and again into one row.
#pragma once

#include <QAbstractListModel>
#include <vector>

#include "core/usbc/cc_capture.h"
#include "core/usbc/pd_text.h"

namespace eh {

class TalkModel : public QAbstractListModel {
    Q_OBJECT
  public:
    enum class Lane { charger, cable, machine, all };
    enum class Answer { acknowledged, unheard, none };  // none: nothing that asks for an acknowledgement
    Q_ENUM(Lane)
    Q_ENUM(Answer)

    enum Role {
        SecondsRole = Qt::UserRole,  // double, from the start of the recording
        PauseRole,                   // double, seconds since the row before; 0 for the first
        TimesRole,                   // int: how often this is said in a row without anything between
        FromRole,                    // Lane that speaks; all for resets and what cannot be read
        ToRole,                      // Lane that is meant
        NameRole,                    // QString
        SentenceRole,                // QString; also the display role
        AnswerRole,                  // Answer
        DamageRole,                  // QString, empty for a good packet
        DetailRole,                  // QString: header and objects in hex
    };

    explicit TalkModel(QObject* parent = nullptr) : QAbstractListModel(parent) {}

    void show(const std::vector<pd::SeenFrame>& frames);
    void clear() { show({}); }

    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;

  private:
    struct Row {
        double seconds = 0.0;
        double pause = 0.0;
        double last_seconds = 0.0;  // when it was said for the last time
        int times = 1;
        Lane from = Lane::all;
        Lane to = Lane::all;
        QString name;
        QString sentence;
        Answer answer = Answer::none;
        QString damage;
        QString detail;
    };
    void append(Row row);
    static QString spoken(const Row& row);
    static Row described(const pd::SeenFrame& seen, pd::Interpreter& interpreter);

    std::vector<Row> rows_;
};

}  // namespace eh
