// SPDX-License-Identifier: GPL-3.0-or-later
// What ohms before and behind the meter at the plug mean.
#pragma once

#include <optional>

#include "core/readings/accuracy.h"
#include "core/trace/source_resistance.h"

namespace eh {

enum class SourceOhms {
    usual,   // a charger's droop and its cable
    high,    // more than both within what they may have
    rising,  // the volts rise with the load: the charger makes up for its cable
};

// With the 95 % interval on one side of the bound; usual where it lies on both. Bound: a cable within its
// allowed drop of 0.75 V at 3 A (USB Type-C specification) and a droop of 0.1 ohm (estimate).
SourceOhms judge_source(const ResistanceEstimate& estimate);

// Of a new receptacle: 40 milliohm a contact, four in parallel (USB Type-C specification).
inline constexpr double new_contact_ohms = 0.040 / 4.0;

enum class ContactOhms {
    cannot_tell,  // within what the two instruments leave open
    above_new,    // surely more than a new contact has
    hot,          // and so much heat in it that the plug gets warm: not to be left unattended
};

struct ContactFinding {
    ContactOhms verdict = ContactOhms::cannot_tell;
    ContactResistance contact;
    double margin_ohms = 0.0;  // two standard deviations
};

// From the meter's level and the volts on the board behind the inlet at the same time. None where the meter
// shows no steady level, or less than 0.1 A.
std::optional<ContactFinding> judge_contact(const MeterSummary& meter, double board_volts,
                                            const AccuracyOptions& accuracy = {});

}  // namespace eh
