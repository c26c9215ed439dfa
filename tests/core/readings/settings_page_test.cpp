// SPDX-License-Identifier: GPL-3.0-or-later
// Watts, health and cycles of a settings page: typed, refused, weighed.
#include "core/readings/settings_page.h"

#include <cmath>

#include "core/entry/quick_line.h"
#include "core/inference/page_fit.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

Result<QuickEntry> typed(const std::string& line) {
    return parse_quick_line(line, topology(chained), plugged("p1"));
}

PoweredView view_of(const std::string& machine, const std::vector<FaultInstance>& faults,
                    const BenchConfiguration& bench = plugged("p1")) {
    MachineModel model(shared_table(machine).plan(), faults, {});
    DcSolver solver;
    PoweredView view = look_at(model, bench, solver);
    REQUIRE(view.valid);
    return view;
}

}  // namespace

TEST_CASE("the numbers of a settings page are typed beside what the machine says", "[page]") {
    const auto entry = typed("says not charging 41% 65w health 82% cycles 310");
    REQUIRE(entry.ok());
    const auto* said = entry->reading.as<FirmwareReading>();
    REQUIRE(said != nullptr);
    CHECK(said->message == FirmwareMessage::not_charging);
    CHECK(said->percent == 41.0);
    CHECK(said->page == SettingsPage{65.0, 82.0, 310});
    CHECK_THAT(entry->echo, Catch::Contains("adapter given as 65 W") && Catch::Contains("health 82 %") &&
                                Catch::Contains("310 cycles"));
    CHECK(typed("says adapter unknown 0w")->reading.as<FirmwareReading>()->page.adapter_watts == 0.0);
}

TEST_CASE("numbers that no settings page shows are refused with what a page shows", "[page][hostile]") {
    struct Row {
        const char* line;
        const char* named;
    };
    for (const Row& row :
         {Row{"says charging health 300%", "0 to 120 %"}, Row{"says charging health", "health 82%"},
          Row{"says charging health soon", "health 82%"}, Row{"says charging cycles 90000", "5,000"},
          Row{"says charging cycles -4", "5,000"}, Row{"says charging 9000w", "500 W"},
          Row{"says charging health nan", "health"}}) {
        CAPTURE(row.line);
        const auto entry = typed(row.line);
        REQUIRE_FALSE(entry.ok());
        CHECK_THAT(entry.error().text(), Catch::Contains(row.named));
    }
}

TEST_CASE("a settings page gives what the charger agreed on, and no watts where the ID line is open",
          "[page]") {
    CHECK(view_of(chained, {}).adapter_watts == Approx(65.0).margin(1.0));
    CHECK(view_of(barrel, {}).adapter_watts == Approx(90.0).margin(1.0));
    // The machine runs from the jack and does not know the adapter (trade notes: common practice).
    CHECK(view_of(barrel, {{"jack_id_contact", "jack"}}).adapter_watts == 0.0F);
    BenchConfiguration unplugged = plugged("p1");
    unplugged.charger_connected = false;
    CHECK(view_of(chained, {}, unplugged).adapter_watts <= 0.0F);
}

TEST_CASE("the density of a page adds up to one, and no page says nothing", "[page]") {
    PoweredView view;
    view.adapter_watts = 65.0F;
    view.pack_health = 60.0F;
    view.pack_health_width = 8.0F;
    CHECK(page_density({}, view) == 1.0);
    double health = 0.0;
    for (double percent = 0.5; percent < 120.0; percent += 1.0)
        health += page_density({{}, percent, {}}, view);
    CHECK(health == Approx(1.0).epsilon(0.01));
    double watts = page_density({65.0, {}, {}}, view);
    for (int other = 1; other < adapter_watt_kinds; ++other)
        watts += page_density({0.0, {}, {}}, view);
    CHECK(watts == Approx(1.0));
    double cycles = 0.0;
    for (int count = 0; count < 100000; ++count)
        cycles += page_density({{}, {}, count}, view) / (count + 20.0);
    CHECK(cycles == Approx(1.0).epsilon(0.02));
    // A machine that does not start shows no page.
    view.adapter_watts = -1.0F;
    CHECK(page_density({65.0, 60.0, {}}, view) == Approx(page_background({65.0, 60.0, {}})));
}

TEST_CASE("a pack that is worn by its own account is suspected, and its health clears it", "[page]") {
    const auto worn_with = [](const SettingsPage& page) {
        Reading says;
        says.id = "s";
        says.configuration = plugged("p1");
        says.value = FirmwareReading{FirmwareMessage::not_charging, std::nullopt, std::nullopt, page};
        return part_probability(chained, "bat", {says});
    };
    const double unread = worn_with({});
    CHECK(worn_with({{}, 22.0, {}}) > unread);
    CHECK(worn_with({{}, 97.0, {}}) < unread);
    CHECK(worn_with({{}, {}, 1900}) > worn_with({{}, {}, 40}));
    // A page that does not know the watts speaks for a line that should tell them, and known ones for a sound
    // line.
    const PoweredView sound = view_of(barrel, {});
    const PoweredView open = view_of(barrel, {{"jack_id_contact", "jack"}});
    CHECK(page_density({0.0, {}, {}}, open) > 10.0 * page_density({0.0, {}, {}}, sound));
    CHECK(page_density({90.0, {}, {}}, sound) > 10.0 * page_density({90.0, {}, {}}, open));
}
