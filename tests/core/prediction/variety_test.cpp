// SPDX-License-Identifier: GPL-3.0-or-later
// How makers differ, in what readings are expected: wide where no fault is, as narrow as ever where one is.
#include <unistd.h>
#include <catch2/catch.hpp>

#include <cmath>
#include <filesystem>
#include <fstream>
#include <iterator>

#include "core/inference/likelihood.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/model/net_index.h"
#include "core/prediction/expectation.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("the rail and the processor's core differ from maker to maker, a contract's volts do not",
          "[variety]") {
    const MachinePlan& plan = shared_table(chained).plan();
    const auto of = [&](const std::string& net) {
        return plan.net_variety[static_cast<std::size_t>(net_index(plan.topology(), net))];
    };
    CHECK(of("main").volts_share > 0.03);
    CHECK(of("core").ohms_ln > std::log(2.0));
    CHECK(of("vbus1").volts_share == 0.0);
    CHECK(of("vbus1").ohms_ln > std::log(5.0));
}

TEST_CASE("sound machines of every maker get their contract and make their rail", "[variety]") {
    // A habit that keeps a sound machine from working is no habit but a fault.
    for (const Topology& topology : shipped_knowledge().topologies) {
        INFO(topology.id);
        const MachinePlan& plan = shared_table(topology.id).plan();
        PredictionStore store(plan);
        const auto rail = static_cast<std::size_t>(net_index(plan.topology(), plan.topology().system_rail));
        for (const Port& port : plan.topology().ports) {
            for (const bool battery_in : {true, false}) {
                BenchConfiguration bench = plugged(port.id);
                bench.battery_in = battery_in;
                const auto views = store.sound_views(bench);
                for (std::size_t s = 0; s < views->size(); ++s) {
                    INFO(port.id << (battery_in ? "" : ", no battery") << ", sample " << s);
                    const PoweredView& view = (*views)[s];
                    CHECK(view.valid);
                    CHECK(view.meter.pattern == MeterPattern::steady);
                    CHECK(view.meter.volts >
                          0.9 * plan.charger_spec(plan.port_index(port.id)).offers.back().volts);
                    CHECK(view.net_volts[rail] > 5.0F);
                    CHECK((!battery_in || view.firmware != FirmwareMessage::not_charging));
                }
            }
        }
    }
}

TEST_CASE("sound ohms are widened by what makers do, those of a short are not", "[variety]") {
    NetVariety variety;
    variety.ohms_ln = 1.5;
    const std::vector<double> sound(4, 20000.0);
    const std::vector<double> machines{20000.0, 2.0, 26000.0, 500.0};
    const auto wide = expected_ohms(machines, {}, all_samples, variety, sound);
    const auto plain = expected_ohms(machines, {}, all_samples);
    CHECK(wide[0].common_width > plain[0].common_width + 1.0);
    CHECK(wide[1].common_width == plain[1].common_width);
    CHECK(wide[2].common_width > plain[2].common_width + 0.5);
    CHECK(wide[3].common_width == plain[3].common_width);
}

TEST_CASE("where nothing leads from a net, another maker's machine may show a number", "[variety]") {
    NetVariety variety;
    variety.ohms_ln = std::log(12.0);
    const std::vector<double> open(3, std::numeric_limits<double>::infinity());
    KnownExpectations by_maker;
    by_maker.variety = variety;
    by_maker.sound_ohms = &open;
    const Reading number = ohms_reading("a", for_ohms(), "vbus1", 5e4);
    const Reading ol = open_reading("b", for_ohms(), "vbus1");
    const double seen = log_likelihoods(number, open, {}, by_maker).front();
    CHECK(seen > log_broad(number) + std::log(0.05));
    // Without such a spread it means nothing at all.
    CHECK(log_likelihoods(number, open).front() < seen - 2.0);
    CHECK(log_likelihoods(ol, open, {}, by_maker).front() > std::log(0.7));
}

TEST_CASE("OL and a number above its limit are one finding", "[variety]") {
    // Common practice: above some 100 kilohms meters and patience differ.
    const std::vector<double> samples{3e5, 50.0, 9e4};
    const auto as_open = log_likelihoods(open_reading("a", for_ohms(), "vbus1"), samples);
    for (const double high : {1.2e5, 6e5, 5e6}) {
        const auto as_number = log_likelihoods(ohms_reading("b", for_ohms(), "vbus1", high), samples);
        for (std::size_t s = 0; s < samples.size(); ++s)
            CHECK(as_number[s] == Approx(as_open[s]));
    }
    CHECK(reads_open(std::nullopt));
    CHECK(reads_open(2e5));
    CHECK_FALSE(reads_open(9e4));
}

TEST_CASE("what a machine draws is anyone's guess, what a charger at its limit gives is not", "[variety]") {
    std::vector<PoweredView> views(2);
    views[0].meter.amps = views[1].meter.amps = 1.0;
    views[0].meter.pattern = views[1].meter.pattern = MeterPattern::steady;
    views[1].source_strained = true;
    const auto amps = expected_meter_amps(views, {}, all_samples, 1.0);
    CHECK(amps[0].common_width > 0.8);
    CHECK(amps[1].common_width < 0.3);
}

TEST_CASE("what was simulated of other spreads and habits is not taken for that of these", "[variety]") {
    namespace fs = std::filesystem;
    const fs::path data =
        fs::temp_directory_path() / ("eager-hound-variety-test-" + std::to_string(getpid()));
    fs::remove_all(data);
    fs::copy(fs::path(EH_SOURCE_DIR) / "data", data, fs::copy_options::recursive);
    const auto fingerprint = [&] { return load_knowledge(data).value().fingerprint; };
    const std::string usual = fingerprint();
    CHECK(usual == shipped_knowledge().fingerprint);
    const fs::path file = data / "designs" / "variety.json";
    std::ifstream in(file);
    std::string text{std::istreambuf_iterator<char>(in), {}};
    in.close();
    const std::string share = "\"share\": 0.15";
    REQUIRE(text.find(share) != std::string::npos);
    text.replace(text.find(share), share.size(), "\"share\": 0.25");
    std::ofstream(file) << text;
    CHECK(fingerprint() != usual);
    fs::remove(file);
    const auto without = load_knowledge(data);
    REQUIRE_FALSE(without.ok());
    CHECK_THAT(without.error().text(), Catch::Contains("variety.json"));
    fs::remove_all(data);
}
