// SPDX-License-Identifier: GPL-3.0-or-later
// The subcommands of eager-hound-cli with their options, and what each answers. Internal to cli/.
#pragma once

#include <CLI/CLI.hpp>
#include <functional>
#include <string>
#include <vector>

#include "cli/board_command.h"
#include "cli/commands.h"
#include "cli/conversion_command.h"
#include "cli/heat_command.h"
#include "cli/input_file.h"
#include "core/usbc/cc_capture.h"

namespace eh::cli {

class CommandLine {
  public:
    CommandLine();
    // Reads the arguments and does what they ask for. Exit codes: 0 done, 1 input refused, 2 wrong usage.
    int run(int argc, char** argv);

  private:
    void add_job_commands();
    void add_like(CLI::App* command);
    void add_without(CLI::App* command);
    void add_simulate();
    void add_captures();
    void add_evaluate();
    void add_board();
    void add_locate();
    void add_heat();
    void add_report();
    // Which machine, with what wrong, on what bench.
    void add_machine(CLI::App* command);
    // What the command gives back to the shell, once the arguments are read.
    void answers(CLI::App* command, std::function<int()> answer);
    // Answers with the program's data, the machines that the shop described among them unless told otherwise.
    int with_shop(const std::function<int(const Shop&)>& answer, bool own_machines = true);
    int with_job(const std::function<int(const Shop&, const Job&)>& answer);
    // The same with a simulated machine.
    int with_machine(const std::function<int(const Shop&)>& answer);
    int locate_answer();
    int report_answer(const Shop& shop, const Job& job);

    CLI::App app_{"Eager Hound without a window"};
    int exit_ = 0;
    InputFile input_;
    std::string machines_folder_;
    std::string file_ = "-";
    std::size_t most_acts_ = 3;
    double hour_minutes_ = 60.0;
    bool explanations_ = false;
    std::vector<std::string> like_;     // job files
    std::vector<std::string> without_;  // kinds of reading
    std::string proved_;
    SimulateOptions simulation_;
    std::vector<std::string> faults_;
    std::string side_ = "a";
    bool battery_out_ = false;
    pd::CaptureOptions capture_;
    double wanted_volts_ = 20.0;
    std::string talk_file_;
    EvaluationOptions evaluation_;
    std::string evaluated_topology_;
    bool same_model_ = false;
    EvaluationWorld world_ = EvaluationWorld::both;
    BoardQuestion board_;
    LocateQuestion located_;
    int boards_ = 0;
    int board_readings_ = 6;
    std::uint64_t board_seed_ = 1;
    bool by_heat_ = false;
    bool rails_ = false;
    HeatQuestion heated_;
    ConversionQuestion converted_;
    std::string pdf_file_;
    std::string shop_name_;
    std::string reader_ = "customer";
};

}  // namespace eh::cli
