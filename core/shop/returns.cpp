// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shop/returns.h"

#include <algorithm>
#include <map>
#include "core/base/text.h"

namespace eh {
namespace {

constexpr double ms_a_day = 86400e3;
constexpr double shown_p = 0.05;

std::string part_kind_of(const Knowledge& knowledge, const Job& job, const Act& act) {
    const Topology* topology = knowledge.find_topology(job.ticket.topology);
    const Block* block = topology == nullptr ? nullptr : topology->find_block(act.block);
    const BlockKind* kind = block == nullptr ? nullptr : knowledge.find_kind(block->kind);
    return kind == nullptr ? std::string() : kind->title;
}

std::string name_of(Work work, const std::string& part_kind) {
    return part_kind.empty() ? to_text(work) : to_text(work) + ", " + part_kind;
}

std::string name_of(const HandedRepair& repair, ReturnGrouping grouping) {
    switch (grouping) {
        case ReturnGrouping::work:
            return name_of(repair.work, repair.part_kind);
        case ReturnGrouping::school:
            return repair.school;
        case ReturnGrouping::solder:
            return repair.solder;
        case ReturnGrouping::origin:
            return repair.origin;
        case ReturnGrouping::technician:
            return repair.technician;
    }
    return {};
}

std::vector<WorkMinutes> summed_up(std::map<std::string, std::vector<double>>& minutes) {
    std::vector<WorkMinutes> list;
    for (auto& [work, values] : minutes) {
        std::sort(values.begin(), values.end());
        const std::size_t n = values.size();
        list.push_back(
            {work, static_cast<int>(n), 0.5 * (values[(n - 1) / 2] + values[n / 2]), values.back()});
    }
    std::stable_sort(list.begin(), list.end(),
                     [](const WorkMinutes& a, const WorkMinutes& b) { return a.count > b.count; });
    return list;
}

}  // namespace

std::vector<HandedRepair> handed_repairs(const Knowledge& knowledge, const std::vector<Job>& jobs,
                                         std::int64_t now_ms) {
    std::map<std::string, std::int64_t> back;  // by number of the job that came back: when first
    for (const Job& job : jobs) {
        if (job.ticket.return_of.empty())
            continue;
        auto& when = back[job.ticket.return_of];
        when = when == 0 ? job.created_ms : std::min(when, job.created_ms);
    }
    std::vector<HandedRepair> repairs;
    for (const Job& job : jobs) {
        if (job.handover.handed_ms == 0)
            continue;
        const auto returned = back.find(job.ticket.number);
        const bool came_back = returned != back.end() && !job.ticket.number.empty();
        const std::int64_t until = came_back ? returned->second : now_ms;
        for (const Act& act : job.acts) {
            HandedRepair repair;
            repair.job = job.ticket.number;
            repair.part_kind = part_kind_of(knowledge, job, act);
            repair.work = act.kind;
            repair.school = act.school;
            repair.solder = act.solder;
            repair.origin = act.part_origin;
            repair.technician = job.technician;
            repair.held = {std::max(0.0, static_cast<double>(until - job.handover.handed_ms) / ms_a_day),
                           came_back};
            repairs.push_back(std::move(repair));
        }
    }
    return repairs;
}

int ReturnGroup::returns() const {
    return static_cast<int>(
        std::count_if(cases.begin(), cases.end(), [](const SurvivalCase& c) { return c.came_back; }));
}

std::vector<ReturnGroup> group_returns(const std::vector<HandedRepair>& repairs, ReturnGrouping grouping) {
    std::map<std::string, ReturnGroup> by_name;
    for (const HandedRepair& repair : repairs) {
        ReturnGroup& group = by_name[name_of(repair, grouping)];
        group.name = name_of(repair, grouping);
        group.cases.push_back(repair.held);
    }
    std::vector<ReturnGroup> groups;
    groups.reserve(by_name.size());
    for (auto& [name, group] : by_name)
        groups.push_back(std::move(group));
    std::stable_sort(groups.begin(), groups.end(), [](const ReturnGroup& a, const ReturnGroup& b) {
        return a.cases.size() > b.cases.size();
    });
    return groups;
}

std::string compare_returns(const ReturnGroup& a, const ReturnGroup& b) {
    if (too_few(a.cases) || too_few(b.cases)) {
        const ReturnGroup& few = too_few(a.cases) ? a : b;
        return "Too few: “" + few.name + "” has " + integer_text(few.cases.size()) + " cases and " +
               integer_text(few.returns()) + " returns; " + integer_text(least_cases) + " and " +
               integer_text(least_returns) + " are the least to compare.";
    }
    const auto test = log_rank(a.cases, b.cases);
    if (!test)
        return test.error().text();
    const std::string p = number_text("p = %.2g", test->p);
    if (test->p > shown_p)
        return std::string("No difference is shown (log-rank, ") + p + ").";
    const bool a_holds = test->observed[0] < test->expected[0];
    return "“" + (a_holds ? a : b).name + "” holds longer than “" + (a_holds ? b : a).name + "” (log-rank, " +
           p + "). Jobs differ in more than this: it is a hint where to look.";
}

std::vector<WorkMinutes> minutes_of_work(const Knowledge& knowledge, const std::vector<Job>& jobs) {
    std::map<std::string, std::vector<double>> minutes;
    for (const Job& job : jobs)
        for (const Act& act : job.acts)
            if (act.minutes > 0.0) {
                const std::string kind = part_kind_of(knowledge, job, act);
                minutes[name_of(act.kind, kind)].push_back(act.minutes);
            }
    return summed_up(minutes);
}

std::vector<WorkMinutes> minutes_of_steps(const std::vector<Job>& jobs) {
    constexpr double seconds_a_minute = 60.0;
    std::map<std::string, std::vector<double>> minutes;
    for (const Job& job : jobs)
        for (const RepairRun& run : job.rework.runs)
            for (const StepDone& step : run.done)
                if (step.seconds > 0.0)
                    minutes[step.step].push_back(step.seconds / seconds_a_minute);
    return summed_up(minutes);
}

}  // namespace eh
