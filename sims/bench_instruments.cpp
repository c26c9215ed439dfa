// SPDX-License-Identifier: GPL-3.0-or-later
#include "sims/bench_instruments.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <cmath>
#include <sstream>

#include "core/base/text.h"

namespace eh::sims {
namespace {

constexpr double over_range = 9.9e37;  // SCPI-99: infinity
constexpr double dmm_volts_share = 0.0005;
constexpr double dmm_volts_digit = 0.0005;
constexpr double dmm_ohms_share = 0.002;
constexpr double dmm_lead_ohms = 0.02;
constexpr double supply_share = 0.001;
constexpr double supply_digit = 0.001;
constexpr double supply_most_volts = 32.0;
constexpr double supply_most_amps = 10.0;

std::string number(double value) {
    return machine_number("%+.5E", value);
}

std::string trimmed(const std::string& text) {
    const auto first = text.find_first_not_of(" \t\r\n");
    const auto last = text.find_last_not_of(" \t\r\n");
    return first == std::string::npos ? std::string() : text.substr(first, last - first + 1);
}

double noisy(double value, double share, double digit, Random& noise) {
    return value + 0.5 * std::hypot(share * value, digit) * noise.normal();
}

}  // namespace

std::string ScpiInstrument::answer(const std::string& line, double now_s) {
    std::string replies;
    std::istringstream parts(line);
    for (std::string part; std::getline(parts, part, ';');)
        one(trimmed(part), now_s, replies);
    return replies;
}

void ScpiInstrument::one(const std::string& text, double now_s, std::string& replies) {
    if (text.empty())
        return;
    const auto blank = text.find(' ');
    std::string command = text.substr(text.front() == ':' ? 1 : 0, blank);
    if (text.front() == ':' && blank != std::string::npos)
        command = text.substr(1, blank - 1);
    const std::string value = blank == std::string::npos ? std::string() : trimmed(text.substr(blank));
    std::transform(command.begin(), command.end(), command.begin(),
                   [](unsigned char c) { return static_cast<char>(std::toupper(c)); });
    std::string reply;
    if (command == "*IDN?") {
        reply = std::string("Eager Hound,") + identity() + ",1,1";
    } else if (command == "*CLS") {
        errors_.clear();
    } else if (command == "SYST:ERR?") {
        reply = errors_.empty() ? "0,\"No error\"" : errors_.front();
        if (!errors_.empty())
            errors_.erase(errors_.begin());
    } else if (!carry_out(command, value, now_s, reply)) {
        // SCPI-99 error numbers: -113 undefined header.
        note_error("-113,\"Undefined header; " + command + "\"");
    }
    if (!reply.empty())
        replies += (replies.empty() ? "" : ";") + reply;
}

const char* SimulatedMultimeter::identity() const {
    return "simulated multimeter";
}

bool SimulatedMultimeter::carry_out(const std::string& command, const std::string& value, double now_s,
                                    std::string& reply) {
    if (command == "SIM:PROBE") {
        net_ = machine_->find_net(value);
        if (net_ < 0)
            note_error("-224,\"Illegal parameter value; there is no net " + value + "\"");
        return true;
    }
    if (command == "MEAS:VOLT:DC?") {
        const double volts = net_ < 0 ? 0.0 : machine_->net_volts(net_, now_s);
        reply = number(noisy(volts, dmm_volts_share, dmm_volts_digit, noise_));
        return true;
    }
    if (command == "MEAS:RES?") {
        const double ohms = net_ < 0 ? over_range : machine_->net_ohms(net_, now_s) + dmm_lead_ohms;
        reply = number(std::isfinite(ohms) && ohms < over_range
                           ? std::max(0.0, noisy(ohms, dmm_ohms_share, dmm_lead_ohms, noise_))
                           : over_range);
        return true;
    }
    if (command == "MEAS:CURR?") {
        // Its current jacks are not in any lead.
        reply = number(noisy(0.0, 0.0, 1e-5, noise_));
        return true;
    }
    return false;
}

const char* SimulatedSupply::identity() const {
    return "simulated supply";
}

bool SimulatedSupply::set(const std::string& value, double most, double& target) {
    double read = 0.0;
    const auto [end, problem] = std::from_chars(value.data(), value.data() + value.size(), read);
    if (problem != std::errc() || end != value.data() + value.size() || read < 0.0 || read > most) {
        note_error("-222,\"Data out of range; " + value + "\"");
        return false;
    }
    target = read;
    return true;
}

void SimulatedSupply::apply(double now_s) {
    if (on_ && !net_.empty() && volts_ > 0.0)
        machine_->feed(Injection{net_, volts_, amps_}, now_s);
    else
        machine_->feed(std::nullopt, now_s);
}

bool SimulatedSupply::carry_out(const std::string& command, const std::string& value, double now_s,
                                std::string& reply) {
    if (command == "SIM:CLIP") {
        if (machine_->find_net(value) < 0)
            note_error("-224,\"Illegal parameter value; there is no net " + value + "\"");
        else
            net_ = value;
        apply(now_s);
        return true;
    }
    if (command == "VOLT" || command == "CURR") {
        if (set(value, command == "VOLT" ? supply_most_volts : supply_most_amps,
                command == "VOLT" ? volts_ : amps_))
            apply(now_s);
        return true;
    }
    if (command == "OUTP") {
        if (value != "ON" && value != "OFF" && value != "1" && value != "0")
            note_error("-224,\"Illegal parameter value; " + value + "\"");
        on_ = value == "ON" || value == "1";
        apply(now_s);
        return true;
    }
    if (command == "VOLT?" || command == "CURR?") {
        reply = number(command == "VOLT?" ? volts_ : amps_);
        return true;
    }
    if (command == "OUTP?") {
        reply = on_ ? "1" : "0";
        return true;
    }
    const auto given = machine_->supply();
    if (command == "MEAS:VOLT?" || command == "MEAS:VOLT:DC?") {
        // With the clip on nothing the volts are those that are set.
        const double volts = on_ && net_.empty() ? volts_ : given.volts;
        reply = number(std::max(0.0, noisy(volts, supply_share, supply_digit, noise_)));
        return true;
    }
    if (command == "MEAS:CURR?") {
        reply = number(std::max(0.0, noisy(given.amps, supply_share, supply_digit, noise_)));
        return true;
    }
    return false;
}

}  // namespace eh::sims
