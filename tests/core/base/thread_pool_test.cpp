// SPDX-License-Identifier: GPL-3.0-or-later
// Work spread over threads is all the work, each piece once; what a worker throws reaches the caller.
#include "core/base/thread_pool.h"

#include <catch2/catch.hpp>
#include <numeric>
#include <stdexcept>

using namespace eh;

namespace {

// What each piece was done by, how often.
std::vector<int> spread(std::size_t count, int threads, const std::function<bool()>& stop = {},
                        const std::function<void(double)>& progress = {}) {
    std::vector<std::atomic<int>> done(count);
    (void)spread_over_threads(
        count, threads, [&] { return [&](std::size_t i) { ++done[i]; }; }, stop, progress);
    return {done.begin(), done.end()};
}

}  // namespace

TEST_CASE("every piece is done once, whatever the number of threads", "[base][threads]") {
    for (const int threads : {1, 2, 3, 8}) {
        for (const std::size_t count : {0UL, 1UL, 2UL, 7UL, 1000UL}) {
            CAPTURE(threads, count);
            CHECK(spread(count, threads) == std::vector<int>(count, 1));
        }
    }
}

TEST_CASE("each thread works with a worker of its own", "[base][threads]") {
    std::atomic<int> made{0};
    std::atomic<long> sum{0};
    const bool whole = spread_over_threads(500, 4,
                                           [&] {
                                               ++made;
                                               // Not shared, so that it needs no lock; the sanitizer would
                                               // tell.
                                               return [&, own = 0L](std::size_t i) mutable {
                                                   own = static_cast<long>(i);
                                                   sum += own;
                                               };
                                           },
                                           {}, {});
    CHECK(whole);
    CHECK(made == 4);
    CHECK(sum == 499 * 500 / 2);
}

TEST_CASE("work that is stopped says so and does not go on", "[base][threads]") {
    int asked = 0;
    const auto done = spread(1000, 1, [&] { return ++asked > 3; });
    CHECK(std::accumulate(done.begin(), done.end(), 0) == 4);
    CHECK(asked == 4);
    double last = -1.0;
    bool rising = true;
    (void)spread(500, 3, {}, [&](double share) {
        rising = rising && share >= last && share <= 1.0;
        last = share;
    });
    CHECK(rising);
}

TEST_CASE("what a worker throws ends the work and is thrown to who asked", "[base][threads]") {
    for (const int threads : {1, 4}) {
        std::atomic<int> begun{0};
        CHECK_THROWS_WITH(spread_over_threads(10'000, threads,
                                              [&] {
                                                  return [&](std::size_t i) {
                                                      ++begun;
                                                      if (i == 5)
                                                          throw std::runtime_error("the fifth");
                                                  };
                                              },
                                              {}, {}),
                          "the fifth");
        // With others at work nobody can say how far they got meanwhile.
        CHECK((threads > 1 || begun == 6));
    }
}

TEST_CASE("a pool begins tasks in order, and at its end only waits for what was begun", "[base][threads]") {
    std::vector<int> order;
    std::atomic<int> done{0};
    {
        ThreadPool one(1);
        for (int i = 0; i < 20; ++i)
            one.run([&, i] {
                order.push_back(i);
                ++done;
            });
        while (done < 20)
            std::this_thread::yield();
    }
    std::vector<int> expected(20);
    std::iota(expected.begin(), expected.end(), 0);
    CHECK(order == expected);

    std::atomic<bool> begun{false}, go_on{false};
    std::atomic<int> ran{0};
    std::thread opener;
    {
        ThreadPool one(1);
        one.run([&] {
            begun = true;
            while (!go_on)
                std::this_thread::yield();
            ++ran;
        });
        one.run([&] { ran += 100; });
        while (!begun)
            std::this_thread::yield();
        opener = std::thread([&] {
            std::this_thread::sleep_for(std::chrono::milliseconds(30));
            go_on = true;
        });
    }
    opener.join();
    CHECK(ran == 1);
    CHECK(machine_threads() >= 1);
}
