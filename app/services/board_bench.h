// SPDX-License-Identifier: GPL-3.0-or-later
// The board on the bench: which one is open, what is picked on it, and what its nets read here and before.
//
// Readings of nets that the model knows go into the job as well, so that they are reasoned over.
#pragma once

#include <QObject>
#include <QString>
#include <optional>

#include "app/services/job_session.h"
#include "core/board/board_readings.h"
#include "core/board/ipc356.h"
#include "core/machine/model/knowledge.h"

namespace eh {

class BenchSupply;
class DiagnosisService;

class BoardBench : public QObject {
    Q_OBJECT
  public:
    BoardBench(JobSession& session, DiagnosisService& diagnosis, const BenchSupply& supply,
               const Knowledge& knowledge, QObject* parent = nullptr);
    // What still looks at the map beside the window ends before the map does.
    ~BoardBench() override;

    // Readings of boards of a kind are kept in this folder; none: only as long as the program runs.
    void keepReadingsIn(const QString& folder) { folder_ = folder; }

    void open(BoardImport board);
    // The same board with other pads or pictures: what was read on it stays.
    void change(BoardImport board);
    void close();
    [[nodiscard]] const BoardImport* board() const { return board_ ? &*board_ : nullptr; }
    [[nodiscard]] const BoardMap* map() const { return board_ ? &board_->map : nullptr; }

    void pick(int net, int part);
    [[nodiscard]] int net() const { return net_; }
    [[nodiscard]] int part() const { return part_; }
    [[nodiscard]] const Topology* topology() const;
    // The model's net that the picked one is; nullptr where it has none of that name.
    [[nodiscard]] const Net* machineNet() const;
    // The model's part that a part of the board is likeliest to be; nullptr for none.
    [[nodiscard]] const Block* machinePart(int part) const;

    // Whether a rail goes on over a part: by its name, or because the model has a sense resistor there.
    [[nodiscard]] bool carriesOn(int part) const;

    // What the picked net read on this board, typed here or in the job; the newest.
    [[nodiscard]] std::optional<NetValue> reading(NetQuantity quantity) const;
    // Why the strip does not stand as this measurement needs it, for people; empty when it does.
    [[nodiscard]] QString conflict(NetQuantity quantity) const;
    // Keeps a reading of the picked net.
    void take(NetQuantity quantity, const NetValue& value);
    // A reading of the picked net with a part taken off, as one of the job; gives back what happened, for
    // people.
    QString takeRemoved(int part, const NetValue& value);
    // Makes the picked net's reading a reference for boards to come, or none.
    void setSound(NetQuantity quantity, bool sound);
    [[nodiscard]] bool isSound(NetQuantity quantity) const;
    // What is known of the picked net beside the reading itself.
    [[nodiscard]] std::vector<NetEvidence> evidence(NetQuantity quantity) const;

    // A part that was found to be the warm one, or the one that the current leaves by, as a reading of the
    // job; gives back what happened, for people. Where the bench supply feeds the picked net, or `fed` says
    // that something did, it is a reading by injection; else one under power.
    struct Fed {
        double volts = 0.0;  // at the net
        double amps = 0.0;
    };
    QString takeFound(int part, double certainty, std::optional<double> rise_kelvin, std::optional<Fed> fed,
                      const QString& how);

  signals:
    void boardGoes();  // what looks at the map beside the window must end now
    void boardChanged();
    void boardEdited();  // the same board with other pads; pads that stay keep their numbers
    void picked();
    void readingsChanged();
    void trouble(const QString& sentence);

  private:
    [[nodiscard]] std::optional<NetValue> readingOf(int net, NetQuantity quantity) const;
    [[nodiscard]] std::optional<NetValue> readingInJob(const Net& net, NetQuantity quantity) const;
    [[nodiscard]] std::optional<NetEvidence> modelEvidence(NetQuantity quantity) const;
    [[nodiscard]] QString file() const;
    void load();
    void save();
    // The readings kept here go and come with those of the job.
    void follow();
    [[nodiscard]] std::string job() const;

    JobSession& session_;
    DiagnosisService& diagnosis_;
    const BenchSupply& supply_;
    const Knowledge& knowledge_;
    QString folder_;
    std::optional<BoardImport> board_;
    BoardReadings readings_;
    int net_ = no_index;
    int part_ = no_index;
};

}  // namespace eh
