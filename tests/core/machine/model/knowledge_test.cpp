// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/knowledge.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/simulation/known_ohms.h"

#include <array>
#include <filesystem>
#include <fstream>

#include "core/base/files.h"
#include "core/machine/knowledge/machine_profile.h"
#include "tests/support/own_path.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

std::string shipped_text(const std::string& name) {
    const auto text = read_text_file(default_data_directory() / name);
    REQUIRE(text.ok());
    return *text;
}

std::string replaced(std::string text, const std::string& what, const std::string& with) {
    const auto at = text.find(what);
    REQUIRE(at != std::string::npos);
    return text.replace(at, what.size(), with);
}

}  // namespace

TEST_CASE("the shipped knowledge loads whole, with at least two topologies and 18 faults", "[knowledge]") {
    const Knowledge& knowledge = shipped_knowledge();
    CHECK(knowledge.topologies.size() >= 2);
    CHECK(knowledge.catalogue.faults.size() >= 18);
    for (const FaultSpec& fault : knowledge.catalogue.faults) {
        CAPTURE(fault.id);
        CHECK(fault.rate > 0.0);
        CHECK_FALSE(fault.effects.empty());
        CHECK_FALSE(fault.remedies.empty());
        CHECK_FALSE(fault.looks_like.empty());
    }
}

TEST_CASE("every fault of the catalogue can befall some shipped topology", "[knowledge]") {
    const Knowledge& knowledge = shipped_knowledge();
    for (const FaultSpec& fault : knowledge.catalogue.faults) {
        bool found = false;
        for (const Topology& topology : knowledge.topologies) {
            const FittedPlan plan(knowledge, topology);
            for (const PlanBlock& block : plan.blocks)
                found = found || block.kind->id == fault.kind;
        }
        CAPTURE(fault.id, fault.kind);
        CHECK(found);
    }
}

TEST_CASE("a topology with a mistake is refused with its file and field", "[knowledge]") {
    const Knowledge& knowledge = shipped_knowledge();
    const std::string good = shipped_text("topologies/barrel-id.json");
    struct Row {
        std::string text;
        std::string named;
    };
    const std::vector<Row> rows{
        {replaced(good, R"("out": "jout")", R"("out": "nowhere")"), "nowhere"},
        {replaced(good, R"("kind": "barrel_jack")", R"("kind": "teapot")"), "teapot"},
        {replaced(good, R"("charger": "barrel_90")", R"("charger": "none")"), "charger"},
        {replaced(good, R"("system_rail": "main")", R"("system_rail": "lost")"), "lost"},
        {replaced(good, R"("links": {"controller": ["ec"]})", R"("links": {"controller": ["ghost"]})"),
         "ghost"},
        {replaced(good, R"("id": "jack", "kind")", R"("id": "har", "kind")"), "har"},
        {good.substr(0, good.size() / 2), "cut off"},
        {replaced(good, "eager-hound.topology/1", "eager-hound.topology/9"), "newer"},
        {replaced(good, "eager-hound.topology/1", "something-else/1"), "something-else"},
    };
    for (const Row& row : rows) {
        const auto parsed = parse_topology(row.text, "mine.json", knowledge.kinds, knowledge.kit);
        CAPTURE(row.named);
        REQUIRE_FALSE(parsed.ok());
        INFO(parsed.error().text());
        CHECK_THAT(parsed.error().text(), Catch::StartsWith("mine.json"));
        CHECK_THAT(parsed.error().text(), Catch::Contains(row.named));
    }
}

TEST_CASE("a kind without what its role is set by is refused by name", "[knowledge]") {
    const std::string good = shipped_text("kinds.json");
    for (const std::string param : {"stuck_watts", "core_on_volts", "open_circuit_volts"}) {
        const auto parsed =
            parse_kinds(replaced(good, "\"" + param + "\": ", "\"of_another_name\": "), "kinds.json");
        CAPTURE(param);
        REQUIRE_FALSE(parsed.ok());
        CHECK_THAT(parsed.error().text(), Catch::Contains(param));
        CHECK_THAT(parsed.error().place, Catch::Contains("kinds["));
    }
}

TEST_CASE("only a regulator can stop at a short, whatever a data file says", "[knowledge]") {
    const std::string good = shipped_text("kinds.json");
    REQUIRE(parse_kinds(good, "kinds.json"));
    const auto kinds = parse_kinds(
        replaced(good, R"("name": "rp", )", R"("name": "rp", "stops_when_shorted": true, )"), "kinds.json");
    REQUIRE_FALSE(kinds);
    CHECK_THAT(kinds.error().text(), Catch::Contains("kinds.json"));
    CHECK_THAT(kinds.error().text(), Catch::Contains("only a regulator stops"));
}

