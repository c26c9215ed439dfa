// SPDX-License-Identifier: GPL-3.0-or-later
// eager-hound: the window.
#include <CLI/CLI.hpp>
#include <QApplication>
#include <QLocale>
#include <QStandardPaths>
#include <cstdio>

#include "app/demo/demo_shop.h"
#include "app/find_page.h"
#include "app/guarded_application.h"
#include "app/main_window.h"
#include "app/screens/board/board_page.h"
#include "app/self_measure.h"
#include "app/services/latest_task.h"
#include "app/services/machine_library.h"
#include "app/settings/preferences.h"
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

struct Options {
    bool demo = false;
    std::string job_file;
    std::string shop_file;
    std::string meter_address;
    double measure_s = 0.0;
};

void add_options(CLI::App& app, Options& options) {
    app.set_version_flag("--version", std::string("eager-hound ") + EH_VERSION);
    app.add_flag("--demo", options.demo, "start with the demo shop and a simulated meter");
    app.add_option("--job", options.job_file, "open this job file");
    app.add_option("--shop", options.shop_file, "use this shop file instead of the usual one");
    app.add_option("--measure", options.measure_s,
                   "run for so many seconds, print start time, load and memory, and quit");
    app.add_option("--meter", options.meter_address, "connect the inline meter at host:port");
}

std::string own_folder() {
    return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation).toStdString();
}

// The simulated instruments of the demo, which the window connects to as they begin to listen.
struct DemoBench {
    eh::BenchSimulator bench;
    eh::BenchSimulator camera;

    explicit DemoBench(eh::MainWindow& window) {
        const auto connect = [&window](eh::BenchSimulator& from, auto signal, auto slot) {
            QObject::connect(&from, signal, &window, slot);
        };
        connect(bench, &eh::BenchSimulator::meterListening, &eh::MainWindow::connectMeter);
        connect(bench, &eh::BenchSimulator::multimeterListening, &eh::MainWindow::connectMultimeter);
        connect(bench, &eh::BenchSimulator::supplyListening, &eh::MainWindow::connectSupply);
        connect(camera, &eh::BenchSimulator::cameraListening, &eh::MainWindow::connectCamera);
        connect(bench, &eh::BenchSimulator::failed, &eh::MainWindow::say);
        connect(camera, &eh::BenchSimulator::failed, &eh::MainWindow::say);
    }
    void start(eh::MainWindow& window, const std::filesystem::path& data) {
        // The demo's machine comes with its board.
        const QString board = QString::fromStdString((data / "boards" / "demo-board.json").string());
        eh::Preferences().setBoardOf("usbc-two-chained", board);
        window.workbench().repository.open(
            eh::demo_shop_opener(data), [&window](const eh::Outcome& opened) { window.sayProblem(opened); });
        bench.start({"--topology", "usbc-two-chained", "--fault", "protector_shorted@sp2=3.3/3"});
        camera.start({"--board", board, "--part", "DP2", "--kelvin", "0.4"}, "thermal");
    }
};

// Opens the shop, then the job file; a shop that cannot be opened ends the program.
void open_what_was_asked(eh::MainWindow& window, DemoBench& demo, const Options& options,
                         const std::filesystem::path& data) {
    const auto opened = [&window, job_file = options.job_file](const eh::Outcome& shop) {
        if (!shop)
            QApplication::exit(fail(shop.error().text()));
        else if (!job_file.empty())
            window.importJob(QString::fromStdString(job_file),
                             [&window](const eh::Outcome& done) { window.sayProblem(done); });
    };
    if (options.demo) {
        demo.start(window, data);
        opened(eh::Done{});
    } else if (options.shop_file.empty()) {
        eh::open_usual_shop(window.workbench().repository, eh::Preferences().shopServer(), own_folder(),
                            eh::offer_copy_in_dialog, eh::wait_in_dialog, opened);
    } else {
        eh::open_shop(window.workbench().repository, options.shop_file, eh::offer_copy_in_dialog,
                      eh::wait_in_dialog, opened);
    }
}

int run(int argc, char** argv) {
    const eh::SelfMeasure measure;
    CLI::App app{"Eager Hound: repair notebooks that do not charge"};
    Options options;
    add_options(app, options);
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

    // Files of an older program may be open to others.
    eh::LatestTask<bool> mending;
    mending.start(
        [folder = own_folder()](const eh::TaskControl&) {
            eh::make_private(folder);
            return true;
        },
        [](bool) {});
    eh::MachineLibrary machines(knowledge, own_folder() + "/machines");
    eh::Workbench workbench(knowledge, *costs, *rework);
    workbench.diagnosis.keepPredictionsIn(
        QStandardPaths::writableLocation(QStandardPaths::CacheLocation).toStdString() + "/predictions");
    eh::MainWindow window(workbench);
    window.useMachines(machines);
    eh::find_page<eh::BoardPage>(window).bench().keepReadingsIn(QString::fromStdString(own_folder()) +
                                                                "/boards");
    DemoBench demo(window);
    QObject::connect(&window, &eh::MainWindow::demoAsked, &window, [&] { demo.start(window, data); });
    if (!options.meter_address.empty())
        window.connectMeter(QString::fromStdString(options.meter_address));
    for (const eh::Error& refused : knowledge.refused_files)
        window.say(QString::fromStdString(refused.text()));
    application.setReport([&window](const QString& what) {
        window.workbench().repository.saveAgain([](bool) {});
        window.say(QApplication::translate(
                       "eh::MainWindow",
                       "Something went wrong inside the program (%1). What was recorded is kept; "
                       "if it happens again, close the program and start it anew.")
                       .arg(what));
    });
    if (options.measure_s > 0.0)
        measure.run(window, options.measure_s);
    window.show();
    open_what_was_asked(window, demo, options, data);
    return QApplication::exec();
}

}  // namespace

int main(int argc, char** argv) {
    return eh::guarded_main("eager-hound", [&] { return run(argc, argv); });
}
