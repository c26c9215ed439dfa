#include "sims/meter_bench.h"

#include <algorithm>
#include <cmath>
#include <sstream>

#include "core/machine/port_talk.h"

namespace eh::sims {
namespace {

// A plug that is pulled stays out for this long before it goes in elsewhere: nobody is faster.
constexpr double replug_s = 0.6;
// Noise of the meter: one digit of the last place, and what flickers in a machine that runs.
constexpr double volts_noise = 0.004;
constexpr double amps_noise = 0.002;
constexpr double load_flicker_share = 0.03;
constexpr double digit = 0.001;

PartDraw draw_of(const MeterBenchOptions& options) {
    PartDraw draw;
    draw.seed = options.seed;
    draw.typical = options.typical;
    Random random(options.seed);
    draw.severity = options.typical ? 0.5 : random.uniform();
    return draw;
}

double rounded(double value) {
    return std::round(value / digit) * digit;
}

}  // namespace

MeterBench::MeterBench(const MachinePlan& plan, const MeterBenchOptions& options)
    : plan_(&plan),
      options_(options),
      model_(plan, options.faults, draw_of(options)),
      meter_({options.meter_dies_below_volts, options.meter_wakes_after_s}),
      noise_(options.seed ^ 0x5eedULL) {
    configuration_.port = plan.topology().ports.front().id;
    configuration_.charger_connected = options.plugged;
    restart(0.0);
}

void MeterBench::restart(double now_s) {
    course_ = run_course(model_, configuration_, solver_);
    plugged_at_s_ = now_s + replug_s;
}

std::vector<MeterSample> MeterBench::advance(double now_s) {
    std::vector<MeterSample> samples;
    for (; static_cast<double>(next_sample_) / options_.rate_hz <= now_s; ++next_sample_) {
        const double t_s = static_cast<double>(next_sample_) / options_.rate_hz;
        const bool plugged = configuration_.charger_connected && t_s >= plugged_at_s_;
        const Phase* phase = plugged ? &phase_at(course_, t_s - plugged_at_s_) : nullptr;
        const double volts = phase == nullptr ? 0.0 : phase->meter_volts;
        if (!meter_.lit(t_s, volts))
            continue;
        const double flicker = phase->meter_amps > 0.25 ? load_flicker_share * phase->meter_amps : 0.0;
        samples.push_back(
            {t_s, rounded(std::max(0.0, volts + volts_noise * noise_.normal())),
             rounded(std::max(0.0, phase->meter_amps + (amps_noise + flicker) * noise_.normal()))});
    }
    return samples;
}

std::vector<pd::SeenFrame> MeterBench::talk(double seconds) const {
    std::vector<pd::SeenFrame> seen;
    const int line = configuration_.side == PlugSide::a ? 1 : 2;
    for (const pd::Frame& frame : port_talk(model_, course_, seconds))
        seen.push_back({frame, line});
    return seen;
}

std::string MeterBench::change(const std::string& what, const std::string& value) {
    const auto owner = [&](Owner& target) -> std::string {
        if (value != "bench" && value != "customer")
            return "error " + what + " is bench or customer";
        target = value == "customer" ? Owner::customer : Owner::bench;
        return "ok";
    };
    const auto in_or_out = [&](bool& target, const char* yes, const char* no) -> std::string {
        if (value != yes && value != no)
            return "error " + what + " is " + yes + " or " + no;
        target = value == yes;
        return "ok";
    };
    if (what == "port") {
        if (plan_->port_index(value) < 0)
            return "error there is no port " + value;
        configuration_.port = value;
        return "ok";
    }
    if (what == "side") {
        if (value != "a" && value != "b")
            return "error side is a or b";
        configuration_.side = value == "b" ? PlugSide::b : PlugSide::a;
        return "ok";
    }
    if (what == "battery")
        return in_or_out(configuration_.battery_in, "in", "out");
    if (what == "charger" && (value == "on" || value == "off"))
        return in_or_out(configuration_.charger_connected, "on", "off");
    if (what == "charger")
        return owner(configuration_.charger);
    if (what == "lead")
        return owner(configuration_.lead);
    if (what == "fresh" && value == "parts") {
        configuration_.replaced.clear();
        configuration_.removed.clear();
        return "ok";
    }
    if (what == "replaced" || what == "removed" || what == "refitted") {
        if (plan_->find_block(value) < 0)
            return "error there is no part " + value;
        erase_block(configuration_.removed, value);
        if (what == "replaced")
            insert_block(configuration_.replaced, value);
        if (what == "removed")
            insert_block(configuration_.removed, value);
        return "ok";
    }
    return "error commands are port, side, battery, charger, lead, replaced, removed, refitted and fresh "
           "parts";
}

std::string MeterBench::command(const std::string& line, double now_s) {
    std::istringstream stream(line);
    std::string what;
    std::string value;
    stream >> what >> value;
    const BenchConfiguration before = configuration_;
    std::string answer = change(what, value);
    if (configuration_ != before)
        restart(now_s);
    return answer;
}

}  // namespace eh::sims
