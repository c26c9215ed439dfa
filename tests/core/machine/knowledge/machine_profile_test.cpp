// SPDX-License-Identifier: GPL-3.0-or-later
// Machines as a technician describes them: what the description says is what the model's machine shows.
#include "core/machine/knowledge/machine_profile.h"
#include "core/machine/knowledge/load_knowledge.h"

#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>

#include "core/machine/simulation/known_ohms.h"
#include "core/machine/simulation/observation.h"
#include "tests/support/own_path.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

MachineProfile example(const std::string& base) {
    MachineProfile profile = profile_like(topology(base), shipped_knowledge());
    profile.title = "Grey 14-inch, 3 cells";
    return profile;
}

Topology made(const MachineProfile& profile) {
    const auto text = write_profile(profile, shipped_knowledge());
    INFO((text ? std::string() : text.error().text()));
    REQUIRE(text.ok());
    auto topology = read_profile(*text, "machine.json", shipped_knowledge());
    INFO((topology ? std::string() : topology.error().text()));
    REQUIRE(topology.ok());
    return *topology;
}

std::string refusal(const MachineProfile& profile) {
    const auto text = write_profile(profile, shipped_knowledge());
    if (!text)
        return text.error().text();
    const auto topology = read_profile(*text, "machine.json", shipped_knowledge());
    return topology ? std::string() : topology.error().text();
}

PoweredView sound_view(const Topology& topology, const std::string& port) {
    const FittedPlan plan(shipped_knowledge(), topology);
    MachineModel model(plan, {}, {});
    DcSolver solver;
    return look_at(model, plugged(port), solver);
}

double volts_of(const Topology& topology, const PoweredView& view, const std::string& net) {
    for (std::size_t n = 0; n < topology.nets.size(); ++n) {
        if (topology.nets[n].id == net)
            return double{view.net_volts[n]};
    }
    return -1.0;
}

}  // namespace

TEST_CASE("a machine like a known one behaves as it does", "[profile]") {
    for (const Topology& base : shipped_knowledge().topologies) {
        CAPTURE(base.id);
        const Topology same = made(example(base.id));
        CHECK(same.ports.size() == base.ports.size());
        CHECK(same.blocks.size() == base.blocks.size());
        CHECK(same.fingerprint != base.fingerprint);
        for (const Port& port : base.ports) {
            const PoweredView a = sound_view(base, port.id);
            const PoweredView b = sound_view(same, port.id);
            CHECK(b.firmware == FirmwareMessage::charging);
            CHECK(b.meter.volts == Approx(a.meter.volts).margin(0.15));
            CHECK(b.meter.amps == Approx(a.meter.amps).epsilon(0.1));
        }
    }
}

TEST_CASE("cells, volts and watts of the description are those the machine shows", "[profile]") {
    // Full volts of a lithium-ion cell: 4.2 V (IEC 61960 rates them at 3.6 or 3.7 V nominal; common
    // practice).
    MachineProfile profile = example("barrel-id");
    profile.adapter_volts = 19.0;
    profile.adapter_watts = 65.0;
    for (const int cells : {2, 3, 4}) {
        profile.cells_in_series = cells;
        profile.chemistry = "li_ion";
        const Topology machine = made(profile);
        const PoweredView view = sound_view(machine, "p1");
        CHECK(view.meter.volts == Approx(19.0).margin(0.5));
        CHECK(volts_of(machine, view, machine.system_rail) == Approx(cells * 4.2 + 0.3).margin(0.25));
        CHECK(machine.find_net("vbat")->volts == Approx(cells * 4.2));
        CHECK(machine.chargers.front().offers.front().amps == Approx(65.0 / 19.0));
        CHECK(machine.find_port("p1")->charger == machine.chargers.front().id);
    }
}

TEST_CASE("a chain may have another number of ports, other machines not", "[profile]") {
    MachineProfile profile = example(chained);
    profile.ports.push_back({"Port 3", "right"});
    const Topology three = made(profile);
    CHECK(three.ports.size() == 3);
    CHECK(three.find_block("pc3") != nullptr);
    for (const Port& port : three.ports)
        CHECK(sound_view(three, port.id).firmware == FirmwareMessage::charging);
    MachineProfile magnetic = example("usbc-chained-magnetic");
    magnetic.ports.insert(magnetic.ports.begin(), {"Port 0", ""});
    const Topology four = made(magnetic);
    CHECK(four.ports.back().family == "magnetic");
    CHECK(ports_may_vary(topology(chained)));
    CHECK_FALSE(ports_may_vary(topology("usbc-dual")));
    CHECK_FALSE(ports_may_vary(topology(barrel)));
    MachineProfile dual = example("usbc-dual");
    dual.ports.pop_back();
    CHECK_THAT(refusal(dual), Catch::Contains("have 2 ports"));
}

