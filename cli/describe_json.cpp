// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/describe_json.h"

#include <algorithm>

#include "core/inference/path_view.h"
#include "core/readings/reading_json.h"

namespace eh::cli {

using nlohmann::json;

namespace {

const char* kind_name(HypothesisKind kind) {
    switch (kind) {
        case HypothesisKind::fault:
            return "fault";
        case HypothesisKind::nothing_wrong:
            return "nothing_wrong";
        case HypothesisKind::none_of_these:
            return "none_of_these";
    }
    return "";
}

json reasons(const Suspicion& suspicion, const PredictionTable& table, const std::vector<Reading>& readings) {
    json list = json::array();
    for (const Evidence& evidence : suspicion.evidence) {
        const auto reading = std::find_if(readings.begin(), readings.end(),
                                          [&](const Reading& r) { return r.id == evidence.reading_id; });
        if (reading == readings.end())
            continue;
        list.push_back({{"reading", evidence.reading_id},
                        {"seen", describe_value(*reading, table.plan().topology())},
                        {"expected", expectation_text(table, suspicion.hypothesis, *reading)},
                        {"weight", evidence.weight}});
    }
    return list;
}

}  // namespace

json to_json(const Ranking& ranking, const PredictionTable& table, const std::vector<Reading>& readings) {
    json suspects = json::array();
    for (const PartSuspicion& part : ranking.parts) {
        const Suspicion& leading = ranking.suspicions[part.leading_hypothesis];
        const Hypothesis& hypothesis = table.hypotheses()[leading.hypothesis];
        json suspect{{"kind", kind_name(part.kind)},
                     {"probability", part.probability},
                     {"title", hypothesis_title(hypothesis, table.plan())},
                     {"prior", leading.prior},
                     {"because", reasons(leading, table, readings)}};
        if (!part.block.empty()) {
            suspect["part"] = part.block;
            suspect["fault"] = fault_at(hypothesis, part.block)->fault;
        }
        suspects.push_back(std::move(suspect));
    }
    json odd = json::array();
    for (const OddReading& reading : ranking.odd)
        odd.push_back({{"reading", reading.reading_id}, {"share_unexplained", reading.share_unexplained}});
    return {{"suspects", std::move(suspects)}, {"odd_readings", std::move(odd)}};
}

json explanations_to_json(const Ranking& ranking, const PredictionTable& table,
                          const std::vector<Reading>& readings) {
    json list = json::array();
    for (const Suspicion& suspicion : ranking.suspicions) {
        const Hypothesis& hypothesis = table.hypotheses()[suspicion.hypothesis];
        json faults = json::array();
        for (const FaultInstance& fault : hypothesis.faults)
            faults.push_back({{"part", fault.block}, {"fault", fault.fault}});
        list.push_back({{"kind", kind_name(hypothesis.kind)},
                        {"title", hypothesis_title(hypothesis, table.plan())},
                        {"faults", std::move(faults)},
                        {"probability", suspicion.probability},
                        {"prior", suspicion.prior},
                        {"because", reasons(suspicion, table, readings)}});
    }
    return list;
}

json to_json(const BenchConfiguration& configuration) {
    return json::parse(configuration_to_text(configuration));
}

json to_json(const MeterSummary& meter) {
    json j{{"pattern", to_text(meter.pattern)}};
    if (meter.pattern == MeterPattern::steady || meter.pattern == MeterPattern::cycling) {
        j["volts"] = meter.volts;
        j["amps"] = meter.amps;
    }
    if (meter.pattern == MeterPattern::cycling)
        j["period_s"] = meter.period_s;
    return j;
}

json to_json(const NextAct& act, const MachinePlan& plan) {
    json j{{"act", act.repair ? "repair" : "read"},
           {"title", describe(act, plan)},
           {"minutes", act.minutes},
           {"setup_minutes", act.setup_minutes},
           {"risk_minutes", act.risk_minutes}};
    if (act.repair) {
        j["part"] = act.fault.block;
        j["fault"] = act.fault.fault;
        j["remedy"] = to_text(act.remedy);
        if (act.cures < 1.0)
            j["cures"] = act.cures;
        return j;
    }
    j["reading"] = to_text(act.reading);
    if (!act.place.empty())
        j["place"] = act.place;
    j["configuration"] = to_json(act.configuration);
    for (const Handling& work : act.work_first)
        j["work_first"].push_back({{"part", work.block}, {"work", to_text(work.work)}});
    if (act.cut_power_first)
        j["cut_power_first"] = true;
    j["bits"] = act.bits;
    j["bits_per_minute"] = act.bits_per_minute;
    j["saving_minutes"] = act.saving_minutes;
    json tells = json::array();
    for (const Telling& telling : act.tells)
        tells.push_back(
            {{"shows", telling.shows},
             {"probability", telling.probability},
             {"leads_to", telling.kind == HypothesisKind::fault ? telling.block : kind_name(telling.kind)},
             {"with_probability", telling.leading_probability}});
    j["tells"] = std::move(tells);
    return j;
}

json to_json(const CustomerQuestion& question) {
    return {{"fact", question.fact},
            {"question", question.words},
            {"yes_probability", question.yes},
            {"bits", question.bits},
            {"minutes", question.minutes}};
}

json to_json(const Survey& survey) {
    json ways = json::array();
    for (const BenchConfiguration& way : survey.ways)
        ways.push_back(to_json(way));
    return {{"ways", std::move(ways)}, {"minutes", survey.minutes}};
}

namespace {

const char* word_of(HourEnd end) {
    switch (end) {
        case HourEnd::goes_on:
            break;
        case HourEnd::hour_over:
            return "hour_over";
        case HourEnd::nothing_left:
            return "nothing_left";
        case HourEnd::all_put_right:
            return "all_put_right";
        case HourEnd::not_followed:
            return "not_followed";
    }
    return "goes_on";
}

json steps_json(const std::vector<HourStep>& steps, const MachinePlan& plan) {
    if (steps.empty())
        return nullptr;
    const HourStep& step = steps.front();
    json forks = json::array();
    for (const HourFork& fork : step.forks) {
        json one{{"probability", fork.probability}, {"end", word_of(fork.end)}};
        if (!fork.shows.empty()) {
            one["shows"] = fork.shows;
            one["leads_to"] = fork.kind == HypothesisKind::fault ? fork.block : kind_name(fork.kind);
            one["with_probability"] = fork.leading_probability;
        }
        if (!fork.then.empty())
            one["then"] = steps_json(fork.then, plan);
        forks.push_back(std::move(one));
    }
    json act = to_json(step.act, plan);
    act.erase("tells");
    return {{"act", std::move(act)}, {"begins_minutes", step.begins_minutes}, {"forks", std::move(forks)}};
}

}  // namespace

json to_json(const HourPlan& hour, const MachinePlan& plan) {
    return {{"first", steps_json(hour.first, plan)}, {"end", word_of(hour.end)}};
}

}  // namespace eh::cli
