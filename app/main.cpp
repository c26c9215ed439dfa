// SPDX-License-Identifier: GPL-3.0-or-later
// eager-hound: the window.
#include <CLI/CLI.hpp>
#include <QApplication>
#include <QLocale>
#include <QStandardPaths>
#include <cstdio>

#include "app/demo/demo_shop.h"
#include "app/guarded_application.h"
#include "app/main_window.h"
#include "app/models/machine_library.h"
#include "app/models/preferences.h"
#include "app/screens/board/board_page.h"
#include "app/self_measure.h"
#include "app/services/latest_task.h"
#include "app/shop_file.h"
#include "app/style/theme.h"
#include "core/base/guarded_main.h"
#include "core/base/plain_numbers.h"
#include "core/base/private_files.h"
#include "core/base/text.h"
#include "core/machine/knowledge/load_knowledge.h"

namespace {

int fail(const std::string& sentence) {
    std::fprintf(stderr, "eager-hound: %s\n", sentence.c_str());
    return 1;
}

void start_demo(eh::MainWindow& window, eh::BenchSimulator& bench, eh::BenchSimulator& camera,
                const std::filesystem::path& data) {
    const auto file = eh::make_demo_shop(data);
    if (!file) {
        window.say(QString::fromStdString(file.error().text()));
        return;
    }
    auto store = eh::JobStore::open(*file);
    if (!store) {
        window.say(QString::fromStdString(store.error().text()));
        return;
    }
    // The demo's machine comes with its board.
    const QString board = QString::fromStdString((data / "boards" / "demo-board.json").string());
    eh::Preferences().setBoardOf("usbc-two-chained", board);
    window.useStore(std::move(store).value());
    bench.start({"--topology", "usbc-two-chained", "--fault", "protector_shorted@sp2=3.3/3"});
    camera.start({"--board", board, "--part", "DP2", "--kelvin", "0.4"}, "thermal");
}

int run(int argc, char** argv) {
    const eh::SelfMeasure measure;
    CLI::App app{"Eager Hound: repair notebooks that do not charge"};
    app.set_version_flag("--version", std::string("eager-hound ") + EH_VERSION);
    bool demo = false;
    std::string job_file;
    std::string shop_file;
    std::string meter_address;
    app.add_flag("--demo", demo, "start with the demo shop and a simulated meter");
    app.add_option("--job", job_file, "open this job file");
    app.add_option("--shop", shop_file, "use this shop file instead of the usual one");
    double measure_s = 0.0;
    app.add_option("--measure", measure_s,
                   "run for so many seconds, print start time, load and memory, and quit");
    app.add_option("--meter", meter_address, "connect the inline meter at host:port");
    // Before Qt looks for a screen, so that --help needs none.
    CLI11_PARSE(app, argc, argv);
    eh::keep_files_private();

    eh::GuardedApplication application(argc, argv);
    eh::keep_plain_numbers();
    eh::set_shown_decimal_mark(QLocale().decimalPoint() == "," ? ',' : '.');
    QApplication::setOrganizationName("Eager Hound");
    QApplication::setApplicationName("eager-hound");
    QApplication::setApplicationVersion(EH_VERSION);

    const auto data = eh::default_data_directory();
    auto loaded = eh::load_knowledge(data);
    if (!loaded)
        return fail(loaded.error().text());
    eh::Knowledge knowledge = std::move(loaded).value();
    const auto rework = eh::load_rework(data);
    if (!rework)
        return fail(rework.error().text());
    const auto costs = eh::load_costs(data);
    if (!costs)
        return fail(costs.error().text());
    eh::theme::apply(application);

    const std::string shop_folder =
        QStandardPaths::writableLocation(QStandardPaths::AppDataLocation).toStdString();
    // Files of an older program may be open to others.
    eh::LatestTask<bool> mending;
    mending.start(
        [shop_folder](const eh::TaskControl&) {
            eh::make_private(shop_folder);
            return true;
        },
        [](bool) {});
    eh::MachineLibrary machines(knowledge, shop_folder + "/machines");
    eh::MainWindow window(knowledge, *costs, *rework);
    window.useMachines(machines);
    window.board().bench().keepReadingsIn(QString::fromStdString(shop_folder) + "/boards");
    window.diagnosis().keepPredictionsIn(
        QStandardPaths::writableLocation(QStandardPaths::CacheLocation).toStdString() + "/predictions");
    eh::BenchSimulator bench;
    eh::BenchSimulator camera;
    QObject::connect(&bench, &eh::BenchSimulator::meterListening, &window, &eh::MainWindow::connectMeter);
    QObject::connect(&bench, &eh::BenchSimulator::multimeterListening, &window,
                     &eh::MainWindow::connectMultimeter);
    QObject::connect(&bench, &eh::BenchSimulator::supplyListening, &window, &eh::MainWindow::connectSupply);
    QObject::connect(&camera, &eh::BenchSimulator::cameraListening, &window, &eh::MainWindow::connectCamera);
    QObject::connect(&bench, &eh::BenchSimulator::failed, &window, &eh::MainWindow::say);
    QObject::connect(&camera, &eh::BenchSimulator::failed, &window, &eh::MainWindow::say);
    QObject::connect(&window, &eh::MainWindow::demoAsked, &window,
                     [&] { start_demo(window, bench, camera, data); });
    if (demo) {
        start_demo(window, bench, camera, data);
    } else {
        auto store = shop_file.empty()
                         ? eh::open_usual_shop(eh::Preferences().shopServer(), shop_folder,
                                               eh::offer_copy_in_dialog, eh::wait_in_dialog)
                         : eh::open_shop(shop_file, eh::offer_copy_in_dialog, eh::wait_in_dialog);
        if (!store)
            return fail(store.error().text());
        window.useStore(std::move(store).value());
    }
    if (!meter_address.empty())
        window.connectMeter(QString::fromStdString(meter_address));
    for (const eh::Error& refused : knowledge.refused_files)
        window.say(QString::fromStdString(refused.text()));
    application.setReport([&window](const QString& what) {
        (void)window.session().saveAgain();
        window.say(QApplication::translate(
                       "eh::MainWindow",
                       "Something went wrong inside the program (%1). What was recorded is kept; "
                       "if it happens again, close the program and start it anew.")
                       .arg(what));
    });
    if (measure_s > 0.0)
        measure.run(window, measure_s);
    window.show();
    if (!job_file.empty()) {
        if (auto opened = window.importJob(QString::fromStdString(job_file)); !opened)
            window.say(QString::fromStdString(opened.error().text()));
    }
    return QApplication::exec();
}

}  // namespace

int main(int argc, char** argv) {
    return eh::guarded_main("eager-hound", [&] { return run(argc, argv); });
}
