// SPDX-License-Identifier: GPL-3.0-or-later
// eager-hound-cli: JSON on standard output, errors for people on standard error.
// Exit codes: 0 done, 1 input refused, 2 wrong usage.
#include <CLI/CLI.hpp>
#include <QGuiApplication>
#include <QLocale>
#include <QStandardPaths>
#include <csignal>
#include <iostream>
#include <sstream>

#include "cli/battery_command.h"
#include "cli/board_command.h"
#include "cli/commands.h"
#include "cli/conversion_command.h"
#include "cli/heat_command.h"
#include "cli/input_file.h"
#include "cli/pd_commands.h"
#include "cli/trace_command.h"
#include "core/base/guarded_main.h"
#include "core/base/json_text.h"
#include "core/base/plain_numbers.h"
#include "core/base/private_files.h"
#include "core/base/text.h"
#include "core/machine/knowledge/machine_profile.h"
#include "report/handover_pdf.h"

namespace {

using eh::Result;
using nlohmann::json;

constexpr int exit_refused = 1;
constexpr int exit_usage = 2;

int fail(const eh::Error& error) {
    std::cerr << eh::printable("eager-hound-cli: " + error.text()) << "\n";
    return exit_refused;
}

// A disk that is full or a pipe that nobody reads is no success.
int print_text(const std::string& text) {
    std::cout << text << std::flush;
    return std::cout ? 0
                     : fail({eh::ErrorKind::unavailable, "the answer could not be written; is the disk full?",
                             "standard output"});
}

int print(const Result<json>& answer) {
    if (!answer)
        return fail(answer.error());
    return print_text(eh::json_text(*answer, 2) + "\n");
}

// Where the window keeps the kinds of machine that the shop described.
std::string usual_machines_folder() {
    return QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation).toStdString() +
           "/Eager Hound/eager-hound/machines";
}

// Runs a command that needs a job.
template <typename Run>
int with_job(const eh::cli::Shop& shop, const std::string& file, Run run) {
    const auto job = eh::cli::read_job(file);
    return job ? run(shop, *job) : fail(job.error());
}

