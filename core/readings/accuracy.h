// SPDX-License-Identifier: GPL-3.0-or-later
// Accuracy of the instruments on the bench and of the model, as one standard deviation unless it says
// otherwise.
//
// Shares are of the value, digits in its unit; both add as squares. What is called "sheet" is what data
// sheets of common hand-held instruments give; "estimate" is ours, and an evaluation with other values of it
// is in docs/accuracy.md where it matters.
#pragma once

#include <array>
#include <optional>

namespace eh {

struct AccuracyOptions {
    // Inline meter at the plug. Sheet: 0.5 to 1 % and a digit of 10 mV or mA, on a shunt of some milliohms
    // whose zero wanders with warmth: hence the larger digits.
    double meter_volts_share = 0.01;
    double meter_volts_digit = 0.03;
    double meter_amps_share = 0.03;
    double meter_amps_digit = 0.012;
    // The model against machines at the plug. A contract's volts may be off by 5 % at most (USB Power
    // Delivery, vSrcNew); chargers of the trade keep a third of that. What a machine draws hangs on what it
    // happens to do.
    double model_volts_share = 0.012;
    double model_amps_share = 0.22;  // estimate
    // Multimeter, volts. Sheet: 0.5 % and two digits on the 20 V range.
    double dmm_volts_share = 0.006;
    double dmm_volts_digit = 0.02;
    double model_rail_share = 0.03;  // a regulator with a 2 % reference and 1 % resistors, doubled feedback
    // Leakages nobody knows decide the volts of nets that nothing holds: some of these stand anywhere, the
    // others are off by most_stray_volts; on a net that is held through so many ohms a third of that,
    // through a tenth of them a thirtieth (estimates; a multimeter itself has 10 megohms).
    double stray_ohms = 1.5e6;
    double stray_anything = 0.35;
    double most_stray_volts = 0.5;
    // A charger at its limit: how far its volts fall under a short hangs on its limit and its way to fold
    // back, which no two makes share. Times the share that it is short of (estimates).
    double sag_share = 0.35;
    double sag_rise_share = 0.7;
    // Multimeter, ohms. Sheet: 0.8 to 1.2 % and some digits; leads of 0.1 to 0.3 ohm, nulled or not.
    double dmm_ohms_share = 0.02;
    double lead_ohms = 0.1;  // of the test leads, left in or taken off
    // The model's ohms: severity is a hypothesis of its own, so this is what is left of spreads. Kiloohms to
    // ground are those of chips' insides, which no two makes share (estimates).
    double model_ohms_share = 0.12;
    double model_kiloohms_share = 0.5;  // from some ten kiloohms on
    double over_limit_ohms = 1e5;   // from about here on a reading counts as open (common practice: > 100 k)
    double dmm_drop_digit = 0.003;  // sheet: three digits of a millivolt
    // Of drops in diode mode: 2 mV a kelvin over a bench's 20 K, and 60 mV a decade of the junction's size,
    // at half a volt.
    double model_drop_share = 0.1;
    // Thermal camera. Heat hangs on airflow, emissivity and copper that are not modelled (estimates); a cheap
    // camera says 2 K itself (sheet).
    double rise_share = 0.5;
    double rise_digit_kelvin = 3.0;
    double warm_kelvin = 6.0;  // from about here on a part is called warm (common practice)
    // Words (estimates).
    double model_wrong_word = 0.05;  // share of machines that say something else than the model has them say
    double misread_word = 0.012;     // share of words written down wrongly
    double odd_reading = 0.02;       // share of readings that mean nothing: a slipped probe, a wrong line
    // Of those, the share that the machine itself brings about (a leak that nobody models): taken again they
    // are the same, where a slip of the hand does not come back.
    double odd_again = 0.5;
    // Share of readings in which an effect outside the catalogue shows: nobody knows, so that a rare, a usual
    // and a frequent one are weighed alike.
    std::array<double, 3> unknown_shows{0.03, 0.1, 0.3};
    // Of what the model leaves out, as a share of variance: common to all readings of a quantity on a machine
    // (estimate), since the same machine is off by the same parts each time.
    double common_share = 0.75;
    double machine_common_share = 0.97;  // of what one machine has and keeps
    friend bool operator==(const AccuracyOptions&, const AccuracyOptions&) = default;
};

// What sets the number on either side is different, so that how far a machine is off its model on one side
// says nothing of the other: below, a short or a winding; above, the insides of chips.
inline constexpr double few_ohms = 100.0;
// Below, mostly what leaks into a net that nothing feeds; above, a regulator or a charger.
inline constexpr double strays_below_volts = 1.5;

// Whether ohms count as open: OL and a number that high are the same finding, since meters and patience
// differ (common practice).
inline bool reads_open(const std::optional<double>& ohms, const AccuracyOptions& accuracy = {}) {
    return !ohms || *ohms > accuracy.over_limit_ohms;
}

}  // namespace eh
