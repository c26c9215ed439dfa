// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/simulation/observation.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

#include "core/base/word_list.h"
#include "core/machine/simulation/tester_course.h"
#include "core/trace/inline_meter.h"

namespace eh {
namespace {

// How a technician watches: from the moment things repeat, for a stretch that holds several cycles.
constexpr double watch_s = 12.0;
constexpr double prediction_rate_hz = 20.0;
constexpr double prediction_gap_s = 0.35;
constexpr double meter_warm_up_s = 3.0;
// No part of a board stays warmer than this above the room: it sheds the more heat the warmer it is, its chip
// stops itself, or it is gone (common practice).
constexpr double highest_rise_kelvin = 180.0;

// Time-weighted mean over the part of the course that lasts: its last phase, or one whole cycle.
template <typename Get>
std::vector<float> lasting_mean(const Course& course, std::size_t size, Get get) {
    const std::size_t first = course.cycling ? course.cycle_from : course.phases.size() - 1;
    std::vector<double> mean(size, 0.0);
    double total_s = 0.0;
    for (std::size_t p = first; p < course.phases.size(); ++p) {
        const double share = std::isfinite(course.phases[p].duration_s) ? course.phases[p].duration_s : 1.0;
        for (std::size_t i = 0; i < size; ++i)
            mean[i] += share * get(course.phases[p], i);
        total_s += share;
    }
    std::vector<float> result;
    result.reserve(size);
    for (const double value : mean)
        result.push_back(static_cast<float>(total_s > 0.0 ? value / total_s : value));
    return result;
}

// Whether the last phase finds an adapter that feeds the machine beyond 5 V.
bool adapter_counts(const Phase& last) {
    return last.source == SourceState::live && last.meter_amps > 0.0 && last.contract_volts > 8.5;
}

SignState sign_state_of(const Course& course) {
    if (course.machine_restarts)
        return SignState::restarts;
    switch (course.stage) {
        case MachineStage::off:
            return SignState::off;
        case MachineStage::stuck:
            return SignState::stuck;
        case MachineStage::standby:
            return course.cycling || adapter_counts(course.phases.back()) ? SignState::waits_on_adapter
                                                                          : SignState::waits_on_pack;
        case MachineStage::booting:
        case MachineStage::running:
            break;
    }
    return SignState::runs;
}

FirmwareMessage firmware_of(const MachineModel& model, const Course& course) {
    if (!course.machine_started)
        return FirmwareMessage::none;
    if (!course.cycling && !adapter_counts(course.phases.back()))
        return FirmwareMessage::on_battery;
    if (course.charging)
        return FirmwareMessage::charging;
    if (model.plan().pack >= 0 && !model.condition(model.plan().pack).present)
        return FirmwareMessage::no_battery;
    if (!model.firmware_says().empty()) {
        const auto says =
            firmware_message_from(model.firmware_says()).value_or(FirmwareMessage::not_charging);
        const bool held = says == FirmwareMessage::charge_limit || says == FirmwareMessage::full;
        const bool silent = held && model.has(Habit::limit_is_silent);
        return silent ? FirmwareMessage::not_charging : says;
    }
    return course.charge_refused ? FirmwareMessage::adapter_unknown : FirmwareMessage::not_charging;
}

// As PoweredView::adapter_watts. A barrel adapter is known by its ID line, a USB-C charger by what it agreed
// on; without an agreement it counts as the least that Type-C gives, 15 W (specification, from memory).
double adapter_watts_of(const MachineModel& model, const Course& course) {
    constexpr double shows_no_page = -1.0;
    if (!course.machine_started || course.phases.empty())
        return shows_no_page;
    const Phase& last = course.phases.back();
    if (last.source != SourceState::live || model.plugged_port() < 0)
        return 0.0;
    const bool negotiates = model.plan().blocks[static_cast<std::size_t>(model.charger_block())].kind->role ==
                            BlockRole::source_pd;
    if (!negotiates && course.charge_refused)
        return 0.0;
    double watts = 0.0;
    for (const ChargerOffer& offer : model.charger_spec().offers) {
        if (!negotiates || offer.volts < last.contract_volts + 0.5)
            watts = std::max(watts, offer.volts * model.promised_of(offer.amps));
    }
    return watts;
}

// Requires a pack.
double pack_delivers_amps(const MachineModel& model, const Phase& phase) {
    const PlanBlock& pack = model.plan().blocks[static_cast<std::size_t>(model.plan().pack)];
    double amps = 0.0;
    for (int e = pack.first_element; e < pack.first_element + pack.element_count; ++e) {
        const Element& element = model.circuit().element({e});
        if (std::holds_alternative<LimitedSource>(element))
            amps += element_amps(element, phase.node_volts);
    }
    return amps;
}

std::optional<ChargeTrend> trend_of(const MachineModel& model, const Course& course) {
    constexpr double draws_amps = 0.1;    // an hour of it is seen in the percentage
    constexpr double slowly_share = 0.4;  // of the watts that the pack takes
    const int pack = model.plan().pack;
    const Phase& last = course.phases.back();
    if (!course.machine_started || pack < 0 || !model.condition(pack).present || last.node_volts.empty())
        return std::nullopt;
    if (course.charging && course.cycling)
        return ChargeTrend::rising_with_breaks;
    if (course.charging) {
        const double share =
            model.param(pack, "charging_watts") / std::max(1e-9, model.param(pack, "charge_watts"));
        return share < slowly_share ? ChargeTrend::rising_slowly : ChargeTrend::rising;
    }
    return pack_delivers_amps(model, last) > draws_amps ? ChargeTrend::falling : ChargeTrend::flat;
}

// Whether charger and lead promise clearly less than chargers for this machine have at the volts agreed on.
bool promises_too_little(const MachineModel& model, double agreed_volts) {
    constexpr double enough_share = 0.7;  // of the amps (estimate)
    constexpr double same_volts = 0.5;
    const auto& offers = model.charger_spec().offers;
    return std::any_of(offers.begin(), offers.end(), [&](const ChargerOffer& offer) {
        return std::abs(offer.volts - agreed_volts) < same_volts &&
               model.promised_of(offer.amps) < enough_share * offer.amps;
    });
}

bool adapter_is_weak(const MachineModel& model, const Course& course) {
    if (!course.machine_started || course.cycling)
        return false;
    const Phase& last = course.phases.back();
    if (last.source != SourceState::live)
        return course.talk == NegotiationEnd::short_offer;
    return !adapter_counts(last) || course.talk == NegotiationEnd::short_offer ||
           promises_too_little(model, last.contract_volts);
}

// Whether a started machine holds a contract of which nothing reaches its charging circuit.
bool contract_ends_before_charger(const MachineModel& model, const Course& course) {
    constexpr double arrives_share = 0.6;  // of the contract's volts; charging circuits want most of them
    const Phase& last = course.phases.back();
    if (!course.machine_started || course.cycling || course.charging || !adapter_counts(last) ||
        last.node_volts.empty())
        return false;
    const MachinePlan& plan = model.plan();
    return !plan.chargers.empty() &&
           std::none_of(plan.chargers.begin(), plan.chargers.end(), [&](const int charger) {
               const PlanBlock& block = plan.blocks[static_cast<std::size_t>(charger)];
               for (int e = block.first_element; e < block.first_element + block.element_count; ++e) {
                   const auto* stage = std::get_if<Regulator>(&model.circuit().element({e}));
                   if (stage != nullptr && last.node_volts[static_cast<std::size_t>(stage->in.index)] >
                                               arrives_share * last.contract_volts)
                       return true;
               }
               return false;
           });
}

// How far below its volts the charger stands in the phases that last or repeat.
float sag_of(const Course& course, std::size_t first_phase) {
    double sag = 0.0;
    for (std::size_t i = first_phase; i < course.phases.size(); ++i) {
        const Phase& phase = course.phases[i];
        if (phase.source == SourceState::live && phase.contract_volts > 0.0)
            sag = std::max(sag, 1.0 - phase.meter_volts / phase.contract_volts);
    }
    return static_cast<float>(std::clamp(sag, 0.0, 1.0));
}

}  // namespace

std::vector<MeterSample> meter_stream(const Course& course, double from_s, double to_s, double rate_hz) {
    InlineMeter meter;
    std::vector<MeterSample> samples;
    // The meter's past decides whether it is lit, so it is followed from before the stretch.
    const double start_s = std::max(0.0, from_s - meter_warm_up_s);
    const auto count = static_cast<long>(std::ceil((to_s - start_s) * rate_hz));
    const Phase* phase = nullptr;
    double phase_ends = start_s;
    for (long i = 0; i < count; ++i) {
        const double t_s = start_s + static_cast<double>(i) / rate_hz;
        if (phase == nullptr || t_s >= phase_ends) {
            phase = &phase_at(course, t_s);
            phase_ends = phase_ends_s(course, t_s);
        }
        if (meter.lit(t_s, phase->meter_volts) && t_s >= from_s)
            samples.push_back({t_s, phase->meter_volts, phase->meter_amps});
    }
    return samples;
}

double settled_rise(double rise_kelvin) {
    return rise_kelvin / (1.0 + std::max(0.0, rise_kelvin) / highest_rise_kelvin);
}

double unsettled_rise(double settled_kelvin) {
    constexpr double nearly = 0.999;
    const double below = std::min(settled_kelvin, nearly * highest_rise_kelvin);
    return below / (1.0 - std::max(0.0, below) / highest_rise_kelvin);
}

HottestPart hottest_part(const PoweredView& view) {
    const auto hottest = std::max_element(view.rise_kelvin.begin(), view.rise_kelvin.end());
    return {static_cast<std::size_t>(hottest - view.rise_kelvin.begin()), *hottest};
}

// The course as if it had stopped where a glance in the first seconds finds it: nothing has started yet that
// could say something of itself.
Course at_a_glance(Course course, double quantile) {
    constexpr double earliest_s = 0.7;  // the meter is lit, and somebody looks
    constexpr double latest_s = 10.0;   // who looks later has waited (estimates)
    const double glance_s = earliest_s * std::pow(latest_s / earliest_s, quantile);
    Phase seen = phase_at(course, glance_s);
    seen.start_s = 0.0;
    seen.duration_s = std::numeric_limits<double>::infinity();
    course.phases = {std::move(seen)};
    course.cycling = course.machine_started = course.charging = course.machine_restarts = false;
    course.stage = MachineStage::standby;
    return course;
}

PoweredView look_at(MachineModel& model, const BenchConfiguration& configuration, DcSolver& solver,
                    const CourseOptions& options) {
    const bool alone = configuration.charger_connected && !feeds_machine(configuration);
    Course course = alone ? run_at_tester(model, configuration, solver)
                          : run_course(model, configuration, solver, options);
    if (configuration.moment == Moment::at_once)
        course = at_a_glance(std::move(course), model.glance_quantile());
    PoweredView view;
    view.valid = !course.solver_failed;
    view.source_strained = course.source_strained;
    const std::size_t repeats = course.cycling ? course.cycle_from : course.phases.size() - 1;
    if (course.source_strained)
        view.sag = sag_of(course, repeats);
    const double from_s = course.phases[repeats].start_s + meter_warm_up_s;
    if (configuration.charger_connected) {
        const auto stream = meter_stream(course, from_s, from_s + watch_s, prediction_rate_hz);
        SummaryOptions regular;
        regular.gap_s = prediction_gap_s;
        view.meter = summarise(stream, from_s, from_s + watch_s, regular);
        if (view.meter.pattern == MeterPattern::dark &&
            !meter_stream(course, 0.0, from_s, prediction_rate_hz).empty())
            view.meter.pattern = MeterPattern::flash;
    }
    if (configuration.injection) {
        view.meter.pattern = MeterPattern::steady;
        view.meter.volts = course.phases.back().meter_volts;
        view.meter.amps = course.phases.back().meter_amps;
    }
    const MachinePlan& plan = model.plan();
    const std::size_t blocks = plan.topology().blocks.size();
    if (course.phases.back().node_volts.empty()) {
        view.valid = false;
        view.net_volts = std::vector<float>(plan.net_nodes.size(), 0.0F);
        view.net_ohms = std::vector<float>(plan.net_nodes.size(), 0.0F);
        view.rise_kelvin = std::vector<float>(blocks, 0.0F);
        return view;
    }
    const auto meter_error = model.error_of(plan.inline_meter);
    view.meter.volts *= meter_error.volts_factor;
    view.meter.amps *= meter_error.amps_factor;
    const auto error = model.error_of(plan.multimeter);
    const double shown = error.shows_nothing ? 0.0 : error.volts_factor;
    view.net_volts = lasting_mean(course, plan.net_nodes.size(), [&](const Phase& phase, std::size_t net) {
        return shown * phase.node_volts[static_cast<std::size_t>(plan.net_nodes[net])];
    });
    if (view.valid) {
        for (const double ohms : solver.driving_point_ohms(plan.net_nodes))
            view.net_ohms.own().push_back(static_cast<float>(ohms));
    } else {
        view.net_ohms = std::vector<float>(plan.net_nodes.size(), 0.0F);
    }
    view.rise_kelvin = lasting_mean(course, blocks, [&](const Phase& phase, std::size_t block) {
        return phase.block_watts[block] * plan.blocks[block].kind->heat_kelvin_per_watt;
    });
    for (float& rise : view.rise_kelvin.own())
        rise = static_cast<float>(settled_rise(double{rise}));
    view.first_shunt_watts =
        lasting_mean(course, 1, [](const Phase& phase, std::size_t) { return phase.first_shunt_watts; })[0];
    view.firmware = firmware_of(model, course);
    const SignTable& habits = plan.knowledge().signs;
    const bool pack_refuses =
        course.machine_started && model.firmware_says() == to_text(FirmwareMessage::not_charging);
    view.called_slow = adapter_is_weak(model, course) ? habits.call_it_slow : 0.0F;
    view.asks_for_service = pack_refuses ? habits.ask_for_service : 0.0F;
    view.called_on_battery = contract_ends_before_charger(model, course) ? habits.go_by_charger_input : 0.0F;
    view.trend = trend_of(model, course);
    view.signs = habits.of_state[static_cast<std::size_t>(sign_state_of(course))];
    view.talk = course.talk;
    view.battery_percent = model.battery_percent();
    view.adapter_watts = static_cast<float>(adapter_watts_of(model, course));
    if (plan.pack >= 0) {
        view.pack_health = static_cast<float>(model.param(plan.pack, "health"));
        view.pack_health_width = static_cast<float>(model.param(plan.pack, "health_width"));
    }
    view.drop_probability = model.drop_probability();
    return view;
}

namespace {
constexpr std::array<const char*, firmware_message_count> message_names{
    "none", "charging",   "not_charging", "adapter_unknown", "charge_limit",
    "full", "on_battery", "no_battery",   "slow_charger",    "service_battery"};
constexpr std::array<const char*, charge_trend_count> trend_names{"rising", "rising_slowly",
                                                                  "rising_with_breaks", "flat", "falling"};

}  // namespace

MessageShares message_shares(const PoweredView& view) {
    MessageShares shares{};
    double rest = 1.0;
    const auto give = [&](FirmwareMessage message, double share) {
        shares[static_cast<std::size_t>(message)] += share;
        rest -= share;
    };
    give(FirmwareMessage::slow_charger, double{view.called_slow});
    give(FirmwareMessage::service_battery, double{view.asks_for_service});
    give(FirmwareMessage::on_battery, double{view.called_on_battery});
    give(view.firmware, rest);
    return shares;
}

std::string to_text(FirmwareMessage message) {
    return message_names[static_cast<std::size_t>(message)];
}

std::optional<FirmwareMessage> firmware_message_from(const std::string& text) {
    return value_of_word<FirmwareMessage>(message_names, text);
}

std::string to_text(ChargeTrend trend) {
    return trend_names[static_cast<std::size_t>(trend)];
}

std::optional<ChargeTrend> charge_trend_from(const std::string& text) {
    return value_of_word<ChargeTrend>(trend_names, text);
}

}  // namespace eh
