// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/battery_command.h"

#include "core/battery/battery_log.h"
#include "core/battery/charge_course.h"
#include "core/battery/uevent.h"
#include "core/job/job_json.h"

namespace eh::cli {
namespace {

using nlohmann::json;

void put_if(json& target, const char* key, const std::optional<double>& value) {
    if (value)
        target[key] = *value;
}

json report_json(const BatteryReport& report) {
    json j{{"status", describe(report.status)}, {"findings", findings(report)}, {"remarks", report.remarks}};
    put_if(j, "volts", report.volts);
    put_if(j, "amps", report.amps);
    put_if(j, "watts", report.watts);
    put_if(j, "percent", report.percent);
    put_if(j, "full_wh", report.full_wh);
    put_if(j, "design_wh", report.design_wh);
    put_if(j, "health", report.health);
    put_if(j, "limit_percent", report.limit_percent);
    put_if(j, "celsius", report.celsius);
    if (report.cycles)
        j["cycles"] = *report.cycles;
    return j;
}

json verdict_json(const ChargingVerdict& verdict) {
    json j{{"state", describe(verdict.state)},
           {"says", verdict.says},
           {"volts_a_minute", verdict.slope_v_a_min},
           {"volts_a_minute_95", {verdict.slope_low, verdict.slope_high}},
           {"charge_state", verdict.charge_state},
           {"pack_ohms", verdict.pack_ohms},
           {"wait_s", verdict.wait_s}};
    put_if(j, "step_volts", verdict.step_volts);
    put_if(j, "pack_watts", verdict.pack_watts);
    return j;
}

Result<json> time_json(const BatteryLog& log, const ChargingFacts& facts, const BatteryReport* report) {
    ChargeSetup setup;
    setup.pack = facts.pack;
    if (report != nullptr && report->percent)
        setup.charge_state = *report->percent / 100.0;
    if (report != nullptr && report->watts && *report->watts > 0.0)
        setup.watts = *report->watts;
    setup.stop_at = log.limit.value_or(1.0);
    if (setup.charge_state >= setup.stop_at)
        return json{{"expected_s", 0.0}};
    const auto time = time_to_full(setup);
    if (!time)
        return time.error();
    return json{{"expected_s", time->expected_s}, {"least_s", time->least_s}, {"most_s", time->most_s}};
}

}  // namespace

Result<json> battery(const Knowledge& knowledge, const std::string& text, const std::string& file) {
    BatteryLog log;
    const auto first = text.find_first_not_of(" \t\r\n");
    if (first != std::string::npos && text[first] == '{') {
        const auto job = parse_job(text, file);
        if (!job)
            return job.error();
        log = job->battery;
    } else {
        log.report = text;
    }
    json answer = json::object();
    std::optional<BatteryReport> report;
    if (!log.report.empty()) {
        auto parsed = parse_uevent(log.report);
        if (!parsed)
            return parsed.error();
        report = std::move(parsed).value();
        answer["report"] = report_json(*report);
        if (log.readings.empty())
            take_report(log, log.report, *report, knowledge.chemistries);
    }
    const ChargingFacts facts = facts_of(log, knowledge.chemistries);
    answer["pack"] = {{"cells", facts.pack.cells.id},
                      {"in_series", facts.pack.in_series},
                      {"capacity_wh", facts.pack.capacity_wh},
                      {"full_volts", facts.pack.full_volts()}};
    if (!log.readings.empty())
        answer["verdict"] = verdict_json(judge_charging(facts, log.readings));
    if (report) {
        auto time = time_json(log, facts, &*report);
        if (!time)
            return time.error();
        answer["time_to_full"] = std::move(time).value();
    }
    if (!report && log.readings.empty())
        return refused("this job has neither battery readings nor a report of the machine", file);
    return answer;
}

}  // namespace eh::cli