TEST_CASE("known resistances are what the ohmmeter shows on a sound machine of the kind", "[profile]") {
    MachineProfile profile = example(chained);
    profile.net_ohms = {{"core", 0.35}, {"main", 8200.0}, {"aon3v3", 3300.0}, {"pd3v3", 6000.0}};
    const Topology machine = made(profile);
    const FittedPlan plan(shipped_knowledge(), machine);
    CHECK(known_ohms_misses(plan).empty());
    MachineModel model(plan, {}, {});
    DcSolver solver;
    model.configure(electrical_part(unpowered(plugged("p1"))));
    for (std::size_t n = 0; n < machine.nets.size(); ++n) {
        if (machine.nets[n].known_ohms)
            CHECK(model.ohms_to_ground(static_cast<int>(n), solver) ==
                  Approx(*machine.nets[n].known_ohms).epsilon(0.02));
    }
    // From machine to machine of a kind they spread by a tenth, not by a third.
    double spread = 0.0;
    constexpr int draws = 60;
    for (int s = 0; s < draws; ++s) {
        PartDraw draw;
        draw.typical = false;
        draw.seed = static_cast<std::uint64_t>(s) + 1;
        MachineModel drawn(plan, {}, draw);
        drawn.configure(electrical_part(unpowered(plugged("p1"))));
        const int core = static_cast<int>(machine.find_net("core") - machine.nets.data());
        spread += std::pow(std::log(drawn.ohms_to_ground(core, solver) / 0.35), 2.0) / draws;
    }
    CHECK(std::sqrt(spread) == Approx(0.1).margin(0.03));
    // Neighbours already make it lower than that: nothing on the net could bring it up.
    profile.net_ohms = {{"vcc1", 9e6}};
    CHECK_THAT(refusal(profile), Catch::Contains("other parts"));
}

TEST_CASE("a USB-C charger offers what its watts call for", "[profile]") {
    // USB Power Delivery 3, power rules (from memory): the last volts at all the watts, the lower ones at 3
    // A; above 100 W 20 V at 5 A, then 28, 36 or 48 V.
    const auto text = [](double watts) {
        std::string list;
        for (const ChargerOffer& offer : usbc_offers(watts)) {
            const auto round = [](double x) {
                return std::to_string(static_cast<int>(std::lround(x * 100)));
            };
            list += round(offer.volts) + "x" + round(offer.amps) + " ";
        }
        return list;
    };
    CHECK(text(15) == "500x300 ");
    CHECK(text(27) == "500x300 900x300 ");
    CHECK(text(45) == "500x300 900x300 1500x300 ");
    CHECK(text(65) == "500x300 900x300 1500x300 2000x325 ");
    CHECK(text(100) == "500x300 900x300 1500x300 2000x500 ");
    CHECK(text(140) == "500x300 900x300 1500x300 2000x500 2800x500 ");
    CHECK(text(240) == "500x300 900x300 1500x300 2000x500 2800x500 3600x500 4800x500 ");
    for (double watts = 10.0; watts <= 240.0; watts += 7.0) {
        const auto offers = usbc_offers(watts);
        CHECK(offers.back().volts * offers.back().amps == Approx(watts));
        CHECK(offers.back().amps <= 5.0 + 1e-9);
    }
}

TEST_CASE("a description that cannot be is refused with its field", "[profile]") {
    const auto with = [](const std::string& base, auto change) {
        MachineProfile profile = example(base);
        change(profile);
        return refusal(profile);
    };
    CHECK(with(chained, [](auto&) {}).empty());
    CHECK_THAT(with(chained, [](auto& p) { p.title = " - "; }), Catch::Contains("name"));
    CHECK_THAT(with(chained, [](auto& p) { p.base = "nowhere"; }), Catch::Contains("nowhere"));
    CHECK_THAT(with(chained, [](auto& p) { p.ports.clear(); }), Catch::Contains("ports"));
    CHECK_THAT(with(chained, [](auto& p) { p.ports.front().title.clear(); }), Catch::Contains("ports"));
    CHECK_THAT(with(chained, [](auto& p) { p.adapter_watts = 1000; }), Catch::Contains("watts"));
    CHECK_THAT(with(barrel, [](auto& p) { p.adapter_volts = 5; }), Catch::Contains("volts"));
    CHECK_THAT(with(chained, [](auto& p) { p.cells_in_series = 0; }), Catch::Contains("cells"));
    CHECK_THAT(with(chained, [](auto& p) { p.chemistry = "lead"; }), Catch::Contains("chemistry"));
    CHECK_THAT(with(chained, [](auto& p) { p.net_ohms["nowhere"] = 1.0; }), Catch::Contains("nowhere"));
    CHECK_THAT(with(chained, [](auto& p) { p.net_ohms["core"] = -1.0; }), Catch::Contains("ohms"));
    // Six cells from an adapter of 19.5 V: a charger that only steps down cannot get there, one that steps up
    // as well can, though from a charger of 15 V.
    CHECK_THAT(with(barrel, [](auto& p) { p.cells_in_series = 6; }), Catch::Contains("would not charge"));
    CHECK(with(chained, [](auto& p) {
              p.cells_in_series = 6;
              p.adapter_watts = 45.0;
          }).empty());
    CHECK(id_from_title("Grey 14-inch, 3 cells!") == "grey-14-inch-3-cells");
}

