// SPDX-License-Identifier: GPL-3.0-or-later
// Files that say things once for all ports, and build on one another.
#include "core/machine/model/topology_template.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/simulation/known_ohms.h"

#include "core/base/files.h"
#include "core/base/json_reader.h"
#include "core/base/text.h"
#include "core/machine/simulation/machine_model.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;
using nlohmann::json;

namespace {

const json base = json::parse(R"({
    "id": "base", "title": "Base",
    "ports": [{"id": "p1", "title": "Port 1", "family": "usb-c"}, {"id": "in", "title": "USB-C port", "family": "usb-c"},
              {"id": "j", "title": "Barrel jack", "family": "barrel"}],
    "per_port": [{"family": "usb-c",
                  "nets": [{"id": "vbus{n}", "title": "VBUS of {name}", "port": "{port}"}],
                  "blocks": [{"id": "pc{n}", "title": "{title}: controller", "pins": {"vbus": "vbus{n}"},
                              "links": {"peers": ["others:pc{n}"], "memory": ["mem"]}}]}],
    "nets": [{"id": "main", "volts": 8.7}],
    "blocks": [{"id": "mem", "links": {"users": ["each:pc{n}"]}}]
})");

const json* find(const std::string& id) {
    return id == "base" ? &base : nullptr;
}

}  // namespace

TEST_CASE("what every port has is written out for each port of its family, before what is shared",
          "[template]") {
    const json out = expand_topology(base, "base.json", find);
    CHECK_FALSE(out.contains("per_port"));
    REQUIRE(out["nets"].size() == 3);
    CHECK(out["nets"][0]["id"] == "vbus1");
    CHECK(out["nets"][0]["title"] == "VBUS of port 1");
    CHECK(out["nets"][1]["title"] == "VBUS of USB-C port");
    CHECK(out["nets"][1]["port"] == "in");
    CHECK(out["nets"][2]["id"] == "main");
    REQUIRE(out["blocks"].size() == 3);
    CHECK(out["blocks"][1]["title"] == "USB-C port: controller");
    CHECK(out["blocks"][1]["pins"]["vbus"] == "vbus2");
    CHECK(out["blocks"][0]["links"]["peers"] == json({"pc2", "pc3"}));
    CHECK(out["blocks"][2]["links"]["users"] == json({"pc1", "pc2", "pc3"}));
}

TEST_CASE("a file based on another changes what it names and keeps the rest", "[template]") {
    const json mine = json::parse(R"({"id": "mine", "based_on": "base", "title": "Mine",
        "ports": [{"id": "p1", "title": "Port 1", "family": "usb-c"}],
        "params": {"pc1": {"watts": 7}}, "net_volts": {"main": 13},
        "add_blocks": [{"id": "fan"}], "without": ["mem"]})");
    const json out = expand_topology(mine, "mine.json", find);
    CHECK(out["title"] == "Mine");
    CHECK(out["nets"].back()["volts"] == 13);
    REQUIRE(out["blocks"].size() == 2);
    CHECK(out["blocks"][0]["params"]["watts"] == 7);
    CHECK(out["blocks"][0]["links"]["peers"].empty());
    CHECK(out["blocks"][1]["id"] == "fan");
    for (const char* key : {"based_on", "params", "net_volts", "add_blocks", "without"})
        CHECK_FALSE(out.contains(key));
}

TEST_CASE("what hangs on left-out nets alone goes with them, unless they are written anew", "[template]") {
    // A base gains a capacitor, and files that leave its net out were written before.
    json longer = *find("base");
    longer["nets"].push_back({{"id", "own"}});
    longer["blocks"].push_back({{"id", "cap"}, {"pins", {{"line", "own"}}}});
    longer["blocks"].push_back({{"id", "link"}, {"pins", {{"from", "own"}, {"to", "main"}}}});
    const auto found = [&](const std::string&) { return &longer; };
    const auto has_block = [](const json& topology, const std::string& id) {
        return std::any_of(topology["blocks"].begin(), topology["blocks"].end(),
                           [&](const json& block) { return block["id"] == id; });
    };
    json mine = json::parse(R"({"id": "mine", "based_on": "base", "without": ["own"]})");
    const json out = expand_topology(mine, "mine.json", found);
    CHECK_FALSE(has_block(out, "cap"));
    CHECK(has_block(out, "link"));  // the reader refuses it: it has to be said what becomes of it
    mine["add_nets"] = json::array({{{"id", "own"}, {"volts", 2}}});
    CHECK(has_block(expand_topology(mine, "mine.json", found), "cap"));
}

