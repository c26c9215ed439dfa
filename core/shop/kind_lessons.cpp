// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shop/kind_lessons.h"

#include <algorithm>
#include <cctype>
#include <iterator>

#include "core/shop/shop_rates.h"

namespace eh {

KindOfMachine kind_of_machine(const Ticket& ticket) {
    KindOfMachine kind{"", ticket.topology};
    for (const char c : ticket.machine) {
        const auto byte = static_cast<unsigned char>(c);
        if (std::isspace(byte) == 0)
            kind.name += static_cast<char>(byte < 0x80 ? std::tolower(byte) : byte);
    }
    return kind;
}

std::vector<TaughtMachine> taught_machines(const std::vector<Job>& jobs) {
    std::vector<TaughtMachine> taught;
    for (const Job& job : jobs) {
        if (job.lesson && job.ticket.like_its_kind)
            taught.push_back({job.id, job.ticket.number, kind_of_machine(job.ticket), *job.lesson});
    }
    return taught;
}

std::vector<TaughtMachine> teachers_of(const Job& job, const std::vector<TaughtMachine>& taught) {
    const KindOfMachine kind = kind_of_machine(job.ticket);
    std::vector<TaughtMachine> teachers;
    if (kind.name.empty() || !job.ticket.like_its_kind)
        return teachers;
    std::copy_if(
        taught.begin(), taught.end(), std::back_inserter(teachers),
        [&](const TaughtMachine& earlier) { return earlier.kind == kind && !(earlier.job == job.id); });
    return teachers;
}

std::string teaching_part(const Job& job) {
    if (!job.ticket.like_its_kind || kind_of_machine(job.ticket).name.empty())
        return {};
    const auto repair = confirmed_repair(job);
    return repair ? repair->block : std::string();
}

}  // namespace eh
