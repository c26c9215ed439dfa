// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/job_json.h"
#include "core/base/files.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/simulation/known_ohms.h"

#include <memory>

#include "core/base/files.h"
#include "core/base/random.h"
#include "core/inference/ranking.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

std::string random_text(Random& random) {
    static const std::vector<std::string> pieces{"a", "Ω", "\"", "\\", "\n", "é",
                                                 " ", "0", "{",  "µ",  "\t", "…"};
    std::string text;
    for (int i = random.below(8); i > 0; --i)
        text += pieces[static_cast<std::size_t>(random.below(static_cast<int>(pieces.size())))];
    return text;
}

BenchConfiguration random_configuration(Random& random) {
    BenchConfiguration c;
    c.charger_connected = random.below(2) == 0;
    c.charger = random.below(2) == 0 ? Owner::bench : Owner::customer;
    c.lead = random.below(2) == 0 ? Owner::bench : Owner::customer;
    c.port = random.below(3) == 0 ? "" : "p1";
    c.side = random.below(2) == 0 ? PlugSide::a : PlugSide::b;
    c.battery_in = random.below(2) == 0;
    c.case_open = random.below(2) == 0;
    c.board_out = random.below(2) == 0;
    if (random.below(2) == 0)
        c.removed = {"cv1", "sp2"};
    if (random.below(2) == 0)
        c.replaced = {"mem"};
    if (random.below(2) == 0)
        c.handled = {{"bat", Work::reseat}, {"mb", Work::reset}};
    c.power_was_cut = random.below(2) == 0;
    if (random.below(2) == 0)
        c.lent = {"pack"};
    c.second_instruments = random.below(2) == 0;
    c.plug_held = random.below(2) == 0;
    c.bare_plug = random.below(2) == 0;
    c.tester = static_cast<Tester>(random.below(3));
    c.button = static_cast<Button>(random.below(3));
    c.moment = static_cast<Moment>(random.below(2));
    return c;
}

HotPartReading random_heat(Random& random) {
    HotPartReading heat;
    if (random.below(3) != 0)
        heat = {"main", random.uniform() * 20.0, 1.0};
    return heat;
}

std::optional<double> value_or_ol(Random& random, double most) {
    return random.below(2) == 0 ? std::nullopt : std::optional(random.uniform() * most);
}

ReadingValue random_value(Random& random) {
    switch (static_cast<ReadingKind>(random.below(reading_kind_count))) {
        case ReadingKind::meter: {
            MeterReading seen;
            seen.meter.pattern = static_cast<MeterPattern>(random.below(4));
            seen.meter.volts = random.uniform() * 20.0;
            seen.amps_known = random.below(2) == 0;
            if (seen.amps_known)
                seen.meter.amps = random.uniform() / 3.0;
            seen.meter.volts_spread = random.uniform();
            seen.meter.peak_amps = random.uniform();
            return seen;
        }
        case ReadingKind::net_ohms:
            return NetOhmsReading{"main", value_or_ol(random, 1e6)};
        case ReadingKind::through: {
            ThroughReading seen{"harness", value_or_ol(random, 1.0), std::nullopt};
            if (random.below(2) == 0)
                seen.changes_when_pushed = random.below(2) == 0;
            return seen;
        }
        case ReadingKind::diode:
            return DiodeReading{"main", value_or_ol(random, 1.0)};
        case ReadingKind::look:
            if (random.below(2) == 0) {
                const auto flaw = static_cast<Flaw>(1 + random.below(flaw_count - 1));
                return LookReading{"pc1", look_of(flaw), flaw};
            }
            return LookReading{"rec1", static_cast<Look>(random.below(look_count)), Flaw::none,
                               static_cast<Contact>(random.below(static_cast<int>(Contact::id)))};
        case ReadingKind::net_volts:
            if (random.below(3) == 0)
                return NetVoltsReading{"main", 10.0 + random.uniform() * 10.0, random.uniform() * 9.0};
            return NetVoltsReading{"main", random.uniform() * 20.0};
        case ReadingKind::injection: {
            InjectionReading seen;
            seen.supply.volts = random.uniform();
            seen.supply.amps = random.uniform();
            seen.hottest = random_heat(random);
            return seen;
        }
        case ReadingKind::hot_part:
            return random_heat(random);
        case ReadingKind::firmware: {
            FirmwareReading seen;
            seen.message = static_cast<FirmwareMessage>(random.below(firmware_message_count));
            if (random.below(2) == 0)
                seen.percent = static_cast<double>(random.below(101));
            if (random.below(2) == 0)
                seen.trend = static_cast<ChargeTrend>(random.below(charge_trend_count));
            if (random.below(2) == 0)
                seen.page = {static_cast<double>(random.below(141)), static_cast<double>(random.below(101)),
                             random.below(900)};
            return seen;
        }
        case ReadingKind::talk:
            return TalkReading{static_cast<NegotiationEnd>(random.below(negotiation_end_count))};
        case ReadingKind::between:
            return BetweenReading{"main", "chgin", value_or_ol(random, 1e4)};
        case ReadingKind::pack:
            return PackReading{random.uniform() * 12.0};
        case ReadingKind::sign:
            return SignReading{static_cast<MachineSign>(random.below(machine_sign_count))};
        case ReadingKind::board_look: {
            BoardLookReading seen;
            for (const char* part : {"pc1", "cv1"}) {
                if (random.below(2) == 0)
                    seen.found.push_back({part, static_cast<Look>(1 + random.below(look_count - 1))});
            }
            return seen;
        }
        case ReadingKind::wiggle:
            return WiggleReading{random.below(2) == 0};
    }
    return {};
}

