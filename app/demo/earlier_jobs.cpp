// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/demo/earlier_jobs.h"

#include <cmath>
#include <string>

#include "core/base/random.h"
#include "core/base/text.h"

namespace eh {
namespace {

constexpr std::int64_t day_ms = 86400000;
constexpr int repairs = 84;
constexpr double follow_days = 420.0;

Job closed_job(int number, std::int64_t created_ms) {
    Job job;
    job.id = JobId::made("demo-earlier-" + integer_text(number));
    job.stage = JobStage::closed;
    job.created_ms = created_ms;
    job.technician = number % 3 == 0 ? "Second bench" : "First bench";
    job.ticket.number = "D-" + integer_text(2300 + number);
    job.ticket.customer = "earlier customer";
    job.ticket.machine = number % 2 == 0 ? "Heron 13" : "Osier 15";
    job.ticket.topology = number % 2 == 0 ? "usbc-two-chained" : "barrel-id";
    return job;
}

// --- jobs that are proven, with what had been read and said

struct Pattern {
    const char* topology;
    const char* cured;
    const char* second;  // what else had been suspected
    struct Seen {
        ReadingKind kind;
        const char* place;  // net, or port of the meter
        MeterPattern pattern;
        double value;  // volts, ohms
        double amps;
    };
    std::vector<Seen> seen;
};

const std::vector<Pattern>& patterns() {
    constexpr auto meter = ReadingKind::meter;
    constexpr auto ohms = ReadingKind::net_ohms;
    constexpr auto volts = ReadingKind::net_volts;
    constexpr auto steady = MeterPattern::steady;
    static const std::vector<Pattern> list{
        {"usbc-two-chained",
         "sp2",
         "cv2",
         {{meter, "p1", steady, 19.86, 1.6},
          {meter, "p2", MeterPattern::cycling, 4.05, 3.3},
          {ohms, "vbus2", steady, 3.3, 0.0}}},
        {"usbc-two-chained",
         "pds",
         "mem",
         {{meter, "p1", steady, 5.02, 0.18},
          {meter, "p2", steady, 5.01, 0.19},
          {volts, "pd3v3", steady, 1.4, 0.0}}},
        {"usbc-two-chained",
         "mem",
         "pup",
         {{meter, "p1", steady, 5.02, 0.18},
          {meter, "p2", steady, 5.01, 0.18},
          {volts, "pd3v3", steady, 3.31, 0.0}}},
        {"usbc-two-chained",
         "rec1",
         "sp1",
         {{meter, "p1", MeterPattern::dark, 0.0, 0.0}, {meter, "p2", steady, 19.85, 1.7}}},
        {"usbc-two-chained",
         "pc2",
         "rec2",
         {{meter, "p1", steady, 19.86, 1.5},
          {meter, "p2", steady, 5.02, 0.17},
          {volts, "pd3v3", steady, 3.3, 0.0}}},
        {"barrel-id", "jack", "har", {{meter, "p1", steady, 19.3, 1.9}, {volts, "jid", steady, 3.28, 0.0}}},
        {"barrel-id", "har", "jack", {{meter, "p1", steady, 19.42, 0.7}, {volts, "id", steady, 0.02, 0.0}}},
    };
    return list;
}

Reading reading_of(const Pattern::Seen& seen, int number, std::int64_t taken_ms, Random& random) {
    constexpr double spread = 0.04;
    Reading reading;
    reading.id = "r" + integer_text(number);
    reading.taken_ms = taken_ms;
    reading.source = "typed";
    const double value =
        seen.value * (1.0 + spread * random.normal() * (seen.kind == ReadingKind::net_ohms ? 6.0 : 0.2));
    if (seen.kind == ReadingKind::meter) {
        reading.configuration.port = seen.place;
        MeterReading meter;
        meter.meter.pattern = seen.pattern;
        meter.meter.volts = value;
        meter.meter.amps = seen.amps * (1.0 + spread * random.normal());
        reading.value = meter;
    } else {
        if (seen.kind == ReadingKind::net_ohms)
            reading.value = NetOhmsReading{seen.place, value};
        else
            reading.value = NetVoltsReading{seen.place, value, std::nullopt};
        reading.configuration.charger_connected = seen.kind == ReadingKind::net_volts;
        reading.configuration.battery_in = seen.kind == ReadingKind::net_volts;
        reading.configuration.port = "p1";
        reading.configuration.case_open = true;
    }
    return reading;
}

Job proven_job(int number, std::int64_t created_ms, Random& random) {
    const Pattern& pattern =
        patterns()[static_cast<std::size_t>(random.below(static_cast<int>(patterns().size())))];
    Job job = closed_job(number, created_ms);
    job.ticket.topology = pattern.topology;
    job.ticket.machine = job.ticket.topology == "barrel-id" ? "Osier 15" : "Heron 13";
    for (const Pattern::Seen& seen : pattern.seen)
        job.readings.push_back(
            reading_of(seen, static_cast<int>(job.readings.size()) + 1, created_ms, random));
    const double said = 0.5 + 0.48 * random.uniform();
    const bool right = random.uniform() < said;
    const SaidRepair cured{pattern.cured, Work::replace, right ? said : 0.8 * (1.0 - said)};
    const SaidRepair other{pattern.second, Work::replace, right ? 0.8 * (1.0 - said) : said};
    job.said.said_ms = created_ms + day_ms / 24;
    job.said.repairs = right ? std::vector{cured, other} : std::vector{other, cured};
    Act act;
    act.id = "a1";
    act.kind = Work::replace;
    act.block = pattern.cured;
    act.part_origin = "original part, new";
    act.solder = "sn63pb37";
    act.minutes = std::round(30.0 * std::exp(0.3 * random.normal()));
    act.done_ms = created_ms + day_ms / 12;
    job.acts = {act};
    ProofStep shown;
    shown.id = "p1";
    shown.state = ProofState::passed;
    shown.configuration.port = "p1";
    job.proof = {shown};
    job.handover.handed_ms = created_ms + day_ms;
    return job;
}

// --- jobs that wait

Job waiting_job(int number, std::int64_t now_ms, JobStage stage, const Waiting& waiting) {
    Job job = closed_job(number, now_ms - 9 * day_ms);
    job.stage = stage;
    job.waiting = waiting;
    job.ticket.customer = number % 2 == 0 ? "Iris" : "Oskar";
    return job;
}

}  // namespace

std::vector<Job> earlier_jobs(std::int64_t now_ms) {
    Random random(2025);
    std::vector<Job> jobs;
    int number = 0;
    for (int i = 0; i < repairs; ++i) {
        const auto days_ago = static_cast<std::int64_t>(10.0 + follow_days * random.uniform());
        Job job = closed_job(++number, now_ms - (days_ago + 3) * day_ms);
        job.handover.handed_ms = now_ms - days_ago * day_ms;
        const bool bismuth = random.uniform() < 0.35;
        Act act;
        act.id = "a1";
        act.kind = Work::replace;
        act.block = job.ticket.topology == "barrel-id" ? "jack" : "rec1";
        act.part_origin = random.uniform() < 0.5 ? "copy" : "original part, new";
        act.solder = bismuth ? "sn42bi58" : "sn63pb37";
        act.school = random.uniform() < 0.3 ? "original_kept" : "new_part";
        act.minutes = std::round(35.0 * std::exp(0.35 * random.normal()));
        job.acts = {act};
        const std::string first = job.ticket.number;
        const auto lasted =
            static_cast<std::int64_t>((bismuth ? -170.0 : -900.0) * std::log(1.0 - random.uniform()));
        jobs.push_back(std::move(job));
        if (lasted >= days_ago - 3)
            continue;
        Job back = closed_job(++number, now_ms - (days_ago - 1 - lasted) * day_ms);
        back.ticket.topology = jobs.back().ticket.topology;
        back.ticket.machine = jobs.back().ticket.machine;
        back.ticket.return_of = first;
        jobs.push_back(std::move(back));
    }
    constexpr int proven = 42;
    for (int i = 0; i < proven; ++i)
        jobs.push_back(
            proven_job(++number, now_ms - static_cast<std::int64_t>(8.0 * (i + 1)) * day_ms, random));
    jobs.push_back(waiting_job(++number, now_ms, JobStage::repair,
                               {WaitsFor::part, now_ms + 4 * day_ms, "port controller from the donor list"}));
    jobs.push_back(waiting_job(++number, now_ms, JobStage::bench,
                               {WaitsFor::customer, now_ms - day_ms, "asks whether data may be wiped"}));
    Job temporary = waiting_job(++number, now_ms, JobStage::closed, {});
    temporary.handover.handed_ms = now_ms - 8 * day_ms;
    temporary.handover.follow_up_ms = now_ms + 12 * day_ms;
    temporary.handover.follow_up = "contacts lifted instead of a new jack";
    jobs.push_back(std::move(temporary));
    return jobs;
}

}  // namespace eh