TEST_CASE("a fault catalogue with a rate outside 0..1 or an unknown part kind is refused", "[knowledge]") {
    const std::string good = shipped_text("faults.json");
    for (const auto& [what, with] : std::vector<std::pair<std::string, std::string>>{
             {R"("rate": 0.03)", R"("rate": 1.3)"},
             {R"("kind": "usbc_charger")", R"("kind": "teapot")"},
             {R"("type": "offers_up_to")", R"("type": "explodes")"}}) {
        const auto parsed =
            parse_faults(replaced(good, what, with), "faults.json", shipped_knowledge().kinds);
        CAPTURE(with);
        REQUIRE_FALSE(parsed.ok());
        CHECK_THAT(parsed.error().place, Catch::Contains("faults[0]"));
    }
}

TEST_CASE("an origin of parts that is unknown, stands twice or weighs what no work brings about is refused",
          "[knowledge][origin]") {
    const std::string good = shipped_text("faults.json");
    for (const auto& [what, with, says] : std::vector<std::array<std::string, 3>>{
             {R"("origins": {"new": 3)", R"("origins": {"moon": 3)", "there is no origin “moon”"},
             {R"({"id": "programmed")", R"({"id": "new")", "stands twice"},
             {R"("multipliers": {)", R"("origins": {"new": 2}, "multipliers": {)",
              "only what work brings about"}}) {
        const auto parsed =
            parse_faults(replaced(good, what, with), "faults.json", shipped_knowledge().kinds);
        CAPTURE(with);
        REQUIRE_FALSE(parsed.ok());
        CHECK_THAT(parsed.error().text(), Catch::Contains(says));
    }
}

TEST_CASE("fault instances are read as they are typed", "[knowledge]") {
    const auto plain = parse_fault_instance("protector_shorted@sp2");
    REQUIRE(plain.ok());
    CHECK(plain->fault == "protector_shorted");
    CHECK(plain->block == "sp2");
    CHECK_FALSE(plain->ohms.has_value());
    const auto full = parse_fault_instance("protector_shorted@sp2=3r3/2.5");
    REQUIRE(full.ok());
    CHECK(*full->ohms == Approx(3.3));
    CHECK(*full->knee_volts == Approx(2.5));
    for (const char* wrong : {"protector_shorted", "@sp2", "x@", "x@y=abc", "x@y=-3", "x@y=3/0"}) {
        CAPTURE(wrong);
        CHECK_FALSE(parse_fault_instance(wrong).ok());
    }
}

TEST_CASE("the files of a folder come by name, and only those of the ending", "[knowledge]") {
    const auto folder = own_path("files-of");
    std::filesystem::remove_all(folder);
    CHECK(files_of(folder, ".json").empty());
    std::filesystem::create_directories(folder);
    for (const char* name : {"b.json", "a.json", "c.txt"})
        std::ofstream(folder / name) << "{}";
    const auto files = files_of(folder, ".json");
    REQUIRE(files.size() == 2);
    CHECK(files.front().filename() == "a.json");
    CHECK(files.back().filename() == "b.json");
    std::filesystem::remove_all(folder);
}

TEST_CASE("a shop's machine that cannot be used is named, and the others load", "[knowledge]") {
    const auto folder = own_path("machines");
    std::filesystem::remove_all(folder);
    std::filesystem::create_directories(folder);
    Knowledge knowledge = shipped_knowledge();
    MachineProfile profile = profile_like(knowledge.topologies.front(), knowledge);
    profile.title = "Good one";
    std::ofstream(folder / "good.json") << write_profile(profile, knowledge).value();
    std::ofstream(folder / "same-id.json") << write_profile(profile, knowledge).value();
    std::ofstream(folder / "broken.json") << "{ not json";
    std::ofstream(folder / "nowhere.json")
        << R"({"format": "eager-hound.topology/1", "id": "x", "based_on": "no-such-machine", "title": "X"})";
    const auto refused_before = knowledge.refused_files.size();
    load_profiles(folder, knowledge);
    CHECK(knowledge.find_topology("good-one") != nullptr);
    REQUIRE(knowledge.refused_files.size() == refused_before + 3);
    CHECK_THAT(knowledge.refused_files[refused_before].text(), Catch::Contains("broken.json"));
    CHECK_THAT(knowledge.refused_files[refused_before + 1].text(), Catch::Contains("no-such-machine"));
    CHECK_THAT(knowledge.refused_files[refused_before + 2].text(), Catch::Contains("same-id.json"));
    std::filesystem::remove_all(folder);
}
