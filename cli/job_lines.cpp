// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/job_lines.h"

#include <algorithm>

#include "cli/staged_machine.h"
#include "core/base/json_text.h"
#include "core/base/text.h"
#include "core/job/job_schema.h"
#include "core/machine/knowledge/load_knowledge.h"

namespace eh::cli {

using nlohmann::json;

namespace {

constexpr std::size_t longest_line = 64U << 20;

enum class LineRead { whole, too_long, end };

// Never holds more than a job file may have, whatever comes in.
LineRead read_line(std::istream& in, std::string& line) {
    line.clear();
    for (int c = in.get(); c != std::istream::traits_type::eof(); c = in.get()) {
        if (c == '\n')
            return LineRead::whole;
        if (line.size() == longest_line)
            return LineRead::too_long;
        line += static_cast<char>(c);
    }
    return line.empty() ? LineRead::end : LineRead::whole;
}

}  // namespace

Result<json> JobLines::answer(const Job& job) {
    constexpr std::size_t most_kept = 4;
    const auto topology = topology_of(*shop_, job.ticket.topology);
    if (!topology)
        return topology.error();
    const auto known = std::find_if(machines_.begin(), machines_.end(),
                                    [&](const auto& kept) { return kept.first == (*topology)->id; });
    if (known == machines_.end()) {
        machines_.insert(machines_.begin(),
                         {(*topology)->id, std::make_unique<MachineUnderTest>(*shop_, **topology)});
        if (machines_.size() > most_kept)
            machines_.pop_back();
    } else {
        std::rotate(machines_.begin(), known, known + 1);
    }
    const MachineUnderTest& machine = *machines_.front().second;
    const Suspects suspects = machine.suspects(job);
    json both = machine.diagnosis(job, suspects, false);
    if (most_acts_ > 0)
        both.update(machine.next(job, suspects, most_acts_));
    return both;
}

Outcome JobLines::answer_all(std::istream& in, std::ostream& out) {
    const auto schema = JobSchema::load(default_data_directory());
    if (!schema)
        return schema.error();
    std::string line;
    for (int number = 1;; ++number) {
        const LineRead read = read_line(in, line);
        const std::string name = "standard input, line " + integer_text(number);
        if (read == LineRead::end)
            return Done{};
        if (read == LineRead::too_long)
            return refused("The line is longer than 64 MiB, more than a job file may have.", name);
        if (line.find_first_not_of(" \t\r") == std::string::npos)
            continue;
        const auto job = admit_job(line, name, *schema);
        const auto answered = job ? answer(*job) : Result<json>(job.error());
        out << json_text(answered ? *answered : json{{"error", answered.error().text()}}) << std::endl;
        if (!out)
            return Error{ErrorKind::unavailable, "It does not take the answer.", "standard output"};
    }
}

}  // namespace eh::cli
