// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/job_merge.h"

#include <algorithm>

#include "core/base/text.h"

namespace eh {
namespace {

bool has(const std::vector<Reading>& readings, const Reading& wanted) {
    return std::find(readings.begin(), readings.end(), wanted) != readings.end();
}

std::size_t only_in(const std::vector<Reading>& some, const std::vector<Reading>& others) {
    return static_cast<std::size_t>(std::count_if(
        some.begin(), some.end(), [&](const Reading& reading) { return !has(others, reading); }));
}

std::string counted(std::size_t count, const char* one, const char* several) {
    return integer_text(count) + " " + (count == 1 ? one : several);
}

}  // namespace

std::int64_t last_entry_ms(const Job& job) {
    std::int64_t last = job.created_ms;
    for (const Reading& reading : job.readings)
        last = std::max(last, reading.taken_ms);
    for (const Act& act : job.acts)
        last = std::max(last, act.done_ms);
    for (const Finding& finding : job.findings)
        last = std::max(last, finding.noted_ms);
    return std::max(last, job.handover.handed_ms);
}

std::vector<std::string> differences(const Job& ours, const Job& theirs) {
    std::vector<std::string> found;
    const std::int64_t newer = last_entry_ms(ours) - last_entry_ms(theirs);
    if (newer > 0)
        found.push_back("The file is older than the job in the shop.");
    else if (newer < 0)
        found.push_back("The file is newer than the job in the shop.");
    const std::size_t here = only_in(ours.readings, theirs.readings);
    const std::size_t there = only_in(theirs.readings, ours.readings);
    if (here > 0)
        found.push_back(counted(here, "reading is", "readings are") + " only in the shop.");
    if (there > 0)
        found.push_back(counted(there, "reading is", "readings are") + " only in the file.");
    if (ours.acts != theirs.acts)
        found.push_back("Work: " + counted(ours.acts.size(), "entry", "entries") + " in the shop, " +
                        integer_text(theirs.acts.size()) + " in the file.");
    if (ours.stage != theirs.stage)
        found.push_back("The stage is " + to_text(ours.stage) + " in the shop, " + to_text(theirs.stage) +
                        " in the file.");
    if (ours.ticket != theirs.ticket)
        found.push_back("The ticket differs.");
    if (found.size() == (newer == 0 ? 0U : 1U) && !(ours == theirs))
        found.push_back("Findings, rework, proof or handover differ.");
    if (ours == theirs)
        found.clear();
    return found;
}

Job with_readings_of(Job keep, const Job& other) {
    for (const Reading& reading : other.readings) {
        if (has(keep.readings, reading))
            continue;
        Reading added = reading;
        if (find_reading(keep, added.id) != nullptr)
            added.id = fresh_id(keep, "r");
        keep.readings.push_back(std::move(added));
    }
    return keep;
}

}  // namespace eh