Reading random_reading(Random& random, int number) {
    Reading r;
    r.id = "r" + std::to_string(number);
    r.configuration = random_configuration(random);
    r.value = random_value(random);
    if (r.kind() == ReadingKind::injection)
        r.configuration.injection = Injection{"main", 1.0, 3.0 * random.uniform()};
    r.set_aside = random.below(4) == 0;
    r.taken_ms = static_cast<std::int64_t>(random.next() >> 12);
    r.note = random_text(random);
    return r;
}

Job random_job(std::uint64_t seed) {
    Random random(seed);
    Job job;
    job.id = JobId::made("j" + std::to_string(seed));
    job.stage = static_cast<JobStage>(random.below(job_stage_count));
    job.created_ms = static_cast<std::int64_t>(random.next() >> 12);
    job.ticket.topology = chained;
    job.ticket.customer = random_text(random);
    job.ticket.claim = random_text(random);
    job.ticket.kind_seen = random.uniform() < 0.5;
    for (const char* fact : {"liquid", "fell", "port_hot", "long_storage"})
        answer_fact(job.ticket, fact, static_cast<FactAnswer>(random.below(3)));
    if (random.below(2) == 0)
        job.ticket.price_limit = random.uniform() * 300.0;
    job.bench = random_configuration(random);
    for (int i = random.below(5); i > 0; --i)
        job.readings.push_back(random_reading(random, i));
    for (int i = random.below(3); i > 0; --i)
        job.acts.push_back({"a" + std::to_string(i), static_cast<Work>(random.below(work_count)), "sp2",
                            random_text(random), random.uniform(), random.uniform(), random_text(random),
                            static_cast<std::int64_t>(random.next() >> 12), "", ""});
    for (int i = random.below(3); i > 0; --i)
        job.findings.push_back({"f" + std::to_string(i), random_text(random), 5});
    for (int i = static_cast<int>(random.uniform() * 3.0); i > 0; --i)
        job.out_of_reach.push_back(random_text(random));
    for (int i = random.below(3); i > 0; --i)
        job.proof.push_back({"p" + std::to_string(i), ReadingKind::meter, random_configuration(random), "",
                             static_cast<ProofState>(random.below(4)), "r1", random_text(random), "", "", 0});
    job.handover.found = random_text(random);
    job.handover.warranty_months = random.below(24);
    return job;
}

std::string minimal(const std::string& readings) {
    return R"({"format":"eager-hound.job/1","id":"x","ticket":{"topology":"usbc-two-chained"},"readings":[)" +
           readings + "]}";
}

}  // namespace

TEST_CASE("a job that is written and read again is the same job", "[job]") {
    for (std::uint64_t seed = 1; seed <= 300; ++seed) {
        const Job job = random_job(seed);
        const auto back = parse_job(job_to_text(job), "job");
        CAPTURE(seed, job_to_text(job));
        REQUIRE(back.ok());
        CHECK(*back == job);
        CHECK(job_to_text(*back) == job_to_text(job));
    }
}

TEST_CASE("work that another program has a word for stays readable in its note", "[job]") {
    const auto job = parse_job(
        R"({"format":"eager-hound.job/1","id":"x","ticket":{"topology":"usbc-two-chained"},
            "acts":[{"id":"a1","kind":"lasered"},{"id":"a2","kind":"lasered","note":"twice"},{"id":"a3","kind":"clean"}]})",
        "job");
    REQUIRE(job.ok());
    CHECK(job->acts[0].kind == Work::other);
    CHECK(job->acts[0].note == "lasered");
    CHECK(job->acts[1].note == "lasered: twice");
    CHECK(job->acts[2].kind == Work::clean);
    CHECK(job->acts[2].note.empty());
}

TEST_CASE("the demo jobs read, and every reading in them fits its machine", "[job]") {
    int count = 0;
    for (const auto& entry : std::filesystem::directory_iterator(default_data_directory() / "demo")) {
        const auto text = read_text_file(entry.path());
        REQUIRE(text.ok());
        const auto job = parse_job(*text, entry.path().filename().string());
        INFO((job.ok() ? std::string() : job.error().text()));
        REQUIRE(job.ok());
        for (const Reading& reading : job->readings) {
            const auto check =
                check_reading(reading, FittedPlan(shipped_knowledge(), topology(job->ticket.topology)));
            INFO((check.ok() ? std::string() : check.error().text()));
            CHECK(check.ok());
        }
        ++count;
    }
    CHECK(count == 6);
}

