// SPDX-License-Identifier: GPL-3.0-or-later
// The shipped knowledge of rework, read once for all cases.
#pragma once

#include <catch2/catch.hpp>

#include "core/rework/rework_book.h"

namespace eh::test {

inline const ReworkBook& rework() {
    static const ReworkBook book = [] {
        auto loaded = load_rework(std::filesystem::path(EH_SOURCE_DIR) / "data");
        INFO((loaded.ok() ? std::string() : loaded.error().text()));
        REQUIRE(loaded.ok());
        return std::move(loaded).value();
    }();
    return book;
}

}  // namespace eh::test