TEST_CASE("chemistries are read and checked", "[profile]") {
    REQUIRE(shipped_knowledge().chemistries.size() >= 3);
    const std::string wrong =
        R"({"format": "eager-hound.chemistries/1", "chemistries": [{"id": "x", "title": "X", "nominal_volts": 3.7, "full_volts": 3.0, "empty_volts": 2.5}]})";
    const auto refused = parse_chemistries(wrong, "chemistries.json");
    REQUIRE_FALSE(refused.ok());
    CHECK_THAT(refused.error().text(), Catch::Contains("chemistries[0]"));
}

namespace {

// Profiles in a folder of their own, each as (file name, profile text).
struct ProfileFolder {
    std::filesystem::path folder = own_path("profiles");
    ProfileFolder() {
        std::filesystem::remove_all(folder);
        std::filesystem::create_directories(folder);
    }
    ~ProfileFolder() { std::filesystem::remove_all(folder); }
    void write(const std::string& name, const std::string& text) const {
        std::ofstream(folder / name) << text;
    }
};

}  // namespace

TEST_CASE("a description read back from its file makes the very same machine", "[profile]") {
    Knowledge knowledge = shipped_knowledge();
    const auto round_trip = [&](MachineProfile profile) {
        const auto text = write_profile(profile, knowledge);
        REQUIRE(text.ok());
        auto first = read_profile(*text, "first", knowledge);
        REQUIRE(first.ok());
        const std::string id = first->id;
        knowledge.topology_files[id] = nlohmann::json::parse(*text);
        knowledge.topologies.push_back(std::move(first).value());
        const MachineProfile back = profile_of(knowledge.topologies.back(), knowledge);
        CHECK(back.base == profile.base);
        CHECK(back.ports.size() == profile.ports.size());
        CHECK(back.cells_in_series == profile.cells_in_series);
        CHECK(back.chemistry == profile.chemistry);
        CHECK(back.adapter_watts == Approx(profile.adapter_watts));
        const auto again = write_profile(back, knowledge);
        REQUIRE(again.ok());
        const auto second = read_profile(*again, "second", knowledge);
        REQUIRE(second.ok());
        CHECK(second->id == id);
        CHECK(second->title == profile.title);
        CHECK(second->fingerprint == knowledge.topologies.back().fingerprint);
    };
    for (const Topology& base : shipped_knowledge().topologies) {
        CAPTURE(base.id);
        MachineProfile profile = example(base.id);
        profile.title = "Own " + base.id;
        round_trip(profile);
    }
    MachineProfile more = example("usbc-chained-magnetic");
    more.title = "Five ports";
    more.ports.insert(more.ports.begin(), {"Port 0", "left"});
    more.adapter_watts = 90.0;
    more.net_ohms["main"] = 4321.0;
    round_trip(more);
}

TEST_CASE("descriptions that build on each other are read whatever their files are called", "[profile]") {
    const ProfileFolder files;
    Knowledge knowledge = shipped_knowledge();
    MachineProfile first = example(chained);
    first.title = "First";
    const auto first_text = write_profile(first, knowledge);
    files.write("z.json", *first_text);
    knowledge.topology_files["first"] = nlohmann::json::parse(*first_text);
    auto machine = read_profile(*first_text, "first", knowledge);
    REQUIRE(machine.ok());
    knowledge.topologies.push_back(std::move(machine).value());
    MachineProfile second = profile_like(knowledge.topologies.back(), knowledge);
    second.title = "Second";
    files.write("a.json", *write_profile(second, knowledge));
    CHECK(second.base == "first");

    Knowledge next_start = shipped_knowledge();
    const std::size_t refused_before = next_start.refused_files.size();
    files.write("broken.json", "{");
    const auto taken = load_profiles(files.folder, next_start);
    CHECK(taken.size() == 2);
    CHECK(taken.at("second") == files.folder / "a.json");
    CHECK(next_start.refused_files.size() == refused_before + 1);
    CHECK(next_start.refused_files.back().place.find("broken.json") != std::string::npos);
    CHECK(built_on("first", next_start) == std::vector<std::string>{"second"});
    const auto of_the_shipped = built_on(chained, next_start);
    CHECK(std::count(of_the_shipped.begin(), of_the_shipped.end(), "second") == 1);
    CHECK(built_on("second", next_start).empty());
}