int run(int argc, char** argv) {
    CLI::App app{"Eager Hound without a window"};
    app.require_subcommand(1);
    app.set_version_flag("--version", std::string("eager-hound-cli ") + EH_VERSION);
    std::string job_file = "-";
    std::string machines_folder = usual_machines_folder();
    app.add_option("--own-machines", machines_folder,
                   "folder of the kinds of machine that the shop described; otherwise the window's");

    auto* diagnose = app.add_subcommand("diagnose", "suspects of a job, with the reasons");
    diagnose->add_option("job", job_file, "job file, - for standard input");

    auto* next = app.add_subcommand("next", "what to do next on a job");
    std::size_t most = 3;
    next->add_option("job", job_file, "job file, - for standard input");
    next->add_option("--most", most, "how many acts")->check(CLI::Range(1, 100));

    auto* simulate = app.add_subcommand("simulate", "what instruments show on a machine");
    eh::cli::SimulateOptions simulation;
    std::vector<std::string> faults;
    std::string side = "a";
    bool battery_out = false;
    const auto add_machine = [&](CLI::App* command) {
        command->add_option("--topology", simulation.topology, "id of the topology")->required();
        command->add_option("--fault", faults, "fault@part or fault@part=ohms; may be repeated");
        command->add_option("--port", simulation.configuration.port, "port that the charger is in");
        command->add_option("--side", side, "plug side")->check(CLI::IsMember({"a", "b"}));
        command->add_flag("--battery-out", battery_out, "battery disconnected");
        command->add_option("--seed", simulation.seed, "draw part values; 0 takes the nominal ones");
        command->add_option("--seconds", simulation.seconds, "length of the recording")
            ->check(CLI::Range(0.1, 3600.0));
    };
    add_machine(simulate);
    simulate->add_option("--rate", simulation.rate_hz, "samples a second of the meter's stream")
        ->check(CLI::Range(0.0, 1000.0));

    auto* pd = app.add_subcommand("pd", "what charger and machine say on the CC line");
    pd->require_subcommand(1);
    auto* decode = pd->add_subcommand(
        "decode", "read a capture: value-change dump, table or bytes of samples, list of messages");
    std::string capture_file;
    eh::pd::CaptureOptions capture;
    double wanted_volts = 20.0;
    decode->add_option("file", capture_file, "the capture; - for standard input")->required();
    decode->add_option("--cc1", capture.cc1, "name of the wire that is CC1");
    decode->add_option("--cc2", capture.cc2, "name of the wire that is CC2");
    decode->add_option("--threshold", capture.threshold_volts, "volts above which a sampled line is high")
        ->check(CLI::Range(0.1, 3.0));
    decode
        ->add_option("--time-unit", capture.time_unit_s,
                     "of the times in the file: s, ms, us, ns, or seconds as a number")
        ->transform(CLI::AsNumberWithUnit(
            std::map<std::string, double>{{"s", 1.0}, {"ms", 1e-3}, {"us", 1e-6}, {"ns", 1e-9}}))
        ->check(CLI::Range(1e-15, 3600.0));
    decode->add_option("--rate", capture.samples_a_second, "samples a second of a file that holds no times")
        ->check(CLI::Range(1.0, 1e12));
    decode->add_option("--wanted", wanted_volts, "volts that the machine wants")
        ->check(CLI::Range(5.0, 50.0));
    auto* talk = pd->add_subcommand("talk", "write what a machine would say, as .vcd or .json");
    std::string talk_file;
    add_machine(talk);
    talk->add_option("--out", talk_file, "file to write")->required();

    auto* evaluate = app.add_subcommand("evaluate", "play the technician on seeded machines");
    eh::EvaluationOptions evaluation;
    std::string evaluated_topology;
    evaluate->add_option("--topology", evaluated_topology, "only this topology");
    evaluate->add_option("--machines", evaluation.machines, "machines of each topology")
        ->check(CLI::Range(1, 100000));
    evaluate->add_option("--seed", evaluation.seed, "seed of the machines");
    eh::Perturbation& perturbation = evaluation.perturbation;
    bool same_model = false;
    evaluate->add_flag("--same-model", same_model,
                       "draw single faults from the very model that the reasoning uses");
    evaluate->add_flag("--unknown", perturbation.unknown_effects,
                       "every machine has an effect that the catalogue does not hold");
    evaluate->add_flag("--oracle", evaluation.oracle,
                       "play a reasoning that knows the generating model, too");
    evaluate->add_flag("--orders", evaluation.orders, "play the fixed orders of work, too");
    evaluate->add_flag("--cases", evaluation.keep_cases, "list every machine with its readings");

    auto* trace = app.add_subcommand("trace", "states and events of a recording of the inline meter");
    std::string trace_file = "-";
    trace->add_option("file", trace_file, "CSV t_s,volts,amps; - for standard input");

    auto* board = app.add_subcommand("board", "what a netlist (IPC-D-356A) or board file holds");
    std::string board_file;
    eh::cli::BoardQuestion board_question;
    board->add_option("file", board_file, "the board; - for standard input")->required();
    board->add_option("--net", board_question.net, "tell of this net");
    board->add_option("--part", board_question.part, "tell of this part");
    board->add_option("--out", board_question.out, "write the board in the program's own form");

    auto* locate =
        app.add_subcommand("locate", "which part on a net is shorted, by millivolts along the copper");
    eh::cli::LocateQuestion located;
    int boards = 0;
    int board_readings = 6;
    std::uint64_t board_seed = 1;
    locate->add_option("file", board_file, "the board; - for standard input");
    locate->add_option("--net", located.net, "the net that is fed");
    locate->add_option("--fed-at", located.fed_at_mm, "x and y in millimetres of where the current goes in")
        ->expected(2);
    locate->add_option("--amps", located.amps, "that the supply gives");
    locate->add_option("--microvolts", located.meter_microvolts, "of the meter's last place");
    locate->add_option("--read", located.readings,
                       "part=millivolts, to ground, the reading with the supply off taken off");
    locate->add_option("--evaluate", boards, "play so many seeded boards instead")
        ->check(CLI::Range(1, 100000));
    bool by_heat = false;
    bool rails = false;
    locate->add_flag("--heat", by_heat, "play the heat search instead of the millivolts");
    locate->add_flag("--rails", rails, "play the verdict on rails of few ohms instead of the millivolts");
    locate->add_option("--seed", board_seed, "of the boards");
    locate->add_option("--readings", board_readings, "at each board")->check(CLI::Range(3, 100));

    auto* heat = app.add_subcommand("heat", "which part is the warm one, by frames of a thermal camera");
    eh::cli::HeatQuestion heated;
    heat->add_option("board", heated.board, "the board")->required();
    heat->add_option("frames", heated.frames,
                     "CSV, 16-bit PGM or PNG, in the order of time; - for standard input")
        ->required();
    heat->add_option("--reference", heated.reference, "frames with the supply off");
    heat->add_option("--mark", heated.marks, "x_px,y_px=x_mm,y_mm; four or more")->required();
    heat->add_option("--net", heated.net, "the net that is fed");
    heat->add_flag("--bottom", heated.bottom, "the camera sees the bottom side");
    heat->add_option("--rate", heated.frames_a_second, "frames a second, where they do not say their time");
    heat->add_option("--period", heated.period_s, "seconds from one switching-on of the supply to the next");
    heat->add_option("--trace", heated.trace,
                     "CSV of the inline meter: the charger's retries are the rhythm");
    heat->add_option("--marks-mm", heated.marks_mm, "how well the points were marked")
        ->check(CLI::Range(0.05, 20.0));

    eh::cli::ConversionQuestion converted;
    auto* conversion = eh::cli::add_conversion(app, converted);

    auto* battery = app.add_subcommand("battery", "what a pack's readings and the machine's own report say");
    battery->add_option("file", job_file, "job file, or a power_supply uevent text; - for standard input");

    auto* report = app.add_subcommand("report", "the handover sheet of a job");
    std::string pdf_file;
    std::string shop_name;
    report->add_option("job", job_file, "job file, - for standard input");
    report->add_option("--pdf", pdf_file, "write a PDF instead of printing HTML");
    report->add_option("--shop", shop_name, "name of the shop on the sheet");
    std::string reader = "customer";
    report->add_option("--for", reader, "who reads it")->check(CLI::IsMember({"customer", "technician"}));

    try {
        eh::keep_files_private();
        std::signal(SIGPIPE, SIG_IGN);  // a reader that goes is told in words
        app.parse(argc, argv);
    } catch (const CLI::ParseError& problem) {
        std::ostringstream out;
        std::ostringstream usage;
        const bool asked = app.exit(problem, out, usage) == 0;
        std::cerr << eh::printable(usage.str());
        return asked ? print_text(out.str()) : exit_usage;
    }

    if (trace->parsed())
        return print(eh::cli::read_trace_file(trace_file));
    eh::cli::InputFile input;
    if (board->parsed()) {
        const auto file = input.path(board_file);
        return file ? print(eh::cli::describe_board(*file, board_question)) : fail(file.error());
    }
    if (heat->parsed()) {
        // Standard input may be the board, the frames, or the reference: whichever is named "-".
        for (std::string* file : eh::cli::files_of(heated)) {
            const auto path = input.path(*file);
            if (!path)
                return fail(path.error());
            *file = *path;
        }
        return print(eh::cli::search_heat(heated));
    }
    if (conversion->parsed())
        return print(eh::cli::plan_conversion(converted));
    if (locate->parsed() && boards > 0 && rails)
        return print(Result<json>(eh::cli::evaluate_verdicts(boards, board_seed)));
    if (locate->parsed() && boards > 0 && by_heat)
        return print(Result<json>(eh::cli::evaluate_heat_search(boards, board_seed)));
    if (locate->parsed() && boards > 0)
        return print(Result<json>(eh::cli::evaluate_locate(boards, board_seed, board_readings)));
    if (locate->parsed()) {
        const auto file = input.path(board_file);
        return file ? print(eh::cli::locate(*file, located)) : fail(file.error());
    }
    if (decode->parsed()) {
        const auto file = input.path(capture_file);
        return file ? print(eh::cli::read_talk(*file, capture, wanted_volts)) : fail(file.error());
    }
    auto loaded = eh::cli::load_shop();
    if (!loaded)
        return fail(loaded.error());
    eh::cli::Shop shop = std::move(loaded).value();
    // The evaluation of the program is one of the shipped kinds, unless another is named.
    if (!evaluate->parsed() || !evaluated_topology.empty())
        eh::load_profiles(machines_folder, shop.knowledge);
    for (const eh::Error& refused_file : shop.knowledge.refused_files)
        std::cerr << eh::printable("eager-hound-cli: " + refused_file.text()) << "\n";
    if (diagnose->parsed())
        return with_job(shop, job_file,
                        [](const auto& s, const auto& job) { return print(eh::cli::diagnose(s, job)); });
    if (battery->parsed()) {
        const auto text = eh::cli::read_input(job_file);
        return text ? print(eh::cli::battery(shop.knowledge, *text, job_file)) : fail(text.error());
    }
    if (next->parsed())
        return with_job(shop, job_file,
                        [&](const auto& s, const auto& job) { return print(eh::cli::next(s, job, most)); });
    if (simulate->parsed() || talk->parsed()) {
        for (const std::string& text : faults) {
            const auto fault = eh::parse_fault_instance(text);
            if (!fault)
                return fail(fault.error());
            simulation.faults.push_back(*fault);
        }
        simulation.configuration.side = side == "b" ? eh::PlugSide::b : eh::PlugSide::a;
        simulation.configuration.battery_in = !battery_out;
        return print(talk->parsed() ? eh::cli::write_talk(shop, simulation, talk_file)
                                    : eh::cli::simulate(shop, simulation));
    }
    if (evaluate->parsed()) {
        if (same_model)
            perturbation = eh::Perturbation::none();
        return print(eh::cli::evaluate(shop, evaluated_topology, evaluation));
    }
    return with_job(shop, job_file, [&](const auto& s, const auto& job) {
        // The small traces are drawn, and drawing letters needs Qt's fonts; no screen.
        if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM"))
            qputenv("QT_QPA_PLATFORM", "offscreen");
        int no_arguments = 1;
        const QGuiApplication application(no_arguments, argv);
        eh::keep_plain_numbers();
        eh::set_shown_decimal_mark(QLocale().decimalPoint() == "," ? ',' : '.');
        const auto length = reader == "technician" ? eh::SheetLength::technician : eh::SheetLength::customer;
        const auto html = eh::cli::report(s, job, shop_name, length);
        if (!html)
            return fail(html.error());
        if (pdf_file.empty())
            return print_text(*html);
        const auto written = eh::write_pdf(*html, pdf_file);
        return written ? 0 : fail(written.error());
    });
}

}  // namespace

int main(int argc, char** argv) {
    return eh::guarded_main("eager-hound-cli", [&] { return run(argc, argv); });
}
