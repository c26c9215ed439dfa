// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/bench_steering.h"

#include <algorithm>

namespace eh {

BenchSteering::BenchSteering(JobSession& session, MeterFeed& feed, QObject* parent)
    : QObject(parent), session_(session), feed_(feed) {
    connect(&session_, &JobSession::changed, this, &BenchSteering::follow);
    connect(&feed_, &MeterFeed::steerableFound, this, [this] {
        steered_ = {};
        steered_.port.clear();
        follow();
    });
}

void BenchSteering::follow() {
    if (!feed_.steerable() || !session_.hasJob() || session_.job().bench.port.empty())
        return;
    const BenchConfiguration bench = session_.job().bench;
    const auto send = [this](const std::string& line) { feed_.command(QByteArray::fromStdString(line)); };
    if (bench.battery_in != steered_.battery_in)
        send(bench.battery_in ? "battery in" : "battery out");
    if (bench.charger != steered_.charger)
        send(bench.charger == Owner::customer ? "charger customer" : "charger bench");
    if (bench.lead != steered_.lead)
        send(bench.lead == Owner::customer ? "lead customer" : "lead bench");
    // Another job, or an undo: the machine behind the meter has its old parts again.
    const auto keeps = [](const auto& list, const auto& before) {
        return std::includes(list.begin(), list.end(), before.begin(), before.end());
    };
    if (!keeps(bench.replaced, steered_.replaced) || !keeps(bench.handled, steered_.handled) ||
        (steered_.power_was_cut && !bench.power_was_cut)) {
        send("fresh parts");
        steered_.replaced.clear();
        steered_.handled.clear();
        steered_.removed.clear();
        steered_.power_was_cut = false;
    }
    if (bench.power_was_cut && !steered_.power_was_cut)
        send("power cut");
    for (const Handling& done : bench.handled) {
        if (!std::binary_search(steered_.handled.begin(), steered_.handled.end(), done))
            send(to_text(done.work) + " " + done.block);
    }
    for (const std::string& block : bench.replaced) {
        if (!std::binary_search(steered_.replaced.begin(), steered_.replaced.end(), block))
            send("replaced " + block);
    }
    for (const std::string& block : bench.removed) {
        if (!std::binary_search(steered_.removed.begin(), steered_.removed.end(), block))
            send("removed " + block);
    }
    for (const std::string& block : steered_.removed) {
        if (!std::binary_search(bench.removed.begin(), bench.removed.end(), block))
            send("refitted " + block);
    }
    if (bench.port != steered_.port)
        send("port " + bench.port);
    if (bench.side != steered_.side)
        send(bench.side == PlugSide::b ? "side b" : "side a");
    if (bench.charger_connected != steered_.charger_connected)
        send(bench.charger_connected ? "charger on" : "charger off");
    steered_ = bench;
}

}  // namespace eh
