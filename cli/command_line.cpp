// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/command_line.h"

#include <QGuiApplication>
#include <QLocale>
#include <QStandardPaths>
#include <csignal>
#include <iostream>
#include <sstream>

#include "cli/battery_command.h"
#include "cli/job_lines.h"
#include "cli/pd_commands.h"
#include "cli/trace_command.h"
#include "core/base/json_text.h"
#include "core/base/plain_numbers.h"
#include "core/base/private_files.h"
#include "core/base/text.h"
#include "core/machine/knowledge/machine_profile.h"
#include "report/handover_pdf.h"

namespace eh::cli {

using nlohmann::json;

namespace {

constexpr int exit_refused = 1;
constexpr int exit_usage = 2;

int fail(const Error& error) {
    std::cerr << printable("eager-hound-cli: " + error.text()) << "\n";
    return exit_refused;
}

// A disk that is full or a pipe that nobody reads is no success.
int print_text(const std::string& text) {
    std::cout << text << std::flush;
    return std::cout ? 0
                     : fail({ErrorKind::unavailable, "the answer could not be written; is the disk full?",
                             "standard output"});
}

int print(const Result<json>& answer) {
    if (!answer)
        return fail(answer.error());
    return print_text(json_text(*answer, 2) + "\n");
}

// Where the window keeps the kinds of machine that the shop described.
std::string usual_machines_folder() {
    return QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation).toStdString() +
           "/Eager Hound/eager-hound/machines";
}

}  // namespace

CommandLine::CommandLine() : machines_folder_(usual_machines_folder()) {
    app_.require_subcommand(1);
    app_.set_version_flag("--version", std::string("eager-hound-cli ") + EH_VERSION);
    app_.add_option("--own-machines", machines_folder_,
                    "folder of the kinds of machine that the shop described; otherwise the window's");
    add_job_commands();
    add_simulate();
    add_captures();
    add_evaluate();
    add_board();
    add_locate();
    add_heat();
    answers(add_conversion(app_, converted_), [this] { return print(plan_conversion(converted_)); });
    add_report();
}

int CommandLine::run(int argc, char** argv) {
    try {
        keep_files_private();
        std::signal(SIGPIPE, SIG_IGN);  // a reader that goes is told in words
        app_.parse(argc, argv);
    } catch (const CLI::ParseError& problem) {
        std::ostringstream out;
        std::ostringstream usage;
        const bool asked = app_.exit(problem, out, usage) == 0;
        std::cerr << printable(usage.str());
        return asked ? print_text(out.str()) : exit_usage;
    }
    return exit_;
}

void CommandLine::answers(CLI::App* command, std::function<int()> answer) {
    command->callback([this, answer = std::move(answer)] { exit_ = answer(); });
}

int CommandLine::with_shop(const std::function<int(const Shop&)>& answer, bool own_machines) {
    auto loaded = load_shop();
    if (!loaded)
        return fail(loaded.error());
    Shop shop = std::move(loaded).value();
    if (own_machines)
        load_profiles(machines_folder_, shop.knowledge);
    const auto learnt = read_lessons(like_);
    if (!learnt)
        return fail(learnt.error());
    shop.learnt = *learnt;
    for (const std::string& word : without_)
        shop.not_owned.push_back(reading_kind_from(word).value());
    for (const Error& refused_file : shop.knowledge.refused_files)
        std::cerr << printable("eager-hound-cli: " + refused_file.text()) << "\n";
    return answer(shop);
}

int CommandLine::with_job(const std::function<int(const Shop&, const Job&)>& answer) {
    return with_shop([&](const Shop& shop) {
        const auto job = read_job(file_);
        return job ? answer(shop, *job) : fail(job.error());
    });
}

void CommandLine::add_like(CLI::App* command) {
    command->add_option("--like", like_,
                        "job file of an earlier machine of the same kind, with its lesson; may be repeated");
}

void CommandLine::add_without(CLI::App* command) {
    command
        ->add_option(
            "--without", without_,
            "kind of reading that no instrument of the shop takes (talk, hot_part, injection ...); may "
            "be repeated")
        ->check([](const std::string& word) {
            return reading_kind_from(word) ? std::string() : "there is no kind of reading “" + word + "”";
        });
}