TEST_CASE("what a file cannot build on or change is refused with file and place", "[template]") {
    const auto refusal = [](const char* text, const FindTopologyFile& files) -> std::string {
        try {
            expand_topology(json::parse(text), "mine.json", files);
        } catch (const JsonRefused& problem) {
            return problem.error.text();
        }
        return {};
    };
    CHECK_THAT(refusal(R"({"id": "m", "based_on": "nobody"})", find), Catch::Contains("mine.json: based_on"));
    CHECK_THAT(refusal(R"({"id": "m", "based_on": "base", "params": {"nobody": {}}})", find),
               Catch::Contains("nobody"));
    CHECK_THAT(refusal(R"({"id": "m", "based_on": "base", "net_volts": {"nobody": 1}})", find),
               Catch::Contains("net_volts"));
    CHECK_THAT(refusal(R"({"id": "m", "based_on": "base", "without": ["nobody"]})", find),
               Catch::Contains("leave out"));
    // A file that is based on itself.
    const json circle = json::parse(R"({"id": "circle", "based_on": "circle"})");
    CHECK_THAT(
        refusal(R"({"id": "circle", "based_on": "circle"})", [&](const std::string&) { return &circle; }),
        Catch::Contains("based on itself"));
}

TEST_CASE("files of a wrong shape are refused by the reader, never a crash", "[template]") {
    for (const char* text :
         {"{}", "[]", "1", R"({"format":"eager-hound.topology/1","ports":5,"per_port":[{"nets":[{}]}]})",
          R"({"format":"eager-hound.topology/1","id":"x","per_port":[{"family":7}],"ports":[{"id":1}]})",
          R"({"format":"eager-hound.topology/1","id":"x","ports":[{"id":"p","title":"T","family":"usb-c"}],
              "per_port":[{"blocks":[{"id":{"a":1}}]}]})"}) {
        CAPTURE(text);
        CHECK_FALSE(
            parse_topology(text, "mine.json", shipped_knowledge().kinds, shipped_knowledge().kit).ok());
    }
}

TEST_CASE("changing a resistance in a topology moves what is predicted", "[template][knowledge]") {
    const json* chained_file = nullptr;
    const json loaded =
        json::parse(*read_text_file(default_data_directory() / "topologies/usbc-two-chained.json"));
    chained_file = &loaded;
    const auto ohms_of_core = [&](double ohms) {
        const std::string text =
            R"({"format": "eager-hound.topology/1", "id": "mine", "based_on": "usbc-two-chained",
                "title": "Mine", "params": {"mb": {"core_ohms": )" +
            machine_number("%.6f", ohms) + "}}}";
        const auto topology =
            parse_topology(text, "mine.json", shipped_knowledge().kinds, shipped_knowledge().kit,
                           [&](const std::string&) { return chained_file; });
        REQUIRE(topology.ok());
        const FittedPlan plan(shipped_knowledge(), *topology);
        MachineModel model(plan, {}, {});
        model.configure(for_ohms());
        DcSolver solver;
        for (std::size_t n = 0; n < topology->nets.size(); ++n) {
            if (topology->nets[n].id == "core")
                return model.ohms_to_ground(static_cast<int>(n), solver);
        }
        return 0.0;
    };
    CHECK(ohms_of_core(0.9) == Approx(0.9).epsilon(1e-3));
    CHECK(ohms_of_core(0.3) == Approx(0.3).epsilon(1e-3));
}
