// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/path_view.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/quantile.h"
#include "core/machine/model/fault_reach.h"
#include "core/machine/model/net_index.h"
#include "core/prediction/median_of_views.h"

namespace eh {
namespace {

// The most frequent pattern, with median volts and amps of the samples that show it.
MeterSummary typical_meter(const std::vector<PoweredView>& views) {
    std::array<int, 4> counts{};
    for (const PoweredView& view : views)
        ++counts[static_cast<std::size_t>(view.meter.pattern)];
    MeterSummary summary;
    summary.pattern =
        static_cast<MeterPattern>(std::max_element(counts.begin(), counts.end()) - counts.begin());
    std::vector<PoweredView> alike;
    std::copy_if(views.begin(), views.end(), std::back_inserter(alike), [&](const PoweredView& view) {
        return view.valid && view.meter.pattern == summary.pattern;
    });
    if (alike.empty())
        return summary;
    summary.volts = median_of(alike, [](const PoweredView& view) { return view.meter.volts; });
    summary.amps = median_of(alike, [](const PoweredView& view) { return view.meter.amps; });
    summary.period_s = median_of(alike, [](const PoweredView& view) { return view.meter.period_s; });
    return summary;
}

std::size_t index_of(const std::vector<Hypothesis>& hypotheses, HypothesisKind kind) {
    return static_cast<std::size_t>(std::find_if(hypotheses.begin(), hypotheses.end(),
                                                 [&](const Hypothesis& h) { return h.kind == kind; }) -
                                    hypotheses.begin());
}

}  // namespace

PathView path_view(const PredictionTable& table, const Ranking& ranking,
                   const BenchConfiguration& configuration) {
    PathView view;
    view.configuration = configuration;
    const Topology& topology = table.plan().topology();
    const std::size_t sound = index_of(table.hypotheses(), HypothesisKind::nothing_wrong);
    if (const auto column = table.known_powered(configuration)) {
        std::size_t leading = sound;
        for (const Suspicion& suspicion : ranking.suspicions) {
            if (table.hypotheses()[suspicion.hypothesis].kind != HypothesisKind::none_of_these) {
                leading = suspicion.hypothesis;
                break;
            }
        }
        for (std::size_t n = 0; n < topology.nets.size(); ++n) {
            const auto volts = [n](const PoweredView& v) { return v.net_volts[n]; };
            view.nets.push_back({topology.nets[n].id, median_of((*column)[sound], volts),
                                 median_of((*column)[leading], volts)});
        }
        view.sound_meter = typical_meter((*column)[sound]);
        view.likely_meter = typical_meter((*column)[leading]);
    }
    for (std::size_t n = 0; n < topology.nets.size(); ++n) {
        const auto column = table.known_ohms(configuration, static_cast<int>(n));
        view.sound_ohms.push_back(column == nullptr ? std::numeric_limits<double>::quiet_NaN()
                                                    : median((*column)[sound]));
    }
    return view;
}

namespace {

using Views = std::vector<PoweredView>;

// What most of the views say, of `count` things that one of them can say.
template <typename Value, typename Of>
Value most_said(const Views& views, int count, const Of& of) {
    std::vector<int> said(static_cast<std::size_t>(count), 0);
    for (const PoweredView& view : views)
        ++said[static_cast<std::size_t>(of(view))];
    return static_cast<Value>(std::max_element(said.begin(), said.end()) - said.begin());
}

// What the hypothesis makes hottest, wherever it was found.
HotPartReading expected_hottest(const HotPartReading& seen, const MachinePlan& plan, const Views& views) {
    std::vector<double> votes(plan.blocks.size() + 1, 0.0);
    for (const PoweredView& view : views) {
        const HottestPart hottest = hottest_part(view);
        ++votes[hottest.kelvin < AccuracyOptions{}.warm_kelvin ? 0 : hottest.block + 1];
    }
    const auto most = static_cast<std::size_t>(std::max_element(votes.begin(), votes.end()) - votes.begin());
    HotPartReading expected = seen;
    expected.part = most == 0 ? std::string() : plan.blocks[most - 1].id;
    if (most > 0 && seen.rise_kelvin)
        expected.rise_kelvin =
            median_of(views, [most](const PoweredView& v) { return v.rise_kelvin[most - 1]; });
    return expected;
}

// Readings of the multimeter at a machine that is off; empty where none is known.
std::optional<Reading> expected_unpowered(const PredictionTable& table, std::size_t hypothesis,
                                          const Reading& reading) {
    const auto column = known_number_column(table, reading);
    if (column == nullptr)
        return std::nullopt;
    Reading expected = reading;
    const double number = median((*column)[hypothesis]);
    const bool open = reading.kind() == ReadingKind::diode ? !std::isfinite(number)
                                                           : !(number < AccuracyOptions{}.over_limit_ohms);
    *number_when_off(expected) = open ? std::nullopt : std::optional(number);
    auto* through = std::get_if<ThroughReading>(&expected.value);
    if (through != nullptr && through->changes_when_pushed)
        through->changes_when_pushed = push_probability(table.plan(), table.hypotheses()[hypothesis].faults,
                                                        through->part, reading.configuration) > 0.5;
    return expected;
}

// The numbers of a page as the views have them, as far as they were read.
SettingsPage expected_page(const SettingsPage& seen, const Views& views) {
    SettingsPage expected;
    const double watts = median_of(views, [](const PoweredView& v) { return double{v.adapter_watts}; });
    if (seen.adapter_watts && watts >= 0.0)
        expected.adapter_watts = watts;
    if (seen.health_percent)
        expected.health_percent =
            median_of(views, [](const PoweredView& v) { return double{v.pack_health}; });
    return expected;
}

// What the views make of a reading of a machine under power: one function a kind.
struct ExpectedFromViews {
    const MachinePlan& plan;
    const Views& views;

