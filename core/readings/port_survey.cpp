// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/port_survey.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <tuple>

#include "core/base/distributions.h"
#include "core/base/text.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

// Common practice: plugging in again moves what a machine draws by some percent and some digits.
constexpr double usual_share = 0.03;
constexpr double usual_amps = 0.008;
constexpr double usual_freedom = 6.0;  // readings that the usual scatter is worth
constexpr double probability = 0.995;  // two-sided 99 %: several pairs are looked at
constexpr double same_volts_share = 0.08;
constexpr double same_volts = 0.4;
// A difference of less than this does not matter.
constexpr double minor_amps = 0.05;
constexpr double minor_share = 0.25;

using Key = std::tuple<std::string, PlugSide, bool, Owner>;

struct Group {
    std::vector<const MeterReading*> readings;
};

Key key_of(const BenchConfiguration& bench) {
    return {bench.port, bench.side, !bench.battery_in, bench.charger};
}

bool same_machine(const BenchConfiguration& a, const BenchConfiguration& b) {
    return a.removed == b.removed && a.replaced == b.replaced && a.handled == b.handled && a.lent == b.lent &&
           a.button == b.button;
}

std::map<Key, Group> groups_of(const std::vector<Reading>& readings) {
    const auto counts = [](const Reading& reading) {
        return reading.kind() == ReadingKind::meter && !reading.set_aside &&
               feeds_machine(reading.configuration) && !reading.configuration.plug_held &&
               reading.configuration.moment == Moment::settled && !reading.configuration.port.empty();
    };
    const auto last = std::find_if(readings.rbegin(), readings.rend(), counts);
    std::map<Key, Group> groups;
    for (const Reading& reading : readings) {
        if (counts(reading) && same_machine(reading.configuration, last->configuration))
            groups[key_of(reading.configuration)].readings.push_back(reading.as<MeterReading>());
    }
    return groups;
}

// Scatter of the amps as a factor of what is usual at that level, with the readings that it rests on.
struct Scatter {
    double factor = 1.0;
    double freedom = usual_freedom;
};

double usual_sigma(double amps) {
    return std::hypot(usual_share * amps, usual_amps);
}

Scatter scatter_of(const std::map<Key, Group>& groups) {
    double squares = usual_freedom;
    Scatter scatter;
    for (const auto& [key, group] : groups) {
        double mean = 0.0;
        int count = 0;
        for (const MeterReading* reading : group.readings) {
            if (reading->amps_known && reading->meter.pattern == MeterPattern::steady) {
                mean += reading->meter.amps;
                ++count;
            }
        }
        if (count < 2)
            continue;
        mean /= count;
        for (const MeterReading* reading : group.readings) {
            if (reading->amps_known && reading->meter.pattern == MeterPattern::steady)
                squares += std::pow((reading->meter.amps - mean) / usual_sigma(mean), 2);
        }
        scatter.freedom += count - 1;
    }
    scatter.factor = std::sqrt(squares / scatter.freedom);
    return scatter;
}

PortRow row_of(const Key& key, const Group& group, const Scatter& scatter) {
    PortRow row;
    bool battery_out = false;
    std::tie(row.port, row.side, battery_out, row.charger) = key;
    row.battery_in = !battery_out;
    row.pattern = group.readings.back()->meter.pattern;
    int amps = 0;
    for (const MeterReading* reading : group.readings) {
        if (reading->meter.pattern != row.pattern)
            continue;
        ++row.readings;
        row.volts += reading->meter.volts;
        if (reading->amps_known) {
            row.amps += reading->meter.amps;
            ++amps;
        }
    }
    row.volts /= row.readings;
    row.amps_known = amps > 0 && row.pattern != MeterPattern::dark;
    if (row.amps_known) {
        row.amps /= amps;
        row.amps_sigma = scatter.factor * usual_sigma(row.amps) / std::sqrt(amps);
    }
    return row;
}

PortComparison compare(const std::vector<PortRow>& rows, std::size_t first, std::size_t second,
                       const Scatter& scatter) {
    const PortRow& a = rows[first];
    const PortRow& b = rows[second];
    PortComparison found{first, second, Likeness::cannot_tell, 0.0, 0.0, {}};
    if (a.pattern != b.pattern) {
        found.likeness = Likeness::different;
        found.why = to_text(a.pattern) + " against " + to_text(b.pattern);
        return found;
    }
    if (a.pattern == MeterPattern::dark || a.pattern == MeterPattern::flash) {
        found.likeness = Likeness::alike;
        found.why = "both " + to_text(a.pattern);
        return found;
    }
    if (std::abs(a.volts - b.volts) > same_volts + same_volts_share * std::min(a.volts, b.volts)) {
        found.likeness = Likeness::different;
        found.why =
            format_quantity(a.volts, Unit::volts) + " against " + format_quantity(b.volts, Unit::volts);
        return found;
    }
    if (!a.amps_known || !b.amps_known) {
        found.why = "the amps were not written down";
        return found;
    }
    found.amps = b.amps - a.amps;
    found.noise_amps =
        student_quantile(probability, scatter.freedom) * std::hypot(a.amps_sigma, b.amps_sigma);
    found.why = number_text("%.3f A", a.amps) + " against " + number_text("%.3f A", b.amps);
    const double matters = std::max(minor_amps, minor_share * std::max(a.amps, b.amps));
    if (std::abs(found.amps) > found.noise_amps) {
        found.likeness = Likeness::different;
        found.why += ": more than the noise (" + number_text("%.3f A", found.noise_amps) + ")";
    } else if (found.noise_amps > matters) {
        found.why += ": the noise would hide a difference (" + number_text("%.3f A", found.noise_amps) +
                     "); measure again";
    } else {
        found.likeness = Likeness::alike;
        found.why += ": within the noise (" + number_text("%.3f A", found.noise_amps) + ")";
    }
    return found;
}

