// SPDX-License-Identifier: GPL-3.0-or-later
// The frames that the heat search looks at: from the camera as they come, or from files that are read beside
// the window. The latest are kept, as many as fit into a quarter of a gigabyte.
#pragma once

#include <QObject>
#include <QStringList>
#include <deque>
#include <memory>
#include <vector>

#include "app/services/latest_task.h"
#include "core/thermal/frame_files.h"
#include "core/thermal/thermal_frame.h"

namespace eh {

class HeatFrames : public QObject {
    Q_OBJECT
  public:
    struct Taken {
        ThermalFrame frame;
        double arrived_s = 0.0;  // by the clock of the meter's stream
    };
    using Shared = std::shared_ptr<const Taken>;

    explicit HeatFrames(QObject* parent = nullptr) : QObject(parent) {}

    // One more; of another size than those before it begins anew.
    void take(ThermalFrame frame);
    void clear();
    // Reads frames from files, in the order of their names, in place of what there is. filesRead() follows.
    void openFiles(const QStringList& files);
    [[nodiscard]] bool reading() const { return reading_.running(); }
    void stopReading() { reading_.stop(); }

    [[nodiscard]] bool empty() const { return frames_.empty(); }
    [[nodiscard]] std::size_t size() const { return frames_.size(); }
    // The latest so many, the oldest of them first.
    [[nodiscard]] std::vector<Shared> latest(std::size_t count) const;
    [[nodiscard]] const ThermalFrame& last() const { return frames_.back()->frame; }
    // How many came in all; counts on when old ones go.
    [[nodiscard]] std::size_t came() const { return came_; }

  signals:
    void begunAnew();  // what was there is gone
    void taken();
    void progressed(double share);  // of files that are read
    // Sentences on what could not be read or was left out; empty when all was taken.
    void filesRead(const QStringList& remarks);

  private:
    struct Files {
        std::vector<ThermalFrame> frames;
        QStringList remarks;
    };
    static Files readFiles(const QStringList& files, const TaskControl& control);

    std::deque<Shared> frames_;
    std::size_t came_ = 0;
    LatestTask<Files> reading_;
};

}  // namespace eh
