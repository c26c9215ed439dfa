// SPDX-License-Identifier: GPL-3.0-or-later
// Kinds of work on a part of a machine: what puts a fault right, what a technician has done.
#pragma once

#include <array>
#include <optional>
#include <string>

namespace eh {

enum class Work {
    none,  // nothing said; also of what no work puts right
    replace,
    repair,  // whatever the board needs, found by looking
    resolder,
    reflow,
    clean,
    reseat,
    bridge,
    reset,
    remove,
    change_setting,
    explain,  // to the customer: nothing is wrong
    wait,     // until a pack is warm, charged or awake
    other,
};
inline constexpr int work_count = 14;

// The word of job files and data files: "replace", "change_setting"; "" for none.
std::string to_text(Work work);
// nullopt for words that are none.
std::optional<Work> work_from(const std::string& text);

// The work by itself, for people: "Re-solder", "Bridge with a wire"; "Other work" for none.
std::string to_title(Work work);
// What is to be done to a part whose title follows, for people: "Clean", "Change the setting of"; "" for
// none.
std::string to_order(Work work);
// What was done, for people: "cleaned", "seated anew"; "" for none.
std::string to_past(Work work);

// Whether work of one kind on a part does what another kind would have done on it. Who changes a part cleans,
// seats and solders it too; who works on a board resets it first; a setting or a pack's state stays as it
// was.
bool does_the_work_of(Work done, Work wanted);

// Names the kinds between which one decision is made: all that a new part puts right is of one kind, waiting
// for a pack to warm up is of another. A reset, which costs minutes, is decided apart from a repair of the
// board, although who repairs resets first.
Work kind_of_work(Work work);

// Whether such work puts right what it is the remedy of and leaves whatever else may ail the part: who cleans
// a receptacle has not changed its worn contacts.
bool has_one_remedy(Work work);

// Whether the part itself stays as it was.
bool leaves_the_part(Work work);

// Whether it is done at the keyboard or by waiting.
bool needs_no_opening(Work work);

}  // namespace eh
