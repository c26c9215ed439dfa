// SPDX-License-Identifier: GPL-3.0-or-later
// Predictions kept on disk are those that would be worked out, or none.
#include "core/prediction/prediction_cache.h"
#include "core/machine/simulation/known_ohms.h"

#include <unistd.h>

#include <algorithm>
#include <fstream>

#include "core/base/bytes.h"
#include "core/base/fingerprint.h"
#include "core/inference/ranking.h"
#include "core/prediction/prediction_archive.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

class Folder {
  public:
    Folder()
        : path_(std::filesystem::temp_directory_path() /
                ("eh_cache_" + std::to_string(getpid()) + "_" + std::to_string(number()))) {
        std::filesystem::remove_all(path_);
    }
    ~Folder() { std::filesystem::remove_all(path_); }
    Folder(const Folder&) = delete;
    Folder& operator=(const Folder&) = delete;
    [[nodiscard]] const std::filesystem::path& path() const { return path_; }
    [[nodiscard]] std::size_t files() const {
        std::error_code problem;
        return static_cast<std::size_t>(
            std::distance(std::filesystem::directory_iterator(path_, problem), {}));
    }

  private:
    static int number() {
        static int last = 0;
        return ++last;
    }
    std::filesystem::path path_;
};

OffQuestion through(int part) {
    return {OffQuestion::Of::through_part, part};
}

PredictionOptions few_samples() {
    PredictionOptions options;
    options.samples = 6;
    return options;
}

// A small store: a few machines in two configurations, ohms, and through one part.
struct Small {
    FittedPlan plan{shipped_knowledge(), topology(barrel)};
    PredictionStore store{plan, few_samples()};
    std::vector<PredictionStore::MachineNumber> machines{
        PredictionStore::sound, store.machine({{"jack_shorted", "jack"}}),
        store.machine({{"charger_circuit_dead", "chg"}, {"capacitor_shorted", "cm"}})};

    void simulate() {
        BenchConfiguration out = plugged("p1");
        out.battery_in = false;
        for (const BenchConfiguration& configuration : {plugged("p1"), out})
            (void)store.simulate_views(machines, configuration);
        (void)store.simulate_ohms(machines, for_ohms());
        (void)store.simulate_numbers({PredictionStore::sound}, for_ohms(), through(plan.find_block("har")));
    }
};

bool same(const PoweredView& a, const PoweredView& b) {
    return a.meter == b.meter && a.net_volts == b.net_volts && a.net_ohms == b.net_ohms &&
           a.rise_kelvin == b.rise_kelvin && a.first_shunt_watts == b.first_shunt_watts &&
           a.firmware == b.firmware && a.battery_percent.value == b.battery_percent.value &&
           a.battery_percent.width == b.battery_percent.width && a.drop_probability == b.drop_probability &&
           a.source_strained == b.source_strained && a.repeats == b.repeats && a.valid == b.valid &&
           a.signs == b.signs && a.called_slow == b.called_slow && a.asks_for_service == b.asks_for_service &&
           a.called_on_battery == b.called_on_battery && a.trend == b.trend;
}

std::string content_of(const std::filesystem::path& path) {
    std::ifstream file(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(file), {}};
}

}  // namespace

TEST_CASE("what comes back from disk is what was simulated", "[cache]") {
    const Folder folder;
    const PredictionCache cache(folder.path(), "this build");
    Small first;
    CHECK_FALSE(cache.load(first.store).ok());
    first.simulate();
    REQUIRE(cache.save(first.store).ok());

    Small second;
    REQUIRE(second.store.views(second.machines[1], plugged("p1")) == nullptr);
    REQUIRE(cache.load(second.store).ok());
    for (std::size_t m = 0; m < first.machines.size(); ++m) {
        CHECK(first.store.weights(first.machines[m]) == second.store.weights(second.machines[m]));
        const auto a = first.store.views(first.machines[m], plugged("p1"));
        const auto b = second.store.views(second.machines[m], plugged("p1"));
        REQUIRE(b != nullptr);
        REQUIRE(a->size() == b->size());
        CHECK(std::equal(a->begin(), a->end(), b->begin(), same));
        CHECK(*first.store.ohms(first.machines[m], for_ohms()) ==
              *second.store.ohms(second.machines[m], for_ohms()));
    }
    const int harness = first.plan.find_block("har");
    CHECK(*first.store.numbers(PredictionStore::sound, for_ohms(), through(harness)) ==
          *second.store.numbers(PredictionStore::sound, for_ohms(), through(harness)));
    // Samples that repeat share their numbers.
    const auto views = second.store.views(PredictionStore::sound, plugged("p1"));
    for (std::size_t s = 1; s < views->size(); ++s) {
        if ((*views)[s].repeats)
            CHECK((*views)[s].net_volts.place() == (*views)[s - 1].net_volts.place());
    }
}

TEST_CASE("what was simulated as the bench stood once does not come back as it stands otherwise", "[cache]") {
    const Folder folder;
    const PredictionCache cache(folder.path(), "this build");
    const BenchConfiguration usual = plugged("p1");
    std::vector<BenchConfiguration> others(6, usual);
    others[0].power_was_cut = true;
    note_work(others[1], "jack", Work::resolder);
    others[2].plug_held = true;
    others[3].button = Button::pressed;
    others[4].tester = Tester::loaded;
    insert_block(others[5].replaced, "jack");
    const std::vector<std::vector<FaultInstance>> faults{
        {{"ec_hung", "ec"}}, {{"jack_mount", "jack"}}, {{"jack_rest_open", "jack"}}};
    for (const auto& faulty : faults) {
        for (const BenchConfiguration& other : others) {
            Small first;
            (void)first.store.simulate_views({first.store.machine(faulty)}, other);
            REQUIRE(cache.save(first.store).ok());
            Small second;
            REQUIRE(cache.load(second.store).ok());
            // Where the bench makes no difference, the one may stand for the other.
            const auto kept = second.store.views(second.store.machine(faulty), usual);
            if (kept == nullptr)
                continue;
            Small third;
            const auto machine = third.store.machine(faulty);
            (void)third.store.simulate_views({machine}, usual);
            const auto meant = third.store.views(machine, usual);
            CHECK(std::equal(kept->begin(), kept->end(), meant->begin(), meant->end(), same));
        }
    }
}

