// SPDX-License-Identifier: GPL-3.0-or-later
// Ties the clock of a meter to this computer's clock.
//
// A line can arrive late - the meter, the wire or this program was busy - but never early. So the smallest
// lag (arrival minus the meter's own time) seen of late is the best estimate of the offset between the
// clocks, and a burst of late lines keeps the spacing that the meter gave them.
#pragma once

#include <span>

#include "core/trace/meter_summary.h"

namespace eh {

class SourceClock {
  public:
    // Forgets the source, at a new connection that was made at not_before_s: nothing is placed before it, nor
    // before what was placed already. What a meter had kept back from earlier stands at the connection.
    void reset(double not_before_s);

    // Moves samples that arrived together at arrived_s (this computer's clock, seconds; must not decrease
    // from call to call) to this computer's clock. Placed times always increase. They are not later than
    // arrived_s, but for the millionths of a second that keep them apart when a clock had to be tied anew. A
    // source whose clock starts again, or stood still while it was dark, is tied anew.
    void place(std::span<MeterSample> samples, double arrived_s);

  private:
    void place_run(std::span<MeterSample> run, double arrived_s);
    [[nodiscard]] double offset_s() const;

    bool known_ = false;
    double source_s_ = 0.0;       // the meter's time of the last sample
    double arrived_s_ = 0.0;      // when it arrived
    double least_lag_s_ = 0.0;    // in the present stretch of lag_window_s
    double earlier_lag_s_ = 0.0;  // in the stretch before: a slow drift of the clocks is followed
    double window_from_s_ = 0.0;
    double placed_s_ = -1e300;
};

}  // namespace eh
