// SPDX-License-Identifier: GPL-3.0-or-later
// Starting the program: the command line, the shop file, and the offer of a copy.
#include <QMessageBox>
#include <QProcess>
#include <QPushButton>
#include <QScreen>
#include <QSettings>
#include <QStandardPaths>
#include <QTimer>
#include <fstream>
#include <nlohmann/json.hpp>

#include "app/shop_file.h"
#include "tests/app/app_fixture.h"

using namespace eh;
using namespace eh::test;
namespace fs = std::filesystem;

namespace {

struct Started {
    int code = -1;
    QByteArray out;
    QByteArray err;
};

// The real program without a screen; `folder` stands for the home of its settings and shop.
Started start(const QStringList& arguments, const QString& folder, const char* platform = "offscreen") {
    QProcess process;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert("QT_QPA_PLATFORM", platform);
    environment.insert("XDG_DATA_HOME", folder + "/data");
    environment.insert("XDG_CONFIG_HOME", folder + "/config");
    process.setProcessEnvironment(environment);
    process.start(EH_PROGRAM, arguments);
    REQUIRE(process.waitForFinished(60000));
    return {process.exitCode(), process.readAllStandardOutput(), process.readAllStandardError()};
}

Job named_job(const std::string& id) {
    Job job;
    job.id = JobId::made(id);
    job.ticket.customer = "A customer";
    return job;
}

// A shop file with one job, a copy of it, and then damage.
fs::path damaged_shop(const QTemporaryDir& folder, bool with_copy) {
    const fs::path file = folder.filePath("shop.sqlite").toStdString();
    {
        auto store = JobStore::open(file);
        REQUIRE(store.ok());
        REQUIRE((*store)->save(named_job("kept")).ok());
        if (with_copy)
            REQUIRE((*store)->backup_to(file.string() + ".copy-20260101-000000-000").ok());
    }
    std::ofstream(file, std::ios::binary | std::ios::trunc) << "rubbish";
    return file;
}

}  // namespace

// Two processes that ran at a time with one folder found each other's boards and window sizes.
TEST_CASE("a run of the tests remembers in a folder that no other run has", "[app][start]") {
    const QString temporary = QDir::tempPath();
    const QString settings = qEnvironmentVariable("XDG_CONFIG_HOME");
    REQUIRE(settings.startsWith(temporary));
    CHECK(QSettings().fileName().startsWith(settings));
    CHECK(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation).startsWith(temporary));
    CHECK(QStandardPaths::writableLocation(QStandardPaths::CacheLocation).startsWith(temporary));
}

TEST_CASE("help and wrong options need no screen", "[app][start]") {
    const QTemporaryDir folder;
    const Started help = start({"--help"}, folder.path(), "no-such-platform");
    CHECK(help.code == 0);
    for (const char* option : {"--demo", "--job", "--shop", "--meter"})
        CHECK_THAT(help.out.toStdString(), Catch::Contains(option));
    CHECK(start({"--dance"}, folder.path(), "no-such-platform").code != 0);
}

TEST_CASE("the demo starts, paints and measures itself", "[app][start]") {
    const QTemporaryDir folder;
    const Started demo = start({"--demo", "--measure", "3"}, folder.path());
    INFO(demo.err.toStdString());
    REQUIRE(demo.code == 0);
    const auto measured = nlohmann::json::parse(demo.out.toStdString());
    CHECK(measured["first_paint_ms"].get<double>() > 0.0);
    CHECK(measured["cpu_share"].get<double>() >= 0.0);
    CHECK(measured["resident_mb"].get<double>() > 10.0);
}

