// SPDX-License-Identifier: GPL-3.0-or-later
// The same shop behind both databases, opened by as many windows as a test wants.
#pragma once

#include <QTemporaryDir>
#include <catch2/catch.hpp>
#include <filesystem>
#include <memory>

#include "store/file_store.h"
#include "store/server_store.h"
#include "tests/support/postgres_cluster.h"
#include "tests/support/shop.h"

namespace eh::test {

struct ShopOnDisk {
    QTemporaryDir directory;
    bool on_server = false;
    ServerAddress address;
    int windows = 0;

    explicit ShopOnDisk(bool server = false) : on_server(server) {
        if (server)
            address = PostgresCluster::shared().fresh_database("shop_of_a_test");
    }
    [[nodiscard]] std::filesystem::path path(const std::string& name) const {
        return std::filesystem::path(directory.path().toStdString()) / name;
    }
    [[nodiscard]] std::filesystem::path file() const { return path("shop.sqlite"); }

    std::unique_ptr<JobStore> window() {
        if (!on_server) {
            auto store = FileStore::open_file(file());
            if (!store)
                FAIL(store.error().text());
            return std::move(store).value();
        }
        auto store = ServerStore::open_server(address, path("unsent-" + std::to_string(++windows)));
        if (!store)
            FAIL(store.error().text());
        return std::move(store).value();
    }
};

// One that looks for its server again whenever it is asked for news.
inline std::unique_ptr<ServerStore> bench_at(const ShopOnDisk& shop, const std::string& unsent) {
    auto store = ServerStore::open_server(shop.address, shop.path(unsent));
    if (!store)
        FAIL(store.error().text());
    (*store)->set_retry_after(std::chrono::milliseconds(0));
    return std::move(store).value();
}

inline Job sample_job(const std::string& id) {
    Job job;
    job.id = JobId::made(id);
    job.ticket.number = "N-" + id;
    job.ticket.topology = chained;
    job.ticket.customer = "Ämilie \"Ω\" O'Neil";
    job.readings = {meter_reading("r1", plugged("p1"), MeterPattern::steady, 5.02, 0.1834567890123456),
                    open_reading("r2", for_ohms(), "vbus1")};
    return job;
}

// A job whose work on that part is proven.
inline Job cured_job(const std::string& id, const std::string& block, double main_ohms) {
    Job job = sample_job(id);
    job.readings.push_back(ohms_reading("r3", for_ohms(), "main", main_ohms));
    job.acts.push_back({"a1", Work::replace, block, "new", 20.0, 1.0, "", 0, "", ""});
    job.proof.emplace_back();
    job.proof.back().id = "p1";
    job.proof.back().state = ProofState::passed;
    job.stage = JobStage::closed;
    return job;
}

}  // namespace eh::test