void CommandLine::add_job_commands() {
    auto* diagnose_command = app_.add_subcommand("diagnose", "suspects of a job, with the reasons");
    diagnose_command->add_option("job", file_, "job file, - for standard input");
    diagnose_command->add_flag("--explanations", explanations_,
                               "also list each explanation by itself, however unlikely, with its reasons");
    answers(diagnose_command, [this] {
        return with_job(
            [this](const Shop& shop, const Job& job) { return print(diagnose(shop, job, explanations_)); });
    });

    add_like(diagnose_command);

    auto* design_command =
        app_.add_subcommand("design", "what the readings of a job tell of its machine's design");
    design_command->add_option("job", file_, "job file, - for standard input");
    design_command->add_option("--proved", proved_,
                               "id of the part that was at fault; answers with the lesson, too");
    add_like(design_command);
    answers(design_command, [this] {
        return with_job(
            [this](const Shop& shop, const Job& job) { return print(design(shop, job, proved_)); });
    });

    auto* architectures_command =
        app_.add_subcommand("architectures", "how a job's machine may be built, by its inlets and readings");
    architectures_command->add_option("job", file_, "job file, - for standard input");
    answers(architectures_command, [this] {
        return with_job([](const Shop& shop, const Job& job) { return print(architectures(shop, job)); });
    });

    auto* next_command = app_.add_subcommand("next", "what to do next on a job");
    next_command->add_option("job", file_, "job file, - for standard input");
    next_command->add_option("--most", most_acts_, "how many acts")->check(CLI::Range(1, 100));
    answers(next_command, [this] {
        return with_job(
            [this](const Shop& shop, const Job& job) { return print(next(shop, job, most_acts_)); });
    });

    add_like(next_command);
    add_without(next_command);

    auto* hour_command =
        app_.add_subcommand("hour", "what to do in the next hour, and where what is seen forks the way");
    hour_command->add_option("job", file_, "job file, - for standard input");
    hour_command->add_option("--minutes", hour_minutes_, "how far to plan")->check(CLI::Range(1.0, 240.0));
    add_like(hour_command);
    add_without(hour_command);
    answers(hour_command, [this] {
        return with_job(
            [this](const Shop& shop, const Job& job) { return print(hour(shop, job, hour_minutes_)); });
    });

    auto* lines = app_.add_subcommand("answer", "suspects and next acts, job file by job file, one a line");
    lines->add_option("--most", most_acts_, "how many acts; 0: suspects only")->check(CLI::Range(0, 100));
    add_like(lines);
    add_without(lines);
    answers(lines, [this] {
        return with_shop([this](const Shop& shop) {
            const auto done = JobLines(shop, most_acts_).answer_all(std::cin, std::cout);
            return done ? 0 : fail(done.error());
        });
    });

    auto* trace = app_.add_subcommand("trace", "states and events of a recording of the inline meter");
    trace->add_option("file", file_, "CSV t_s,volts,amps; - for standard input");
    answers(trace, [this] { return print(read_trace_file(file_)); });

    auto* battery_command =
        app_.add_subcommand("battery", "what a pack's readings and the machine's own report say");
    battery_command->add_option("file", file_,
                                "job file, or a power_supply uevent text; - for standard input");
    answers(battery_command, [this] {
        return with_shop([this](const Shop& shop) {
            const auto text = read_input(file_);
            return text ? print(battery(shop.knowledge, *text, file_)) : fail(text.error());
        });
    });
}

void CommandLine::add_machine(CLI::App* command) {
    command->add_option("--topology", simulation_.topology, "id of the topology")->required();
    command->add_option("--fault", faults_, "fault@part or fault@part=ohms; may be repeated");
    command->add_option("--port", simulation_.configuration.port, "port that the charger is in");
    command->add_option("--side", side_, "plug side")->check(CLI::IsMember({"a", "b"}));
    command->add_flag("--battery-out", battery_out_, "battery disconnected");
    command->add_option("--seed", simulation_.seed, "draw part values; 0 takes the nominal ones");
    command->add_option("--seconds", simulation_.seconds, "length of the recording")
        ->check(CLI::Range(0.1, 3600.0));
}

int CommandLine::with_machine(const std::function<int(const Shop&)>& answer) {
    return with_shop([&](const Shop& shop) {
        for (const std::string& text : faults_) {
            const auto fault = parse_fault_instance(text);
            if (!fault)
                return fail(fault.error());
            simulation_.faults.push_back(*fault);
        }
        simulation_.configuration.side = side_ == "b" ? PlugSide::b : PlugSide::a;
        simulation_.configuration.battery_in = !battery_out_;
        return answer(shop);
    });
}

void CommandLine::add_simulate() {
    auto* command = app_.add_subcommand("simulate", "what instruments show on a machine");
    add_machine(command);
    command->add_option("--rate", simulation_.rate_hz, "samples a second of the meter's stream")
        ->check(CLI::Range(0.0, 1000.0));
    answers(command, [this] {
        return with_machine([this](const Shop& shop) { return print(simulate(shop, simulation_)); });
    });
}