TEST_CASE("a first start makes the shop where it was asked to, and an imported job stays in it",
          "[app][start]") {
    const QTemporaryDir folder;
    const QString shop = folder.filePath("new/place/shop.sqlite");
    const Started run = start({"--shop", shop, "--job",
                               EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json", "--measure", "1"},
                              folder.path());
    INFO(run.err.toStdString());
    REQUIRE(run.code == 0);
    auto store = JobStore::open(shop.toStdString());
    REQUIRE(store.ok());
    CHECK((*store)->list()->size() == 1);
}

TEST_CASE("a damaged shop file gives way to its last copy only when that is agreed to", "[app][start]") {
    const QTemporaryDir folder;
    const fs::path file = damaged_shop(folder, true);
    JobRepository repository;
    int asked = 0;
    SECTION("agreed") {
        const auto opened = shop_opened(repository, file, [&](const Error& why, const fs::path& copy) {
            ++asked;
            CHECK_THAT(why.text(), Catch::Contains("damaged"));
            CHECK(fs::exists(copy));
            return true;
        });
        REQUIRE(opened.ok());
        const auto other_view = JobStore::open(file);
        REQUIRE(other_view.ok());
        CHECK((*other_view)->load("kept").ok());
    }
    SECTION("declined") {
        const auto opened = shop_opened(repository, file, [&](const Error&, const fs::path&) {
            ++asked;
            return false;
        });
        REQUIRE_FALSE(opened.ok());
        CHECK_FALSE(repository.hasShop());
        std::ifstream text(file);
        std::string word;
        text >> word;
        CHECK(word == "rubbish");
    }
    CHECK(asked == 1);
}

TEST_CASE("without a copy there is nothing to offer, and a yes changes nothing", "[app][start]") {
    const QTemporaryDir folder;
    const fs::path file = damaged_shop(folder, false);
    JobRepository repository;
    const auto opened = shop_opened(repository, file, [](const Error&, const fs::path& copy) {
        CHECK(copy.empty());
        return true;
    });
    CHECK_FALSE(opened.ok());
    CHECK(fs::file_size(file) == 7);
}

TEST_CASE("the offer is a dialog with the reason and the copy's name", "[app][start]") {
    const auto answer = [](const QString& button) {
        QTimer::singleShot(100, qApp, [button] {
            auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
            REQUIRE(box != nullptr);
            CHECK_THAT(box->text().toStdString(), Catch::Contains("damaged"));
            for (QAbstractButton* candidate : box->buttons()) {
                if (candidate->text().remove('&').startsWith(button))
                    candidate->click();
            }
        });
        return offer_copy_in_dialog(refused("The file is damaged."), "/shop.sqlite.copy-1");
    };
    CHECK(answer("Use the last copy (shop.sqlite.copy-1)"));
    CHECK_FALSE(answer("Quit"));
}

TEST_CASE("the window opens where and as large as it was left", "[app][start]") {
    QByteArray left;
    {
        Window w;
        w.window.resize(1200, 785);
        w.window.close();
        left = Preferences().geometry();
        CHECK_FALSE(left.isEmpty());
    }
    Window again;
    const QSize size = again.window.size();
    CAPTURE(size.width(), size.height());
    // Qt keeps a window inside the screen; a screen too small for it cannot show the difference.
    if (QSize(1200, 785).boundedTo(QGuiApplication::primaryScreen()->availableSize()) == QSize(1200, 785))
        CHECK(size == QSize(1200, 785));
    else
        CHECK(size.width() <= std::max(again.window.minimumSizeHint().width(), 1200));
    again.window.resize(1280, 800);  // what other tests start with
    again.window.close();
}

TEST_CASE("a window that is killed leaves no simulated instrument behind", "[app][start][keep]") {
    const QTemporaryDir folder;
    QProcess window;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert("QT_QPA_PLATFORM", "offscreen");
    environment.insert("XDG_DATA_HOME", folder.path() + "/data");
    environment.insert("XDG_CONFIG_HOME", folder.path() + "/config");
    window.setProcessEnvironment(environment);
    window.start(EH_PROGRAM, {"--demo"});
    REQUIRE(window.waitForStarted());
    const auto children = [&] {
        QFile list(QStringLiteral("/proc/%1/task/%1/children").arg(window.processId()));
        return list.open(QIODevice::ReadOnly) ? list.readAll().trimmed().split(' ') : QByteArrayList();
    };
    QByteArrayList simulators;
    REQUIRE(eventually(
        [&] {
            simulators = children();
            return simulators.size() >= 2;
        },
        30000));
    window.kill();
    REQUIRE(window.waitForFinished());
    for (const QByteArray& simulator : simulators) {
        CAPTURE(simulator.toStdString());
        CHECK(eventually([&] {
            QFile status("/proc/" + QString::fromLatin1(simulator) + "/stat");
            return !status.open(QIODevice::ReadOnly) || status.readAll().contains(") Z ");
        }));
    }
}
