// SPDX-License-Identifier: GPL-3.0-or-later
// What the readings of a job tell of the design of its machine: which habits of makers it has.
#pragma once

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/inference/ranking.h"

namespace eh {

struct HabitKnown {
    Habit habit{};
    double met = 0.0;  // share of machines that have it, before any reading
    double now = 0.0;  // probability that this machine has it, given the readings
    // From which reading on it has been settled, one way or the other; nothing while it is not.
    std::optional<std::string> since;
    // The reading that moved it most towards where it stands; nothing where none moved it.
    std::optional<std::string> because;
};

// A habit is settled from this probability on, and below one minus it, where readings brought it there.
inline constexpr double settled_habit = 0.9;

// Probabilities of habits before the first reading, after it, and so on: one more than there are readings.
using HabitCourse = std::vector<ByHabit<double>>;

// Of each habit, given the rest of the design: its two alternatives are compared on machines that are alike
// in all else, their part values too, so that no luck of those is taken for a habit. `around` is a table over
// neighbours(design) with these priors, as for rank(); `met` are the shares of habits before any reading.
// Readings are taken in one by one, in their order. Empty when stopped.
HabitCourse habits_given_the_rest(PredictionTable& around, const DesignSample& design,
                                  const std::vector<double>& priors, const ByHabit<double>& met,
                                  const std::vector<Reading>& readings, const AccuracyOptions& accuracy,
                                  const std::function<bool()>& stop = {});

// Over several designs that the readings leave: a habit that another one explains away is not taken for
// certain. Designs drawn from each other's probabilities make it the probability of the habit (Gibbs
// sampling, Geman and Geman 1984; the mean of the conditionals, Gelfand and Smith 1990). Requires courses of
// one length.
HabitCourse mean_of(const std::vector<HabitCourse>& courses);

// By habit of the makers, in their order. Requires a course of these readings.
std::vector<HabitKnown> habits_known(const HabitCourse& course, const ByHabit<double>& met,
                                     const std::vector<Reading>& readings);

// By habit: by how much the readings moved the log of its odds, at most `most_learnt` either way. What
// several machines of one design say of it adds up.
ByHabit<double> learnt_of(const std::vector<HabitKnown>& known);
inline constexpr double most_learnt = 3.0;

// By net: the ohms to ground that were read with the machine off and no part lifted, where they are those of
// a sound machine, whichever of the ranking's likely hypotheses holds. The ranking is of this table, whose
// columns for these readings are known.
std::map<std::string, double> sound_ohms_read(PredictionTable& table, const Ranking& ranking,
                                              const std::vector<Reading>& readings);

}  // namespace eh
