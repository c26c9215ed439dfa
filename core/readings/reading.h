// SPDX-License-Identifier: GPL-3.0-or-later
// A reading: what the technician took off an instrument or saw, where, and how the machine stood.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "core/readings/between_reading.h"
#include "core/readings/board_look_reading.h"
#include "core/readings/diode_reading.h"
#include "core/readings/firmware_reading.h"
#include "core/readings/hot_part_reading.h"
#include "core/readings/injection_reading.h"
#include "core/readings/look_reading.h"
#include "core/readings/meter_reading.h"
#include "core/readings/net_ohms_reading.h"
#include "core/readings/net_volts_reading.h"
#include "core/readings/pack_reading.h"
#include "core/readings/sign_reading.h"
#include "core/readings/talk_reading.h"
#include "core/readings/through_reading.h"
#include "core/readings/wiggle_reading.h"

namespace eh {

// The list of kinds, in the order of ReadingKind.
using ReadingValue =
    std::variant<MeterReading, NetVoltsReading, NetOhmsReading, HotPartReading, FirmwareReading,
                 WiggleReading, InjectionReading, LookReading, ThroughReading, DiodeReading, TalkReading,
                 BetweenReading, PackReading, SignReading, BoardLookReading>;
inline constexpr int reading_kind_count = static_cast<int>(std::variant_size_v<ReadingValue>);

struct Reading {
    std::string id;  // unique within its job
    BenchConfiguration configuration;
    ReadingValue value;
    bool set_aside = false;     // the technician no longer trusts it: kept, not counted
    std::int64_t taken_ms = 0;  // since the epoch, UTC; 0 when unknown
    std::string source;         // "typed", "captured", or the instrument's name
    std::string note;

    [[nodiscard]] ReadingKind kind() const { return static_cast<ReadingKind>(value.index()); }
    // The net or part it was taken at; empty where the kind has none.
    [[nodiscard]] std::string place() const;
    // Its values as those of a kind; nullptr where it is of another.
    template <typename Value>
    [[nodiscard]] const Value* as() const {
        return std::get_if<Value>(&value);
    }
    friend bool operator==(const Reading&, const Reading&) = default;
};

// A reading of the kind at a place with nothing seen yet.
ReadingValue blank_value(ReadingKind kind, const std::string& place);

// "meter", "volts", "ohms", "hot", "firmware", "wiggle", "inject", "look", "through", "diode",
// "talk", "between", "pack", "sign", "board": the words of the job file.
std::string to_text(ReadingKind kind);
std::optional<ReadingKind> reading_kind_from(const std::string& text);

// Readings of the multimeter with its black lead on ground or the part unplugged: the machine is off.
bool is_unpowered(ReadingKind kind);
// What is seen of parts, whatever is plugged in.
bool is_by_eye(ReadingKind kind);
// How parts looked: of one part, or what was found on the board; empty of other kinds.
std::vector<SeenPart> parts_seen(const Reading& reading);

// The number of such a reading, empty where it is over the meter's range; nullptr for other kinds.
std::optional<double>* number_when_off(Reading& reading);
const std::optional<double>* number_when_off(const Reading& reading);

// The number of the multimeter that such a reading is; none for ohms to ground and for other kinds. Requires
// a reading of this plan (check_reading).
std::optional<OffQuestion> off_question(const Reading& reading, const MachinePlan& plan);

// Why the bench does not stand as a reading of this kind needs it, for people; empty when it does.
std::string bench_conflict(ReadingKind kind, const BenchConfiguration& bench);

// Refused with a sentence where a value is none that a bench shows. `where` begins the sentence.
Outcome check_plausible(const Reading& reading, const std::string& where);
// Refused with a sentence that names the reading where it can be none of this machine: places that are not
// there, a bench that does not go with the kind, values that cannot be.
Outcome check_reading(const Reading& reading, const MachinePlan& plan);

// What it brings to the weighing of suspects. With an empty topology its channels are named by its place.
ReadingTerms reading_terms(const Reading& reading, const Topology& topology);

// Whether two readings of one kind, place and bench show the same within the instrument's accuracy. False for
// kinds that are not compared, and for two kinds.
bool show_the_same(const Reading& a, const Reading& b, const AccuracyOptions& accuracy);

// Outcomes of a kind coarse enough to be told apart at the bench, numbered from 0, and their words.
std::size_t outcome_count(ReadingKind kind, const MachinePlan& plan);
std::string outcome_text(ReadingKind kind, int outcome, const MachinePlan& plan);

// One line for people: "Port 2, side A, battery in: 5.02 V, 183 mA, steady".
std::string describe(const Reading& reading, const Topology& topology);
// The value alone: "5.02 V, 183 mA, steady", "3.30 Ω", "OL", "+32 K at the surge protector".
std::string describe_value(const Reading& reading, const Topology& topology);

}  // namespace eh
