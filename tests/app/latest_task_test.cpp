// SPDX-License-Identifier: GPL-3.0-or-later
// Work beside the window: of what was asked last, and of nothing else.
#include "app/services/latest_task.h"

#include <QThread>
#include <catch2/catch.hpp>
#include <stdexcept>
#include <thread>

#include "tests/support/event_loop.h"

using namespace eh;
using test::eventually;

namespace {

// Works until it is told to stop, then gives `value`.
std::function<int(const TaskControl&)> until_stopped(int value, std::atomic<bool>& begun) {
    return [value, &begun](const TaskControl& control) {
        begun = true;
        while (!control.stopped())
            QThread::msleep(1);
        return value;
    };
}

}  // namespace

TEST_CASE("only what was asked last is delivered, on the thread that asked", "[app][task]") {
    LatestTask<int> task;
    std::vector<int> came;
    bool here = true;
    for (int i = 0; i < 20; ++i) {
        task.start([i](const TaskControl&) { return i; },
                   [&](int value) {
                       came.push_back(value);
                       here = here && QThread::currentThread() == QCoreApplication::instance()->thread();
                   });
        CHECK(task.running());
    }
    REQUIRE(eventually([&] { return !task.running(); }));
    CHECK(came == std::vector<int>{19});
    CHECK(here);
}

TEST_CASE("a new task waits until the one before has ended, and one that never began is skipped",
          "[app][task]") {
    LatestTask<int> task;
    std::atomic<int> at_once{0}, most{0}, ran{0};
    const auto work = [&](const TaskControl& control) {
        most = std::max(most.load(), ++at_once);
        ++ran;
        while (!control.stopped() && ran < 2)
            QThread::msleep(1);
        --at_once;
        return 1;
    };
    int delivered = 0;
    const auto done = [&](int value) { delivered += value; };
    task.start(work, done);
    REQUIRE(eventually([&] { return ran == 1; }));
    for (int i = 0; i < 10; ++i)
        task.start(work, done);
    REQUIRE(eventually([&] { return !task.running(); }));
    CHECK(most == 1);
    CHECK(ran <= 3);
    CHECK(delivered == 1);
}

TEST_CASE("what is stopped is delivered, what is forgotten is not", "[app][task]") {
    LatestTask<int> task;
    std::atomic<bool> begun{false};
    int came = 0;
    task.start(until_stopped(7, begun), [&](int value) { came = value; });
    REQUIRE(eventually([&] { return begun.load(); }));
    task.stop();
    REQUIRE(eventually([&] { return !task.running(); }));
    CHECK(came == 7);

    task.start(until_stopped(8, begun), [&](int value) { came = value; });
    task.forget();
    CHECK_FALSE(task.running());
    task.start([](const TaskControl&) { return 9; }, [&](int value) { came = value; });
    REQUIRE(eventually([&] { return !task.running(); }));
    CHECK(came == 9);
}

TEST_CASE("a task that goes with its owner ends first and delivers nothing", "[app][task]") {
    std::atomic<bool> begun{false}, ended{false};
    bool came = false;
    {
        LatestTask<int> task;
        task.start(
            [&](const TaskControl& control) {
                begun = true;
                while (!control.stopped())
                    QThread::msleep(1);
                QThread::msleep(20);
                ended = true;
                return 1;
            },
            [&](int) { came = true; });
        REQUIRE(eventually([&] { return begun.load(); }));
    }
    CHECK(ended);
    QCoreApplication::processEvents();
    CHECK_FALSE(came);
}

TEST_CASE("progress and news come in order, and none of an older task", "[app][task]") {
    LatestTask<int> task;
    std::vector<double> shares;
    std::vector<int> news;
    bool done = false;
    std::atomic<bool> begun{false};
    task.start(
        [&](const TaskControl& control) {
            (void)control.goes_on(0.9);
            control.post([&] { news.push_back(-1); });
            begun = true;
            return 0;
        },
        [](int) {}, [&](double share) { shares.push_back(-share); });
    while (!begun)
        QThread::msleep(1);
    task.start(
        [&](const TaskControl& control) {
            for (int i = 1; i <= 5; ++i) {
                CHECK(control.goes_on(0.2 * i));
                control.post([&, i] { news.push_back(i); });
            }
            return 1;
        },
        [&](int) { done = true; }, [&](double share) { shares.push_back(share); });
    REQUIRE(eventually([&] { return done; }));
    REQUIRE(shares.size() == 5);
    CHECK(std::is_sorted(shares.begin(), shares.end()));
    CHECK(shares.front() == Approx(0.2));
    CHECK(news == std::vector<int>{1, 2, 3, 4, 5});
}

TEST_CASE("a task can be waited for, may begin the next, and tells what it threw", "[app][task]") {
    LatestTask<std::unique_ptr<int>> task;
    int came = 0;
    std::function<void(std::unique_ptr<int>)> again = [&](std::unique_ptr<int> value) {
        came += *value;
        if (came < 6)
            task.start([](const TaskControl&) { return std::make_unique<int>(3); }, again);
    };
    task.start([](const TaskControl&) { return std::make_unique<int>(2); }, again);
    task.finish();
    CHECK(came == 2);
    task.finish();
    CHECK(came == 5);
    task.finish();
    CHECK(came == 8);
    task.finish();
    CHECK(came == 8);
    task.start([](const TaskControl&) -> std::unique_ptr<int> { throw std::runtime_error("no copper"); },
               [&](const std::unique_ptr<int>&) { came = 0; });
    CHECK_THROWS_WITH(task.finish(), "no copper");
    CHECK(came == 8);
    CHECK_FALSE(task.running());
}

TEST_CASE("news that throws does not keep back what was posted after it", "[app][task]") {
    Mailbox mailbox;
    std::vector<int> told;
    std::thread other([&] {
        mailbox.post([&] { told.push_back(1); });
        mailbox.post([] { throw std::runtime_error("a slot"); });
        mailbox.post([&] { told.push_back(2); });
    });
    other.join();
    CHECK_THROWS_WITH(QMetaObject::invokeMethod(&mailbox, "drain", Qt::DirectConnection), "a slot");
    CHECK(told == std::vector<int>{1});
    REQUIRE(eventually([&] { return told.size() == 2; }));
    CHECK(told == std::vector<int>{1, 2});
}