TEST_CASE("what is wrong in a job file is refused with its place", "[job]") {
    struct Row {
        std::string text;
        std::string named;
    };
    const std::string c = R"("configuration":{"port":"p1"})";
    const std::vector<Row> rows{
        {minimal(R"({"id":"r1","kind":"ohms",)" + c + R"(,"place":"vbus1","value":-3,"unit":"ohm"})"),
         "not negative"},
        {minimal(R"({"id":"r1","kind":"volts",)" + c + R"(,"place":"vbus1","value":1e9,"unit":"V"})"),
         "volts lie between"},
        {minimal(R"({"id":"r1","kind":"volts",)" + c + R"(,"place":"vbus1","value":3,"unit":"ohm"})"),
         "does not fit"},
        {minimal(R"({"id":"r1","kind":"volts",)" + c + R"(,"place":"vbus1","value":"abc"})"),
         "a number is wanted"},
        {minimal(R"({"id":"r1","kind":"smell",)" + c + "}"), "smell"},
        {minimal(R"({"id":"r1","kind":"volts",)" + c + R"(,"value":3})"), "names its place"},
        {minimal(R"({"id":"r1","kind":"meter","configuration":{"side":"c"},"pattern":"dark"})"), "side"},
        {minimal(R"({"id":"r1","kind":"meter",)" + c + R"(,"pattern":"dark"},{"id":"r1","kind":"meter",)" +
                 c + R"(,"pattern":"dark"})"),
         "two readings"},
        {R"({"format":"eager-hound.job/1","id":"x"})", "ticket"},
        {R"({"format":"eager-hound.job/7","id":"x"})", "newer"},
        {R"({"format":"shopping-list/1"})", "shopping-list"},
        {R"([1,2,3])", "object"},
        {"", "cut off"},
        {minimal("").substr(0, 60), "cut off"},
        {"{\"format\": oops}", "not valid JSON"},
    };
    for (const Row& row : rows) {
        const auto job = parse_job(row.text, "bad.hound.json");
        CAPTURE(row.text);
        REQUIRE_FALSE(job.ok());
        INFO(job.error().text());
        CHECK_THAT(job.error().text(), Catch::StartsWith("bad.hound.json"));
        CHECK_THAT(job.error().text(), Catch::Contains(row.named));
    }
}

TEST_CASE("a job file cut anywhere is refused, never half read", "[job]") {
    const std::string whole = job_to_text(random_job(7));
    for (std::size_t length = 0; length + 2 < whole.size(); length += 13)
        CHECK_FALSE(parse_job(whole.substr(0, length), "cut").ok());
}

TEST_CASE("fresh ids are new", "[job]") {
    Job job = random_job(3);
    job.readings = {random_reading(*std::make_unique<Random>(1), 41)};
    CHECK(fresh_id(job, "r") == "r42");
    CHECK(fresh_id(Job{}, "a") == "a1");
}

TEST_CASE("fields of another type and numbers beyond measure are refused, not taken for empty",
          "[job][hostile]") {
    const auto text =
        read_text_file(EH_SOURCE_DIR "/tests/data/hostile/job-configuration-is-text.hound.json");
    REQUIRE(text.ok());
    const auto job = parse_job(*text, "job.hound.json");
    REQUIRE_FALSE(job.ok());
    CHECK_THAT(job.error().place, Catch::Contains("configuration"));
    const auto huge =
        parse_job(R"({"format":"eager-hound.job/1","id":"a","created_ms":1e400})", "job.hound.json");
    REQUIRE_FALSE(huge.ok());
    CHECK_THAT(huge.error().text(), Catch::Contains("job.hound.json"));
    // Latin-1 from an old editor.
    const auto latin = parse_job(
        "{\"format\":\"eager-hound.job/1\",\"id\":\"a\",\"ticket\":{\"topology\":\"\","
        "\"customer\":\"M\xFCller\"}}",
        "job.hound.json");
    REQUIRE(latin.ok());
    CHECK(latin->ticket.customer == "Müller");
}

TEST_CASE("a fact of the intake has one answer, and the last one counts", "[job]") {
    Ticket ticket;
    answer_fact(ticket, "liquid", FactAnswer::so);
    answer_fact(ticket, "fell", FactAnswer::unknown);
    answer_fact(ticket, "liquid", FactAnswer::not_so);
    CHECK(ticket.facts.empty());
    CHECK(ticket.facts_denied == std::vector<std::string>{"liquid"});
    CHECK(facts_asked(ticket) == std::vector<std::string>{"liquid", "fell"});
    forget_fact(ticket, "fell");
    CHECK(facts_asked(ticket) == std::vector<std::string>{"liquid"});

    Job job;
    job.id = "contradicts";
    job.ticket.topology = chained;
    job.ticket.facts = {"liquid", "liquid"};  // said twice is said
    CHECK(parse_job(job_to_text(job), "a").ok());
    job.ticket.facts_denied = {"liquid"};
    const auto refused = parse_job(job_to_text(job), "a");
    REQUIRE_FALSE(refused.ok());
    CHECK_THAT(refused.error().text(), Catch::Contains("liquid") && Catch::Contains("two answers"));
}
