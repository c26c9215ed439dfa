// SPDX-License-Identifier: GPL-3.0-or-later
// Views of one shop in threads of their own, as the statistics and the checks of a shop file are beside the
// window. Built on std::thread, so that the thread sanitizer sees how they are joined (`./check --sanitize`).
#include <atomic>
#include <thread>

#include "tests/store/store_fixture.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("a shop is read in other threads while it is written in this one", "[store][threads]") {
    ShopOnDisk shop(GENERATE(false, true));
    auto bench = shop.window();
    Job job = sample_job("one");
    REQUIRE(bench->save(job).ok());
    const JobStore::Opener open = bench->another();
    std::atomic<bool> done{false};
    std::atomic<int> looks{0}, refused{0}, torn{0};
    std::vector<std::thread> readers;
    for (int n = 0; n < 2; ++n) {
        readers.emplace_back([&] {
            const auto view = open();
            std::size_t last = 0;
            while (!done) {
                const auto seen = (*view)->load("one");
                if (!seen) {
                    ++refused;
                    continue;
                }
                // Readings are only added, and all of one save or none are there.
                const std::size_t now = seen->readings.size();
                torn += now < last || (now - 2) % 3 != 0 ? 1 : 0;
                last = now;
                ++looks;
            }
        });
    }
    for (int edit = 0; edit < 30; ++edit) {
        for (int n = 0; n < 3; ++n)
            job.readings.push_back(ohms_reading("e" + std::to_string(edit) + "-" + std::to_string(n),
                                                for_ohms(), "main", 1 + n));
        CHECK(bench->save(job).ok());
    }
    while (looks < 2)
        std::this_thread::yield();
    done = true;
    for (std::thread& reader : readers)
        reader.join();
    CHECK(refused == 0);
    CHECK(torn == 0);
    CHECK(*bench->load("one") == job);
}
