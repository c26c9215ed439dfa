// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/port_ohms.h"

#include <cmath>

namespace eh {
namespace {

constexpr double high_source_ohms = 0.35;
constexpr double hot_contact_watts = 0.5;  // common practice: from about here on a plug gets warm
constexpr double sure = 2.0;               // standard deviations

}  // namespace

SourceOhms judge_source(const ResistanceEstimate& estimate) {
    if (estimate.low_ohms > high_source_ohms)
        return SourceOhms::high;
    return estimate.high_ohms < 0.0 ? SourceOhms::rising : SourceOhms::usual;
}

std::optional<ContactFinding> judge_contact(const MeterSummary& meter, double board_volts,
                                            const AccuracyOptions& accuracy) {
    if (meter.pattern != MeterPattern::steady)
        return std::nullopt;
    const auto contact =
        contact_resistance(meter.volts, board_volts, meter.amps,
                           std::hypot(accuracy.meter_volts_share * meter.volts, accuracy.meter_volts_digit),
                           std::hypot(accuracy.dmm_volts_share * board_volts, accuracy.dmm_volts_digit));
    if (!contact)
        return std::nullopt;
    ContactFinding finding{ContactOhms::cannot_tell, *contact, sure * contact->sigma_ohms};
    if (contact->heat_watts > hot_contact_watts && contact->ohms > finding.margin_ohms)
        finding.verdict = ContactOhms::hot;
    else if (contact->ohms - finding.margin_ohms > new_contact_ohms)
        finding.verdict = ContactOhms::above_new;
    return finding;
}

}  // namespace eh
