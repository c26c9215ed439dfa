// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/job_json.h"

#include <nlohmann/json.hpp>
#include <set>

#include "core/base/json_fields.h"
#include "core/base/json_text.h"
#include "core/base/text.h"
#include "core/job/design_lesson_json.h"
#include "core/readings/reading_json.h"

namespace eh {

using nlohmann::json;

namespace {

constexpr int job_format_version = 1;
constexpr const char* job_format = "eager-hound.job";
constexpr std::size_t most_readings = 5000;  // a long job has a few hundred

// --- writing
// ------------------------------------------------------------------------------------------------

json write(const Reading& reading) {
    return write_reading(reading);
}

json write(const Ticket& t) {
    json j{{"topology", t.topology}, {"ask_before_data_loss", t.ask_before_data_loss}};
    put_if(j, "number", t.number);
    put_if(j, "customer", t.customer);
    put_if(j, "machine", t.machine);
    put_if(j, "claim", t.claim);
    put_if(j, "brought", t.brought);
    put_if(j, "return_of", t.return_of);
    put_if(j, "price_limit", t.price_limit);
    put_if(j, "estimate", t.estimate);
    if (!t.facts.empty())
        j["facts"] = t.facts;
    if (!t.fact_places.empty())
        j["fact_places"] = t.fact_places;
    if (!t.facts_denied.empty())
        j["facts_denied"] = t.facts_denied;
    if (!t.facts_unknown.empty())
        j["facts_unknown"] = t.facts_unknown;
    if (!t.kind_seen)
        j["kind_seen"] = false;
    if (!t.like_its_kind)
        j["like_its_kind"] = false;
    return j;
}

json write(const Act& a) {
    json j{{"id", a.id}, {"kind", to_text(a.kind)}, {"minutes", a.minutes}, {"cost", a.cost}};
    put_if(j, "block", a.block);
    put_if(j, "part_origin", a.part_origin);
    put_if(j, "origin", a.origin);
    put_if(j, "note", a.note);
    put_if(j, "solder", a.solder);
    put_if(j, "school", a.school);
    if (a.done_ms != 0)
        j["done_ms"] = a.done_ms;
    return j;
}

json write(const Finding& f) {
    return {{"id", f.id}, {"text", f.text}, {"noted_ms", f.noted_ms}};
}

json write(const ProofStep& p) {
    json j{{"id", p.id},
           {"kind", to_text(p.kind)},
           {"configuration", write_configuration(p.configuration)},
           {"state", to_text(p.state)}};
    put_if(j, "place", p.place);
    put_if(j, "reading", p.reading_id);
    put_if(j, "reason", p.reason);
    put_if(j, "check", p.check);
    put_if(j, "says", p.says);
    if (p.minutes != 0.0)
        j["minutes"] = p.minutes;
    if (p.started_ms != 0)
        j["started_ms"] = p.started_ms;
    return j;
}

json write(const Handover& h) {
    json j{{"warranty_months", h.warranty_months}};
    put_if(j, "found", h.found);
    put_if(j, "done", h.done);
    put_if(j, "advice", h.advice);
    put_if(j, "price", h.price);
    put_if(j, "unproven_reason", h.unproven_reason);
    if (h.handed_ms != 0)
        j["handed_ms"] = h.handed_ms;
    if (h.follow_up_ms != 0)
        j["follow_up_ms"] = h.follow_up_ms;
    put_if(j, "follow_up", h.follow_up);
    if (h.traces != SheetTraces{})
        j["traces"] = write_traces(h.traces);
    return j;
}

template <typename T>
json write_all(const std::vector<T>& items) {
    json list = json::array();
    for (const T& item : items)
        list.push_back(write(item));
    return list;
}

// --- reading
// ------------------------------------------------------------------------------------------------

std::optional<double> optional_number(const JsonReader& field, const std::string& key) {
    return field.has(key) ? std::optional(field.number(key)) : std::nullopt;
}

// A fact has one answer; within a list it may stand twice.
void refuse_two_answers(const JsonReader& field, const Ticket& t) {
    std::set<std::string> answered;
    for (const auto* list : {&t.facts, &t.facts_denied, &t.facts_unknown}) {
        for (const std::string& fact : *list) {
            if (answered.count(fact) != 0)
                field.refuse("the fact " + in_quotes(fact) +
                             " has two answers: it belongs in one of facts, facts_denied and facts_unknown");
        }
        answered.insert(list->begin(), list->end());
    }
}

// Places of facts that hold; of others nothing can be known.
std::map<std::string, std::vector<std::string>> read_fact_places(const JsonReader& field, const Ticket& t) {
    constexpr std::size_t most_places = 16;
    std::map<std::string, std::vector<std::string>> places;
    if (!field.has("fact_places"))
        return places;
    const JsonReader all = field.at("fact_places");
    for (const auto& [fact, at] : all.members()) {
        if (std::find(t.facts.begin(), t.facts.end(), fact) == t.facts.end())
            at.refuse("places are given for " + in_quotes(fact) + ", which is not among the facts");
        places[fact] = all.texts(fact);
        if (places[fact].size() > most_places)
            at.refuse("a fact has at most 16 places");
    }
    return places;
}

Ticket read_ticket(const JsonReader& field) {
    Ticket t;
    if (!field.text("topology").empty())
        t.topology = field.identifier<TopologyId>("topology");
    t.number = field.text("number", "");
    t.customer = field.text("customer", "");
    t.machine = field.text("machine", "");
    t.claim = field.text("claim", "");
    t.brought = field.text("brought", "");
    t.return_of = field.text("return_of", "");
    t.facts = field.texts("facts");
    t.facts_denied = field.texts("facts_denied");
    t.facts_unknown = field.texts("facts_unknown");
    refuse_two_answers(field, t);
    t.fact_places = read_fact_places(field, t);
    t.price_limit = optional_number(field, "price_limit");
    t.estimate = optional_number(field, "estimate");
    t.ask_before_data_loss = field.boolean("ask_before_data_loss", true);
    t.kind_seen = field.boolean("kind_seen", true);
    t.like_its_kind = field.boolean("like_its_kind", true);
    return t;
}

Act read_act(const JsonReader& field) {
    Act a;
    a.id = field.text("id");
    const std::string kind = field.text("kind");
    a.kind = work_from(kind).value_or(Work::other);
    a.block = field.text("block", "");
    a.part_origin = field.text("part_origin", "");
    a.origin = field.text("origin", "");
    a.minutes = field.number("minutes", 0.0);
    a.cost = field.number("cost", 0.0);
    a.note = field.text("note", "");
    // A word that is not known here stays readable.
    if (!work_from(kind))
        a.note = a.note.empty() ? kind : kind + ": " + a.note;
    a.done_ms = field.integer("done_ms", 0);
    a.solder = field.text("solder", "");
    a.school = field.text("school", "");
    return a;
}

ProofStep read_proof(const JsonReader& field) {
    ProofStep p;
    p.id = field.text("id");
    p.kind = read_word(field.at("kind"), &reading_kind_from);
    p.configuration = read_configuration(field.at("configuration"));
    p.place = field.text("place", "");
    p.state = read_word(field.at("state"), &proof_state_from);
    p.reading_id = field.text("reading", "");
    p.reason = field.text("reason", "");
    p.check = field.text("check", "");
    p.says = field.text("says", "");
    p.minutes = field.number("minutes", 0.0);
    p.started_ms = field.integer("started_ms", 0);
    return p;
}

Handover read_handover(const JsonReader& field) {
    Handover h;
    h.found = field.text("found", "");
    h.done = field.text("done", "");
    h.advice = field.text("advice", "");
    h.price = optional_number(field, "price");
    h.warranty_months =
        static_cast<int>(field.has("warranty_months") ? field.number_between("warranty_months", 0, 120) : 3);
    h.unproven_reason = field.text("unproven_reason", "");
    h.handed_ms = field.integer("handed_ms", 0);
    h.follow_up_ms = field.integer("follow_up_ms", 0);
    h.follow_up = field.text("follow_up", "");
    if (field.has("traces"))
        h.traces = read_traces(field.at("traces"));
    return h;
}

Job read_job(const JsonReader& root) {
    root.check_format(job_format, job_format_version);
    Job job;
    job.id = root.identifier<JobId>("id");
    job.stage = root.has("stage") ? read_word(root.at("stage"), &job_stage_from) : JobStage::intake;
    job.created_ms = root.integer("created_ms", 0);
    job.technician = root.text("technician", "");
    job.ticket = read_ticket(root.at("ticket"));
    if (root.has("bench"))
        job.bench = read_configuration(root.at("bench"));
    for (const JsonReader& item : root.items_or_none("findings"))
        job.findings.push_back({item.text("id"), item.text("text"), item.integer("noted_ms", 0)});
    std::set<std::string> reading_ids;
    for (const JsonReader& item : root.items_or_none("readings")) {
        job.readings.push_back(read_reading(item));
        if (!reading_ids.insert(job.readings.back().id).second)
            item.at("id").refuse("two readings have the id “" + job.readings.back().id + "”");
        if (job.readings.size() > most_readings)
            item.refuse("a job has no more than " + integer_text(most_readings) +
                        " readings; this file was put together by a program");
    }
    if (root.has("out_of_reach"))
        job.out_of_reach = root.texts("out_of_reach");
    for (const JsonReader& item : root.items_or_none("acts"))
        job.acts.push_back(read_act(item));
    if (root.has("rework"))
        job.rework = read_rework(root.at("rework"));
    if (root.has("battery"))
        job.battery = read_battery(root.at("battery"));
    if (root.has("said"))
        job.said = read_said(root.at("said"));
    if (root.has("waiting"))
        job.waiting = read_waiting(root.at("waiting"));
    for (const JsonReader& item : root.items_or_none("proof"))
        job.proof.push_back(read_proof(item));
    if (root.has("handover"))
        job.handover = read_handover(root.at("handover"));
    if (root.has("lesson"))
        job.lesson = read_lesson(root.at("lesson"));
    return job;
}

}  // namespace

std::string job_to_text(const Job& job) {
    json j{{"format", std::string(job_format) + "/" + integer_text(job_format_version)},
           {"id", job.id.text()},
           {"stage", to_text(job.stage)},
           {"created_ms", job.created_ms},
           {"ticket", write(job.ticket)},
           {"bench", write_configuration(job.bench)},
           {"findings", write_all(job.findings)},
           {"readings", write_all(job.readings)},
           {"acts", write_all(job.acts)},
           {"proof", write_all(job.proof)},
           {"handover", write(job.handover)}};
    put_if(j, "technician", job.technician);
    if (!job.out_of_reach.empty())
        j["out_of_reach"] = job.out_of_reach;
    if (job.rework != ReworkRecord{})
        j["rework"] = write_rework(job.rework);
    if (job.battery != BatteryLog{})
        j["battery"] = write_battery(job.battery);
    if (job.said != SaidBefore{})
        j["said"] = write_said(job.said);
    if (job.waiting != Waiting{})
        j["waiting"] = write_waiting(job.waiting);
    if (job.lesson)
        j["lesson"] = write_lesson(*job.lesson);
    return json_text(j, 2) + "\n";
}

Result<Job> parse_job(const std::string& text, const std::string& file) {
    return read_json<Job>(text, file, read_job);
}

}  // namespace eh
