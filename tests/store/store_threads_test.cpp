// SPDX-License-Identifier: GPL-3.0-or-later
// Views of one shop in threads of their own, as the statistics and the checks of a shop file are beside the
// window. Built on std::thread, so that the thread sanitizer sees how they are joined (`./check --sanitize`).
#include <atomic>
#include <mutex>
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
    std::mutex why_mutex;
    std::string why;
    const auto refuse = [&](const Error& error) {
        ++refused;
        const std::lock_guard lock(why_mutex);
        why = error.text();
    };
    std::vector<std::thread> readers;
    for (int n = 0; n < 2; ++n) {
        readers.emplace_back([&] {
            const auto view = open();
            if (!view)
                return refuse(view.error());
            std::size_t last = 0;
            while (!done) {
                const auto seen = (*view)->load("one");
                if (!seen)
                    return refuse(seen.error());
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
    while (looks < 2 && refused == 0)
        std::this_thread::yield();
    done = true;
    for (std::thread& reader : readers)
        reader.join();
    INFO(why);
    CHECK(refused == 0);
    CHECK(torn == 0);
    CHECK(*bench->load("one") == job);
}

TEST_CASE("windows that are opened at once all open, and the copy they lay is whole", "[store][threads]") {
    for (int round = 0; round < 8; ++round) {
        ShopOnDisk shop;
        { REQUIRE(shop.window()->save(sample_job("one")).ok()); }
        // Of today there is none yet.
        for (const auto& copy : backups_of(shop.file()))
            std::filesystem::remove(copy);
        constexpr int windows = 6;
        std::atomic<int> ready{0};
        std::mutex why_mutex;
        std::string why;
        std::vector<std::thread> openers;
        for (int n = 0; n < windows; ++n) {
            openers.emplace_back([&] {
                ++ready;
                while (ready < windows)
                    std::this_thread::yield();
                if (const auto opened = JobStore::open(shop.file()); !opened) {
                    const std::lock_guard lock(why_mutex);
                    why = opened.error().text();
                }
            });
        }
        for (std::thread& opener : openers)
            opener.join();
        CAPTURE(round, why);
        CHECK(why.empty());
        const auto copies = backups_of(shop.file());
        REQUIRE_FALSE(copies.empty());
        for (const auto& copy : copies) {
            const auto kept = JobStore::open(copy);
            REQUIRE(kept.ok());
            CHECK((*kept)->load("one").ok());
        }
    }
}
