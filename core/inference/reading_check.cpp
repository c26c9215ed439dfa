// SPDX-License-Identifier: GPL-3.0-or-later
// Whether a reading can be one of this machine: places that are there, values that can be.
#include "core/electrics/engineering.h"
#include "core/inference/ranking.h"

namespace eh {

Outcome check_reading(const Reading& reading, const MachinePlan& plan) {
    const Topology& topology = plan.topology();
    const std::string where = "reading " + reading.id;
    const auto& configuration = reading.configuration;
    if (configuration.charger_connected && topology.find_port(configuration.port) == nullptr)
        return refused("this machine has no port “" + configuration.port + "”", where);
    const bool of_net = reading.kind == ReadingKind::net_volts || reading.kind == ReadingKind::net_ohms ||
                        reading.kind == ReadingKind::diode;
    if (of_net && topology.find_net(reading.place) == nullptr)
        return refused("this machine has no net “" + reading.place + "”", where);
    const bool of_part = reading.kind == ReadingKind::hot_part || reading.kind == ReadingKind::injection;
    if (of_part && !reading.place.empty() && topology.find_block(reading.place) == nullptr)
        return refused("this machine has no part “" + reading.place + "”", where);
    if (of_part && !(reading.certainty > 0.0 && reading.certainty <= 1.0))
        return refused("how sure it is that this part is the one lies between 0 and 100 %", where);
    const bool of_one_part = reading.kind == ReadingKind::look || reading.kind == ReadingKind::through;
    const int part = plan.find_block(reading.place);
    if (of_one_part && part < 0)
        return refused("this machine has no part “" + reading.place + "”", where);
    if (reading.kind == ReadingKind::through && !plan.blocks[static_cast<std::size_t>(part)].kind->pinned_out)
        return refused("“" + reading.place + "” has no two ends to measure between", where);
    if ((reading.kind == ReadingKind::injection) != configuration.injection.has_value())
        return refused(
            "a reading by injection names the net, volts and limit of the bench supply, others none", where);
    if (configuration.injection && topology.find_net(configuration.injection->net) == nullptr)
        return refused("this machine has no net “" + configuration.injection->net + "”", where);
    const bool needs_charger = reading.kind == ReadingKind::meter || reading.kind == ReadingKind::wiggle;
    if (needs_charger && !configuration.charger_connected)
        return refused("a reading at the plug needs the charger connected", where);
    switch (reading.kind) {
        case ReadingKind::meter:
            if (auto volts = check_plausible(reading.meter.volts, Unit::volts, where); !volts)
                return volts;
            return check_plausible(reading.meter.amps, Unit::amps, where);
        case ReadingKind::net_volts:
            return check_plausible(reading.value, Unit::volts, where);
        case ReadingKind::net_ohms:
        case ReadingKind::through:
            return reading.over_limit ? Outcome(Done{}) : check_plausible(reading.value, Unit::ohms, where);
        case ReadingKind::diode:
            return reading.over_limit ? Outcome(Done{}) : check_plausible(reading.value, Unit::volts, where);
        case ReadingKind::injection:
            if (auto volts = check_plausible(reading.meter.volts, Unit::volts, where); !volts)
                return volts;
            if (auto amps = check_plausible(reading.meter.amps, Unit::amps, where); !amps)
                return amps;
            return check_plausible(reading.value, Unit::kelvin, where);
        case ReadingKind::hot_part:
            return check_plausible(reading.value, Unit::kelvin, where);
        case ReadingKind::firmware:
            if (reading.percent && (*reading.percent < 0.0 || *reading.percent > 100.0))
                return refused("a battery is between 0 and 100 % full", where);
            break;
        case ReadingKind::wiggle:
        case ReadingKind::look:
        case ReadingKind::talk:
            break;
    }
    return Done{};
}

}  // namespace eh
