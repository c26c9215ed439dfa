// SPDX-License-Identifier: GPL-3.0-or-later
#include "sims/bench_machine.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <sstream>

#include "core/base/random.h"

namespace eh::sims {
namespace {

// A plug that is pulled stays out for this long before it goes in elsewhere: nobody is faster.
constexpr double replug_s = 0.6;
constexpr double volts_that_disturb = 0.05;  // an ohmmeter's own test volts are not much more

PartDraw draw_of(const BenchMachineOptions& options) {
    PartDraw draw;
    draw.seed = options.seed;
    draw.typical = options.typical;
    Random random(options.seed);
    draw.severity = options.typical ? 0.5 : random.uniform();
    return draw;
}

}  // namespace

BenchMachine::BenchMachine(const MachinePlan& plan, const BenchMachineOptions& options)
    : plan_(&plan), model_(plan, options.faults, draw_of(options)) {
    configuration_.port = plan.topology().ports.front().id;
    configuration_.charger_connected = options.plugged;
    restart(0.0);
}

void BenchMachine::restart(double now_s) {
    course_ = run_course(model_, configuration_, solver_);
    plugged_at_s_ = now_s + replug_s;
}

void BenchMachine::feed(const std::optional<Injection>& injection, double now_s) {
    if (configuration_.injection == injection)
        return;
    configuration_.injection = injection;
    restart(now_s);
}

const Phase* BenchMachine::plugged_phase(double now_s) const {
    const bool plugged = configuration_.charger_connected && now_s >= plugged_at_s_;
    return plugged ? &phase_at(course_, now_s - plugged_at_s_) : nullptr;
}

int BenchMachine::find_net(const std::string& id) const {
    const auto& nets = plan_->topology().nets;
    const auto found = std::find_if(nets.begin(), nets.end(), [&](const Net& net) { return net.id == id; });
    return found == nets.end() ? -1 : static_cast<int>(found - nets.begin());
}

double BenchMachine::net_volts(int net, double now_s) const {
    const Phase& phase = phase_at(course_, std::max(0.0, now_s - plugged_at_s_));
    const auto node = static_cast<std::size_t>(plan_->net_nodes[static_cast<std::size_t>(net)]);
    const auto error = model_.error_of(plan_->multimeter);
    return error.shows_nothing || phase.node_volts.empty() ? 0.0
                                                           : error.volts_factor * phase.node_volts[node];
}

double BenchMachine::net_ohms(int net, double now_s) {
    if (std::abs(net_volts(net, now_s)) > volts_that_disturb)
        return std::numeric_limits<double>::infinity();
    model_.configure(electrical_part(unpowered(configuration_)));
    const double ohms = model_.ohms_to_ground(net, solver_);
    model_.configure(configuration_);
    return ohms;
}

BenchMachine::Supply BenchMachine::supply() const {
    if (!configuration_.injection)
        return {};
    const Phase& last = course_.phases.back();
    return {last.meter_volts, last.meter_amps};
}

std::string BenchMachine::change(const std::string& what, const std::string& value) {
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
        configuration_.handled.clear();
        configuration_.removed.clear();
        configuration_.power_was_cut = false;
        return "ok";
    }
    if (what == "power" && value == "cut") {
        configuration_.power_was_cut = true;
        return "ok";
    }
    const auto handling = work_from(what);
    if (handling && has_one_remedy(*handling)) {
        if (plan_->find_block(value) < 0)
            return "error there is no part " + value;
        note_work(configuration_, value, *handling);
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
    return "error commands are port, side, battery, charger, lead, replaced, removed, refitted, clean, "
           "reseat, "
           "resolder, bridge, reset, wait, change_setting, power cut and fresh parts";
}

std::string BenchMachine::command(const std::string& line, double now_s) {
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
