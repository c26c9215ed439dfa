#include "core/diagnosis/outcome_bins.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/electrics/engineering.h"

namespace eh {
namespace {

// Edges between outcomes. Volts: between the contracts and between the usual rails.
constexpr std::array meter_volt_edges{4.4, 6.0, 10.0, 13.0, 17.0, 18.4};
constexpr std::array<const char*, 7> meter_volt_names{
    "below 4.4 V", "about 5 V", "about 9 V", "about 12 V", "about 15 V", "17 to 18 V", "18.5 V or more"};
constexpr std::array meter_amp_edges{0.03, 0.09, 0.2, 0.4, 0.9, 1.6, 2.6};
constexpr std::array<const char*, 8> meter_amp_names{"almost no current", "0.03 to 0.09 A", "0.09 to 0.2 A",
                                                     "0.2 to 0.4 A",      "0.4 to 0.9 A",   "0.9 to 1.6 A",
                                                     "1.6 to 2.6 A",      "over 2.6 A"};
constexpr std::array rail_edges{0.15, 0.5, 1.0, 1.6,  2.4,  3.0,  3.6, 4.4,
                                5.6,  7.0, 9.5, 12.0, 14.0, 17.0, 18.4};
constexpr std::array ohm_edges{0.3, 0.8, 2.0, 5.0, 12.0, 30.0, 100.0, 1e3, 1e4, 1e5, 1e6};
constexpr double warm_kelvin = 6.0;
constexpr int amp_count = static_cast<int>(meter_amp_names.size());
constexpr int volt_count = static_cast<int>(meter_volt_names.size());

template <typename Edges>
int bin(const Edges& edges, double x) {
    return static_cast<int>(std::upper_bound(edges.begin(), edges.end(), x) - edges.begin());
}

template <typename Edges>
std::string range_text(const Edges& edges, int b, Unit unit) {
    const auto n = static_cast<int>(edges.size());
    if (b == 0)
        return "below " + format_quantity(edges[0], unit, 2);
    if (b == n)
        return "over " + format_quantity(edges[static_cast<std::size_t>(n - 1)], unit, 2);
    return format_quantity(edges[static_cast<std::size_t>(b - 1)], unit, 2) + " to " +
           format_quantity(edges[static_cast<std::size_t>(b)], unit, 2);
}

}  // namespace

int outcome_of(ReadingKind kind, const PoweredView& view, int net) {
    switch (kind) {
        case ReadingKind::meter: {
            const auto pattern = static_cast<int>(view.meter.pattern);
            if (view.meter.pattern == MeterPattern::dark || view.meter.pattern == MeterPattern::flash)
                return pattern;
            const int level =
                bin(meter_volt_edges, view.meter.volts) * amp_count + bin(meter_amp_edges, view.meter.amps);
            return 4 + level * 2 + (view.meter.pattern == MeterPattern::cycling ? 1 : 0);
        }
        case ReadingKind::net_volts:
            return bin(rail_edges, view.net_volts[static_cast<std::size_t>(net)]);
        case ReadingKind::firmware:
            return static_cast<int>(view.firmware);
        case ReadingKind::hot_part: {
            const auto hottest = std::max_element(view.rise_kelvin.begin(), view.rise_kelvin.end());
            return *hottest < warm_kelvin ? 0 : 1 + static_cast<int>(hottest - view.rise_kelvin.begin());
        }
        case ReadingKind::wiggle:
        case ReadingKind::net_ohms:
            break;
    }
    return 0;
}

int outcome_of_ohms(double ohms) {
    return bin(ohm_edges, ohms);
}

std::string outcome_text(ReadingKind kind, int outcome, const MachinePlan& plan) {
    switch (kind) {
        case ReadingKind::meter: {
            if (outcome == static_cast<int>(MeterPattern::dark))
                return "meter dark";
            if (outcome == static_cast<int>(MeterPattern::flash))
                return "lit for a moment, then dark";
            const int level = (outcome - 4) / 2;
            const bool cycling = (outcome - 4) % 2 != 0;
            return std::string(meter_volt_names[static_cast<std::size_t>(level / amp_count)]) + ", " +
                   meter_amp_names[static_cast<std::size_t>(level % amp_count)] +
                   (cycling ? ", coming and going" : "");
        }
        case ReadingKind::net_volts:
            return range_text(rail_edges, outcome, Unit::volts);
        case ReadingKind::net_ohms:
            return outcome == static_cast<int>(ohm_edges.size()) ? "OL"
                                                                 : range_text(ohm_edges, outcome, Unit::ohms);
        case ReadingKind::firmware: {
            Reading reading;
            reading.kind = ReadingKind::firmware;
            reading.firmware = static_cast<FirmwareMessage>(outcome);
            return describe_value(reading, plan.topology());
        }
        case ReadingKind::hot_part: {
            if (outcome == 0)
                return "nothing warm";
            const std::string& id = plan.blocks[static_cast<std::size_t>(outcome - 1)].id;
            const Block* block = plan.topology().find_block(id);
            return (block == nullptr ? id : block->title) + " hottest";
        }
        case ReadingKind::wiggle:
            return outcome == 1 ? "drops out" : "holds";
    }
    return {};
}

}  // namespace eh
