// Test programs that use Qt: an application object, settings and files in a folder of their own.
#define CATCH_CONFIG_RUNNER
#include <QApplication>
#include <QStandardPaths>
#include <catch2/catch.hpp>

int main(int argc, char** argv) {
    // A real window is used when one is asked for (QT_QPA_PLATFORM=xcb under Xvfb).
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM"))
        qputenv("QT_QPA_PLATFORM", "offscreen");
    QStandardPaths::setTestModeEnabled(true);
    QApplication application(argc, argv);
    QApplication::setOrganizationName("Eager Hound tests");
    QApplication::setApplicationName("eager-hound-tests");
    return Catch::Session().run(argc, argv);
}
