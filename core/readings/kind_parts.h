// SPDX-License-Identifier: GPL-3.0-or-later
// What several kinds of reading share. Internal to core/readings.
#pragma once

#include <optional>
#include <span>
#include <string>

#include "core/base/json_reader.h"
#include "core/electrics/engineering.h"
#include "core/machine/model/bench_configuration.h"
#include "core/machine/model/topology.h"
#include "core/readings/reading_terms.h"

namespace eh::kinds {

// The broad spread that stands for a reading that means nothing: what a bench can show at all (estimates).
inline constexpr double broad_volts_span = 22.0;    // to above the highest contract of 100 W
inline constexpr double broad_mean_amps = 1.0;      // exponential
inline constexpr double broad_ln_ohms_span = 19.0;  // 0.05 Ω to 10 MΩ
inline constexpr double broad_drop_span = 2.0;      // a multimeter's diode mode
inline constexpr double broad_percent_span = 100.0;
inline constexpr double broad_mean_rise = 30.0;  // exponential
inline constexpr double broad_nothing_warm = 0.3;
// Of ohms that may be OL.
double broad_ohms(bool over_limit);

// Fields of a job file; each throws JsonRefused with the field.
double plausible_number(const JsonReader& field, const std::string& key, Unit unit);
void check_unit(const JsonReader& field, const char* wanted);
std::optional<double> read_value_or_ol(const JsonReader& field, Unit unit, const char* name);
void write_value_or_ol(nlohmann::json& file, const std::optional<double>& value, const char* unit);
// The net or part that a kind cannot do without.
std::string place_of(const JsonReader& field);

// Refused where the machine has no such net.
Outcome has_net(const Topology& topology, const std::string& net, const std::string& where);
// Refused where a bench supply is set, which only an injection has.
Outcome without_supply(const BenchConfiguration& bench, const std::string& where);
// Both, for readings of a net without a supply.
Outcome fits_net(const std::string& net, const BenchConfiguration& bench, const Topology& topology,
                 const std::string& where);
Outcome plausible_or_ol(const std::optional<double>& value, Unit unit, const std::string& where);

// Bench conflicts of readings at a machine that is off, and of those that need it under power.
std::string must_be_off(const BenchConfiguration& bench);
std::string must_be_powered(const BenchConfiguration& bench);

// Nets that one cause moves together: those of a stage, and of a port where the stage has one for each.
std::string branch_of(const std::string& net, const Topology& topology);

// Channels of quirks (reading_terms.h) of such a number at a net.
std::string volts_quirk(double volts, const std::string& net, const BenchConfiguration& bench,
                        const Topology& topology);
std::string ohms_quirk(const std::optional<double>& ohms, const std::string& net, const Topology& topology);

// Values two readings agree within, of a share of the larger and a digit.
bool agree(double a, double b, double share, double digit);
bool agree_or_ol(const std::optional<double>& a, const std::optional<double>& b, double share, double digit);

// An outcome between edges in words: "below 0.30 Ω", "0.80 to 2.0 Ω", "over 18 V".
std::string range_text(std::span<const double> edges, int outcome, Unit unit);

}  // namespace eh::kinds