void CommandLine::add_captures() {
    auto* pd = app_.add_subcommand("pd", "what charger and machine say on the CC line");
    pd->require_subcommand(1);
    auto* decode = pd->add_subcommand(
        "decode", "read a capture: value-change dump, table or bytes of samples, list of messages");
    decode->add_option("file", file_, "the capture; - for standard input")->required();
    decode->add_option("--cc1", capture_.cc1, "name of the wire that is CC1");
    decode->add_option("--cc2", capture_.cc2, "name of the wire that is CC2");
    decode->add_option("--threshold", capture_.threshold_volts, "volts above which a sampled line is high")
        ->check(CLI::Range(0.1, 3.0));
    decode
        ->add_option("--time-unit", capture_.time_unit_s,
                     "of the times in the file: s, ms, us, ns, or seconds as a number")
        ->transform(CLI::AsNumberWithUnit(
            std::map<std::string, double>{{"s", 1.0}, {"ms", 1e-3}, {"us", 1e-6}, {"ns", 1e-9}}))
        ->check(CLI::Range(1e-15, 3600.0));
    decode->add_option("--rate", capture_.samples_a_second, "samples a second of a file that holds no times")
        ->check(CLI::Range(1.0, 1e12));
    decode->add_option("--wanted", wanted_volts_, "volts that the machine wants")
        ->check(CLI::Range(5.0, 50.0));
    answers(decode, [this] {
        const auto file = input_.path(file_);
        return file ? print(read_talk(*file, capture_, wanted_volts_)) : fail(file.error());
    });

    auto* talk = pd->add_subcommand("talk", "write what a machine would say, as .vcd or .json");
    add_machine(talk);
    talk->add_option("--out", talk_file_, "file to write")->required();
    answers(talk, [this] {
        return with_machine(
            [this](const Shop& shop) { return print(write_talk(shop, simulation_, talk_file_)); });
    });
}

void CommandLine::add_evaluate() {
    auto* command = app_.add_subcommand("evaluate", "play the technician on seeded machines");
    command->add_option("--topology", evaluated_topology_, "only this topology");
    command->add_option("--machines", evaluation_.machines, "machines of each topology")
        ->check(CLI::Range(1, 100000));
    command->add_option("--seed", evaluation_.seed, "seed of the machines");
    Perturbation& perturbation = evaluation_.perturbation;
    command->add_option("--world", world_, "machines of makers that the library of designs holds, of others")
        ->transform(CLI::CheckedTransformer(
            std::map<std::string, EvaluationWorld>{{"both", EvaluationWorld::both},
                                                   {"home", EvaluationWorld::home},
                                                   {"strangers", EvaluationWorld::strangers}}));
    command->add_flag("--same-model", same_model_,
                      "draw single faults from the very model that the reasoning uses");
    command->add_flag("--unknown", perturbation.unknown_effects,
                      "every machine has an effect that the catalogue does not hold");
    command->add_flag("--oracle", evaluation_.oracle,
                      "play a reasoning that knows the generating model, too");
    command->add_flag("--orders", evaluation_.orders, "play the fixed orders of work, too");
    command->add_flag("--cases", evaluation_.keep_cases, "list every machine with its readings");
    answers(command, [this] {
        // The evaluation of the program is one of the shipped kinds, unless another is named.
        return with_shop(
            [this](const Shop& shop) {
                if (same_model_)
                    evaluation_.perturbation = Perturbation::none();
                // Of strangers there is neither the very model nor a catalogue to be outside of.
                const bool home = same_model_ || evaluation_.perturbation.unknown_effects;
                return print(
                    evaluate(shop, evaluated_topology_, evaluation_, home ? EvaluationWorld::home : world_));
            },
            !evaluated_topology_.empty());
    });
}

void CommandLine::add_board() {
    auto* command = app_.add_subcommand("board", "what a netlist (IPC-D-356A) or board file holds");
    command->add_option("file", file_, "the board; - for standard input")->required();
    command->add_option("--net", board_.net, "tell of this net");
    command->add_option("--part", board_.part, "tell of this part");
    command->add_option("--out", board_.out, "write the board in the program's own form");
    answers(command, [this] {
        const auto file = input_.path(file_);
        return file ? print(describe_board(*file, board_)) : fail(file.error());
    });
}

