// SPDX-License-Identifier: GPL-3.0-or-later
// Which of the acts that tell anything are worth a line.
#pragma once

#include <cstddef>
#include <vector>

#include "core/planning/next_act.h"

namespace eh {

// Without readings that another before them in the list makes needless: the same at another port or plug side
// that tells no more. Keeps the order.
std::vector<NextAct> one_of_a_kind(std::vector<NextAct> acts);

// At most so many of them, in their order, the first among them. Where some have to go, those go first that
// read a place which an act before them reads in another state of the machine, then those of a kind of
// reading that half of the list is of: whoever cannot get at a place, or lacks an instrument, finds as many
// others in the list as there are.
std::vector<NextAct> most_varied(std::vector<NextAct> acts, std::size_t most);

// Puts an act at the head of the list, from which the same reading at the same place and bench is taken out.
void put_first(std::vector<NextAct>& acts, const NextAct& act);

// Whether the shop has what a kind of reading is taken with: ohms from net to net need what ohms of a net
// need, volts of a pack what volts of a net do, the board what a look at a part does; signs of life need
// nothing.
bool is_equipped(const NextOptions& options, ReadingKind kind);

// A reading that may be taken, and nothing known of it yet.
NextAct act_at(ReadingKind kind, const std::string& place, const BenchConfiguration& configuration);

// The reading that an act would take, without a value.
Reading reading_of(const NextAct& act);

}  // namespace eh