std::string title_of(const Topology& topology, const std::string& port) {
    const Port* found = topology.find_port(port);
    return found == nullptr ? port : found->title;
}

// Ports that differ from each other, by the pairs that were compared.
void judge(PortSurvey& survey, const Topology& topology) {
    std::set<std::string> ports;
    for (const PortRow& row : survey.rows)
        ports.insert(row.port);
    if (ports.size() < 2 || survey.of_ports.empty()) {
        survey.says =
            topology.ports.size() < 2
                ? "This machine has one inlet: there is nothing to compare it with."
                : "Measure a second port the same way: two that differ point at a port, two that are "
                  "alike at what they share.";
        return;
    }
    std::map<std::string, int> different;
    int differing = 0;
    int unsure = 0;
    std::string why;
    for (const PortComparison& pair : survey.of_ports) {
        unsure += pair.likeness == Likeness::cannot_tell ? 1 : 0;
        if (pair.likeness != Likeness::different)
            continue;
        ++differing;
        ++different[survey.rows[pair.first].port];
        ++different[survey.rows[pair.second].port];
        why = pair.why;
    }
    if (differing == 0) {
        survey.verdict = unsure > 0 ? PortsVerdict::cannot_tell : PortsVerdict::alike;
        survey.says =
            unsure > 0
                ? "Not enough to tell: measure the ports again, the same way."
                : "All ports measured are alike. If that is wrong, look at what they share: on a chain "
                  "of controllers any one of them stops all.";
        return;
    }
    for (const auto& [port, count] : different) {
        // It takes part in every difference, and no other port does in all of them.
        const bool only = std::count_if(different.begin(), different.end(),
                                        [&](const auto& other) { return other.second == differing; }) == 1;
        if (count == differing && only) {
            survey.verdict = PortsVerdict::one_stands_out;
            survey.odd_port = port;
            survey.says = title_of(topology, port) + " differs from the others (" + why +
                          "): look at what only this port has.";
            return;
        }
    }
    survey.verdict = PortsVerdict::different;
    survey.says = ports.size() == 2
                      ? "The two ports differ (" + why + "): the worse one's own parts are suspect."
                      : "The ports differ in more than one way (" + why + ").";
}

void find_missing(PortSurvey& survey, const Topology& topology, const std::map<Key, Group>& groups) {
    for (const Port& port : topology.ports) {
        for (const PlugSide side : {PlugSide::a, PlugSide::b}) {
            const bool turns = port.family == "usb-c" || port.family == "magnetic";
            const bool seen = std::any_of(groups.begin(), groups.end(), [&](const auto& group) {
                return std::get<0>(group.first) == port.id && std::get<1>(group.first) == side;
            });
            if (seen || (!turns && side == PlugSide::b))
                continue;
            survey.missing.push_back(port.title +
                                     (turns ? side == PlugSide::a ? ", side A" : ", side B" : ""));
        }
    }
}

}  // namespace

PortSurvey survey_ports(const std::vector<Reading>& readings, const Topology& topology) {
    PortSurvey survey;
    const auto groups = groups_of(readings);
    const Scatter scatter = scatter_of(groups);
    for (const auto& [key, group] : groups)
        survey.rows.push_back(row_of(key, group, scatter));
    for (std::size_t a = 0; a < survey.rows.size(); ++a) {
        for (std::size_t b = a + 1; b < survey.rows.size(); ++b) {
            const PortRow& first = survey.rows[a];
            const PortRow& second = survey.rows[b];
            const bool port = first.port == second.port;
            const bool side = first.side == second.side;
            const bool battery = first.battery_in == second.battery_in;
            if (first.charger != second.charger)
                continue;
            if (!port && side && battery)
                survey.of_ports.push_back(compare(survey.rows, a, b, scatter));
            else if (port && !side && battery)
                survey.of_sides.push_back(compare(survey.rows, a, b, scatter));
            else if (port && side && !battery)
                survey.of_batteries.push_back(compare(survey.rows, a, b, scatter));
        }
    }
    judge(survey, topology);
    find_missing(survey, topology, groups);
    return survey;
}

}  // namespace eh