void CommandLine::add_locate() {
    auto* command =
        app_.add_subcommand("locate", "which part on a net is shorted, by millivolts along the copper");
    command->add_option("file", file_, "the board; - for standard input");
    command->add_option("--net", located_.net, "the net that is fed");
    command->add_option("--fed-at", located_.fed_at_mm, "x and y in millimetres of where the current goes in")
        ->expected(2);
    command->add_option("--amps", located_.amps, "that the supply gives");
    command->add_option("--microvolts", located_.meter_microvolts, "of the meter's last place");
    command->add_option("--read", located_.readings,
                        "part=millivolts, to ground, the reading with the supply off taken off");
    command->add_option("--evaluate", boards_, "play so many seeded boards instead")
        ->check(CLI::Range(1, 100000));
    command->add_flag("--heat", by_heat_, "play the heat search instead of the millivolts");
    command->add_flag("--rails", rails_, "play the verdict on rails of few ohms instead of the millivolts");
    command->add_option("--seed", board_seed_, "of the boards");
    command->add_option("--readings", board_readings_, "at each board")->check(CLI::Range(3, 100));
    answers(command, [this] { return locate_answer(); });
}

int CommandLine::locate_answer() {
    if (boards_ > 0 && rails_)
        return print(Result<json>(evaluate_verdicts(boards_, board_seed_)));
    if (boards_ > 0 && by_heat_)
        return print(Result<json>(evaluate_heat_search(boards_, board_seed_)));
    if (boards_ > 0)
        return print(Result<json>(evaluate_locate(boards_, board_seed_, board_readings_)));
    const auto file = input_.path(file_);
    return file ? print(locate(*file, located_)) : fail(file.error());
}

void CommandLine::add_heat() {
    auto* command = app_.add_subcommand("heat", "which part is the warm one, by frames of a thermal camera");
    command->add_option("board", heated_.board, "the board")->required();
    command
        ->add_option("frames", heated_.frames,
                     "CSV, 16-bit PGM or PNG, in the order of time; - for standard input")
        ->required();
    command->add_option("--reference", heated_.reference, "frames with the supply off");
    command->add_option("--mark", heated_.marks, "x_px,y_px=x_mm,y_mm; four or more")->required();
    command->add_option("--net", heated_.net, "the net that is fed");
    command->add_flag("--bottom", heated_.bottom, "the camera sees the bottom side");
    command->add_option("--rate", heated_.frames_a_second,
                        "frames a second, where they do not say their time");
    command->add_option("--period", heated_.period_s,
                        "seconds from one switching-on of the supply to the next");
    command->add_option("--trace", heated_.trace,
                        "CSV of the inline meter: the charger's retries are the rhythm");
    command->add_option("--marks-mm", heated_.marks_mm, "how well the points were marked")
        ->check(CLI::Range(0.05, 20.0));
    answers(command, [this] {
        // Standard input may be the board, the frames, or the reference: whichever is named "-".
        for (std::string* file : files_of(heated_)) {
            const auto path = input_.path(*file);
            if (!path)
                return fail(path.error());
            *file = *path;
        }
        return print(search_heat(heated_));
    });
}

void CommandLine::add_report() {
    auto* command = app_.add_subcommand("report", "the handover sheet of a job");
    command->add_option("job", file_, "job file, - for standard input");
    command->add_option("--pdf", pdf_file_, "write a PDF instead of printing HTML");
    command->add_option("--shop", shop_name_, "name of the shop on the sheet");
    command->add_option("--for", reader_, "who reads it")->check(CLI::IsMember({"customer", "technician"}));
    answers(command, [this] {
        return with_job([this](const Shop& shop, const Job& job) { return report_answer(shop, job); });
    });
}

int CommandLine::report_answer(const Shop& shop, const Job& job) {
    // The small traces are drawn, and drawing letters needs Qt's fonts; no screen.
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM"))
        qputenv("QT_QPA_PLATFORM", "offscreen");
    int no_arguments = 1;
    std::string name = "eager-hound-cli";
    char* arguments[] = {name.data(), nullptr};
    const QGuiApplication application(no_arguments, arguments);
    keep_plain_numbers();
    set_shown_decimal_mark(QLocale().decimalPoint() == "," ? ',' : '.');
    const auto html = report(shop, job, shop_name_,
                             reader_ == "technician" ? SheetLength::technician : SheetLength::customer);
    if (!html)
        return fail(html.error());
    if (pdf_file_.empty())
        return print_text(*html);
    const auto written = write_pdf(*html, pdf_file_);
    return written ? 0 : fail(written.error());
}

}  // namespace eh::cli