    ReadingValue operator()(const MeterReading& seen) const {
        return MeterReading{typical_meter(views), seen.amps_known};
    }
    ReadingValue operator()(const NetVoltsReading& seen) const {
        const auto net = static_cast<std::size_t>(net_index(plan.topology(), seen.net));
        return NetVoltsReading{seen.net,
                               median_of(views, [net](const PoweredView& v) { return v.net_volts[net]; }),
                               std::nullopt};
    }
    ReadingValue operator()(const InjectionReading& seen) const {
        InjectionReading expected = seen;
        expected.supply.volts = median_of(views, [](const PoweredView& v) { return v.meter.volts; });
        expected.supply.amps = median_of(views, [](const PoweredView& v) { return v.meter.amps; });
        expected.hottest = expected_hottest(seen.hottest, plan, views);
        return expected;
    }
    ReadingValue operator()(const HotPartReading& seen) const { return expected_hottest(seen, plan, views); }
    ReadingValue operator()(const FirmwareReading& seen) const {
        FirmwareReading expected{most_said<FirmwareMessage>(views, firmware_message_count,
                                                            [](const PoweredView& v) { return v.firmware; }),
                                 std::nullopt, std::nullopt, expected_page(seen.page, views)};
        if (seen.trend) {
            const auto trend = most_said<int>(views, charge_trend_count + 1, [](const PoweredView& v) {
                return v.trend ? static_cast<int>(*v.trend) : charge_trend_count;
            });
            if (trend < charge_trend_count)
                expected.trend = static_cast<ChargeTrend>(trend);
        }
        if (seen.percent)
            expected.percent = median_of(views, [](const PoweredView& v) { return v.battery_percent.value; });
        return expected;
    }
    ReadingValue operator()(const TalkReading&) const {
        return TalkReading{most_said<NegotiationEnd>(views, negotiation_end_count,
                                                     [](const PoweredView& v) { return v.talk; })};
    }
    ReadingValue operator()(const SignReading&) const {
        return SignReading{most_said<MachineSign>(views, machine_sign_count, [](const PoweredView& v) {
            return static_cast<MachineSign>(std::max_element(v.signs.begin(), v.signs.end()) -
                                            v.signs.begin());
        })};
    }
    ReadingValue operator()(const WiggleReading&) const {
        return WiggleReading{median_of(views, [](const PoweredView& v) { return v.drop_probability; }) > 0.5};
    }
    // What is not read under power is not expected of it.
    template <typename Value>
    ReadingValue operator()(const Value& seen) const {
        return seen;
    }
};

}  // namespace

std::string expectation_text(const PredictionTable& table, std::size_t hypothesis, const Reading& reading) {
    const MachinePlan& plan = table.plan();
    if (table.hypotheses()[hypothesis].kind == HypothesisKind::none_of_these)
        return "anything";
    if (const auto* look = reading.as<LookReading>()) {
        const LookShares shares =
            look_shares(plan, table.hypotheses()[hypothesis].faults, look->part, reading.configuration);
        return describe(static_cast<Look>(std::max_element(shares.begin(), shares.end()) - shares.begin()));
    }
    if (is_unpowered(reading.kind())) {
        const auto expected = expected_unpowered(table, hypothesis, reading);
        return expected ? describe_value(*expected, plan.topology()) : std::string();
    }
    const auto column = table.known_powered(reading.configuration);
    if (column == nullptr)
        return {};
    Reading expected = reading;
    expected.value = std::visit(ExpectedFromViews{plan, (*column)[hypothesis]}, reading.value);
    return describe_value(expected, plan.topology());
}

}  // namespace eh
