// SPDX-License-Identifier: GPL-3.0-or-later
// Test programs that use Qt: an application object, settings and files in a folder of their own.
#define CATCH_CONFIG_EXTERNAL_INTERFACES
#include <QApplication>
#include <QTemporaryDir>
#include <catch2/catch.hpp>
#include <memory>

namespace {

class QtAround : public Catch::TestEventListenerBase {
  public:
    using TestEventListenerBase::TestEventListenerBase;

    void testRunStarting(const Catch::TestRunInfo&) override {
        // A real window is used when one is asked for (QT_QPA_PLATFORM=xcb under Xvfb).
        if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM"))
            qputenv("QT_QPA_PLATFORM", "offscreen");
        // ctest runs several of these processes at a time, often of one program: with a shared folder,
        // what one remembers (the board of a machine, the size of a window) another would find.
        for (const char* place : {"XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME"})
            qputenv(place, (folder_.path() + "/" + place).toLocal8Bit());
        static int argc = 1;
        static char name[] = "eager-hound-tests";
        static char* argv[] = {name, nullptr};
        application_ = std::make_unique<QApplication>(argc, argv);
        QApplication::setOrganizationName("Eager Hound tests");
        QApplication::setApplicationName("eager-hound-tests");
    }

    void testRunEnded(const Catch::TestRunStats&) override { application_.reset(); }

  private:
    QTemporaryDir folder_;
    std::unique_ptr<QApplication> application_;
};

}  // namespace

CATCH_REGISTER_LISTENER(QtAround)
