// SPDX-License-Identifier: GPL-3.0-or-later
// The tests run in the locale of their environment, as a Qt program does: under de_DE.UTF-8 the C library
// then writes and reads decimal commas, and nothing of ours may.
#define CATCH_CONFIG_EXTERNAL_INTERFACES
#include <catch2/catch.hpp>
#include <clocale>

namespace {

class LocaleOfEnvironment : public Catch::TestEventListenerBase {
  public:
    using TestEventListenerBase::TestEventListenerBase;
    void testRunStarting(const Catch::TestRunInfo&) override { std::setlocale(LC_ALL, ""); }
};

}  // namespace

CATCH_REGISTER_LISTENER(LocaleOfEnvironment)
