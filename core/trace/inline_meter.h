// SPDX-License-Identifier: GPL-3.0-or-later
// The inline meter as a thing with a life of its own: it lives on VBUS.
#pragma once

namespace eh {

struct InlineMeterTraits {
    double dies_below_volts = 3.3;
    double wakes_after_s = 1.0;  // volts must stand for so long before it shows anything
};

// Follows the volts at the plug and says whether the meter is lit.
class InlineMeter {
  public:
    explicit InlineMeter(InlineMeterTraits traits = {}) : traits_(traits) {}

    // The volts at time t_s; times must not go back. Returns whether it shows (and sends) a reading then.
    bool lit(double t_s, double volts) {
        if (volts < traits_.dies_below_volts) {
            powered_ = false;
            return false;
        }
        if (!powered_) {
            powered_ = true;
            powered_since_s_ = t_s;
        }
        return t_s - powered_since_s_ >= traits_.wakes_after_s;
    }

  private:
    InlineMeterTraits traits_;
    bool powered_ = false;
    double powered_since_s_ = 0.0;
};

}  // namespace eh