TEST_CASE("kept predictions are not taken for another machine, knowledge, option or build", "[cache]") {
    const Folder folder;
    const PredictionCache cache(folder.path(), "this build");
    Small small;
    const auto usual = cache.file_of(small.store);
    REQUIRE_FALSE(usual.empty());
    CHECK(PredictionCache(folder.path(), "another build").file_of(small.store) != usual);
    const FittedPlan other(shipped_knowledge(), topology(chained));
    CHECK(cache.file_of(PredictionStore(other, few_samples())) != usual);
    PredictionOptions more = few_samples();
    more.samples = 12;
    CHECK(cache.file_of(PredictionStore(small.plan, more)) != usual);
    Knowledge changed = shipped_knowledge();
    changed.fingerprint = fingerprint("another rate");
    CHECK(cache.file_of(PredictionStore(FittedPlan(changed, topology(barrel)), few_samples())) != usual);
    // Knowledge that did not come from files may be anything.
    changed.fingerprint.clear();
    const FittedPlan unknown(changed, topology(barrel));
    PredictionStore unnamed(unknown, few_samples());
    CHECK(cache.file_of(unnamed).empty());
    CHECK_FALSE(cache.save(unnamed).ok());
    CHECK(this_program() == this_program());
}

TEST_CASE("damaged predictions are refused whole", "[cache]") {
    const Folder folder;
    const PredictionCache cache(folder.path(), "this build");
    Small first;
    first.simulate();
    REQUIRE(cache.save(first.store).ok());
    const auto path = cache.file_of(first.store);
    const std::string good = content_of(path);
    const auto refused_with = [&](const std::string& content) {
        std::ofstream(path, std::ios::binary | std::ios::trunc) << content;
        Small fresh;
        const Outcome outcome = cache.load(fresh.store);
        CHECK(fresh.store.views(PredictionStore::sound, plugged("p1")) == nullptr);
        return !outcome.ok();
    };
    for (std::size_t i = 0; i < 40; ++i) {
        const std::size_t place = i * good.size() / 40;
        std::string flipped = good;
        flipped[place] = static_cast<char>(flipped[place] ^ 0x20);
        CHECK(refused_with(flipped));
        CHECK(refused_with(good.substr(0, place)));
    }
    // Cut off below the fingerprint, too, and with a fingerprint that fits what is left.
    const std::string content = PredictionArchive::write(first.store);
    for (std::size_t i = 0; i < 200; ++i) {
        Small fresh;
        CHECK_FALSE(PredictionArchive::read(std::string_view(content).substr(0, i * content.size() / 200),
                                            fresh.store)
                        .ok());
        CHECK(fresh.store.views(PredictionStore::sound, plugged("p1")) == nullptr);
    }
    const FittedPlan other(shipped_knowledge(), topology(chained));
    PredictionStore of_another(other, few_samples());
    CHECK_FALSE(PredictionArchive::read(content, of_another).ok());
}

TEST_CASE("what is kept stays within its room, the newest longest", "[cache]") {
    const Folder folder;
    Small small;
    small.simulate();
    const auto size = PredictionArchive::write(small.store).size();
    CHECK_FALSE(PredictionCache(folder.path(), "one", size / 2).save(small.store).ok());
    CHECK(folder.files() == 0);
    const auto limit = 2 * size + size / 2;
    for (const char* build : {"one", "two", "three"}) {
        const PredictionCache cache(folder.path(), build, limit);
        REQUIRE(cache.save(small.store).ok());
        CHECK(std::filesystem::exists(cache.file_of(small.store)));
    }
    CHECK(folder.files() == 2);
    CHECK_FALSE(std::filesystem::exists(PredictionCache(folder.path(), "one", limit).file_of(small.store)));
}

TEST_CASE("fingerprints are those of the published XXH3", "[cache]") {
    // XXH3 128 bits of nothing with seed 0, from the test values of the xxHash specification (from memory).
    CHECK(fingerprint("") == "99aa06d3014798d86001c324468d497f");
    CHECK(fingerprint("a") != fingerprint("b"));
}

TEST_CASE("bytes come back as they were, and past the end as nothing", "[cache]") {
    ByteWriter out;
    out.number(3.25);
    out.text("two words");
    out.numbers(std::vector<float>{1.0F, 2.5F});
    ByteReader in(out.bytes());
    CHECK(in.number<double>() == 3.25);
    CHECK(in.text() == "two words");
    CHECK(in.numbers<std::vector<float>>() == std::vector<float>{1.0F, 2.5F});
    CHECK(in.ok());
    CHECK(in.at_end());
    CHECK(in.number<int>() == 0);
    CHECK_FALSE(in.ok());
    ByteWriter lying;
    lying.count(4000000000U);
    ByteReader liar(lying.bytes());
    CHECK(liar.numbers<std::vector<double>>().empty());
    CHECK_FALSE(liar.ok());
}
