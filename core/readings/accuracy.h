// SPDX-License-Identifier: GPL-3.0-or-later
// Accuracy of the instruments on the bench and of the model. Common practice for hand-held instruments.
#pragma once

#include <array>

namespace eh {

struct AccuracyOptions {
    double meter_volts_share = 0.01;
    double meter_volts_digit = 0.03;
    double meter_amps_share = 0.03;
    double meter_amps_digit = 0.012;
    double model_volts_share = 0.012;  // chargers differ by some percent in their set-point
    double model_amps_share = 0.22;    // what a machine draws differs more
    double dmm_volts_share = 0.006;
    double dmm_volts_digit = 0.02;
    double model_rail_share = 0.03;
    // Leakages nobody knows decide the volts of nets that nothing holds: there by most_stray_volts, on a net
    // that is held through so many ohms by a third of that, through a tenth of them by a thirtieth.
    double stray_ohms = 3e6;
    double most_stray_volts = 8.0;
    // A charger at its limit: how far its volts fall under a short hangs on its limit and its way to fold
    // back, which no two makes share. Times the share that it is short of.
    double sag_share = 0.35;
    double sag_rise_share = 0.7;
    double dmm_ohms_share = 0.02;
    double model_ohms_share = 0.12;
    double model_kiloohms_share = 0.5;  // from some ten kiloohms on
    double lead_ohms = 0.05;            // of the test leads, left in or taken off
    double over_limit_ohms = 1e5;  // from about here on a reading counts as open (common practice: > 100 k)
    double dmm_drop_digit = 0.003;
    double model_drop_share = 0.1;  // of drops in diode mode: chips of one kind differ little
    double rise_share = 0.5;        // heat depends on much that is not modelled
    double rise_digit_kelvin = 3.0;
    double warm_kelvin = 6.0;        // from about here on a part is called warm (common practice)
    double model_wrong_word = 0.05;  // share of machines that say something else than the model has them say
    double misread_word = 0.012;     // share of words written down wrongly
    double odd_reading = 0.01;       // share of readings that mean nothing
    // Of those, the share that the machine itself brings about (a leak that nobody models): taken again they
    // are the same, where a slip of the hand does not come back.
    double odd_again = 0.5;
    // Share of readings in which an effect outside the catalogue shows: nobody knows, so that a rare, a usual
    // and a frequent one are weighed alike.
    std::array<double, 3> unknown_shows{0.03, 0.1, 0.3};
    // Of what the model leaves out, as a share of variance: common to all readings of a quantity on a
    // machine.
    double common_share = 0.75;
    double machine_common_share = 0.97;  // of what one machine has and keeps
    friend bool operator==(const AccuracyOptions&, const AccuracyOptions&) = default;
};

}  // namespace eh
