// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/work.h"

#include <algorithm>

#include "core/base/word_list.h"

namespace eh {
namespace {

// In the order of the enumeration; job files keep these words for good.
constexpr std::array<const char*, work_count> words{
    "",       "replace", "repair", "resolder",       "reflow",  "clean", "reseat",
    "bridge", "reset",   "remove", "change_setting", "explain", "wait",  "other"};

// In the order of the enumeration, for people.
constexpr std::array<const char*, work_count> past{
    "",        "replaced", "repaired",  "re-soldered",     "reflowed",  "cleaned",    "seated anew",
    "bridged", "reset",    "taken off", "set differently", "explained", "waited for", "worked on"};

constexpr std::array<const char*, work_count> orders{"",
                                                     "Replace",
                                                     "Repair",
                                                     "Re-solder",
                                                     "Reflow",
                                                     "Clean",
                                                     "Seat anew",
                                                     "Bridge",
                                                     "Reset",
                                                     "Take off",
                                                     "Change the setting of",
                                                     "Explain",
                                                     "Wait a while for",
                                                     "Work on"};

constexpr std::array<const char*, work_count> titles{"Other work",
                                                     "Replace",
                                                     "Repair",
                                                     "Re-solder",
                                                     "Reflow",
                                                     "Clean",
                                                     "Reseat",
                                                     "Bridge with a wire",
                                                     "Reset",
                                                     "Remove",
                                                     "Change the setting",
                                                     "Explain to the customer",
                                                     "Wait",
                                                     "Other work"};

}  // namespace

std::string to_title(Work work) {
    return titles[static_cast<std::size_t>(work)];
}

std::string to_order(Work work) {
    return orders[static_cast<std::size_t>(work)];
}

std::string to_past(Work work) {
    return past[static_cast<std::size_t>(work)];
}

std::string to_text(Work work) {
    return words[static_cast<std::size_t>(work)];
}

std::optional<Work> work_from(const std::string& text) {
    return value_of_word<Work>(words, text);
}

bool does_the_work_of(Work done, Work wanted) {
    const bool with_a_new_part =
        wanted == Work::resolder || wanted == Work::reseat || wanted == Work::clean || wanted == Work::bridge;
    return done == wanted || (done == Work::replace && with_a_new_part) ||
           (done == Work::repair && wanted == Work::reset);
}

Work kind_of_work(Work work) {
    return does_the_work_of(Work::replace, work) ? Work::replace : work;
}

bool has_one_remedy(Work work) {
    constexpr std::array remedies{Work::resolder, Work::clean,          Work::reseat, Work::bridge,
                                  Work::reset,    Work::change_setting, Work::wait};
    return std::find(remedies.begin(), remedies.end(), work) != remedies.end();
}

bool leaves_the_part(Work work) {
    return work == Work::wait || work == Work::change_setting || work == Work::explain;
}

bool needs_no_opening(Work work) {
    return leaves_the_part(work) || work == Work::reset;
}

}  // namespace eh
