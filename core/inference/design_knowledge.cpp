// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/design_knowledge.h"

#include <algorithm>
#include <cassert>
#include <cmath>

#include "core/base/quantile.h"
#include "core/inference/design_search.h"
#include "core/machine/model/net_index.h"

namespace eh {
namespace {

// What most makers do is likely from the start: a habit is settled by readings that moved its log odds so
// far.
constexpr double news = 1.0;

double logit(double share) {
    constexpr double edge = 1e-6;
    const double within = std::clamp(share, edge, 1.0 - edge);
    return std::log(within / (1.0 - within));
}

double share_of(double logit_of_share) {
    return 1.0 / (1.0 + std::exp(-logit_of_share));
}

bool settled_as(double share, bool has) {
    return has ? share >= settled_habit : share <= 1.0 - settled_habit;
}

}  // namespace

namespace {

// Whether a hypothesis leaves a number as it is on the sound machine, in nearly all of its samples that fit.
bool leaves_alone(const Numbers& numbers, const Numbers& sound, const std::vector<double>& weights) {
    constexpr double same = 0.05;
    constexpr double nearly_all = 0.95;
    double kept = 0.0;
    for (std::size_t s = 0; s < weights.size(); ++s) {
        const bool both_open = std::isinf(numbers[s]) && std::isinf(sound[s]);
        if (both_open || std::abs(numbers[s] - sound[s]) <= same * sound[s])
            kept += weights[s];
    }
    return kept >= nearly_all;
}

}  // namespace

std::map<std::string, double> sound_ohms_read(PredictionTable& table, const Ranking& ranking,
                                              const std::vector<Reading>& readings) {
    constexpr double likely = 0.05;
    std::map<std::string, std::vector<double>> read;
    for (const Reading& reading : readings) {
        const auto* ohms = reading.as<NetOhmsReading>();
        if (ohms == nullptr || reads_open(ohms->ohms) || reading.set_aside ||
            !reading.configuration.removed.empty() || reading.configuration.bare_plug ||
            !check_reading(reading, table.plan()))
            continue;
        const int net = net_index(table.plan().topology(), ohms->net);
        const auto sound = table.known_sound_ohms(reading.configuration, net);
        const auto column = table.known_ohms(reading.configuration, net);
        if (sound == nullptr || column == nullptr)
            continue;
        const bool alone =
            std::all_of(ranking.suspicions.begin(), ranking.suspicions.end(), [&](const auto& suspicion) {
                const auto& weights = ranking.sample_weights[suspicion.hypothesis];
                return suspicion.probability < likely || weights.empty() ||
                       leaves_alone((*column)[suspicion.hypothesis], *sound, weights);
            });
        if (alone)
            read[ohms->net].push_back(*ohms->ohms);
    }
    std::map<std::string, double> of_net;
    for (auto& [net, values] : read)
        of_net[net] = median(std::move(values));
    return of_net;
}

HabitCourse habits_given_the_rest(PredictionTable& around, const DesignSample& design,
                                  const std::vector<double>& priors, const ByHabit<double>& met,
                                  const std::vector<Reading>& readings, const AccuracyOptions& accuracy,
                                  const std::function<bool()>& stop) {
    assert(around.store()->options().designs.size() == habit_count + 2);
    HabitCourse course;
    std::vector<Reading> taken;
    for (std::size_t r = 0; r <= readings.size(); ++r) {
        const auto evidence = log_evidence_of_designs(around, rank(around, priors, taken, accuracy, stop));
        if (stop && stop())
            return {};
        ByHabit<double>& now = course.emplace_back();
        for (std::size_t h = 0; h < habit_count; ++h) {
            const double turned = evidence[h + 1] - evidence.front();
            now[h] = met[h] <= 0.0 || met[h] >= 1.0
                         ? met[h]
                         : share_of(logit(met[h]) + (design.habits[h] ? -turned : turned));
        }
        if (r < readings.size())
            taken.push_back(readings[r]);
    }
    return course;
}

HabitCourse mean_of(const std::vector<HabitCourse>& courses) {
    assert(!courses.empty());
    HabitCourse mean(courses.front().size());
    for (const HabitCourse& course : courses) {
        for (std::size_t r = 0; r < mean.size(); ++r) {
            for (std::size_t h = 0; h < habit_count; ++h)
                mean[r][h] += course[r][h] / static_cast<double>(courses.size());
        }
    }
    return mean;
}

std::vector<HabitKnown> habits_known(const HabitCourse& course, const ByHabit<double>& met,
                                     const std::vector<Reading>& readings) {
    assert(course.size() == readings.size() + 1);
    std::vector<HabitKnown> list;
    list.reserve(habit_count);
    for (std::size_t h = 0; h < habit_count; ++h) {
        HabitKnown known{static_cast<Habit>(h), met[h], course.back()[h], {}, {}};
        const bool has = known.now >= known.met;
        double largest = 0.0;
        for (std::size_t r = 0; r < readings.size(); ++r) {
            const double step = (logit(course[r + 1][h]) - logit(course[r][h])) * (has ? 1.0 : -1.0);
            if (step > largest) {
                largest = step;
                known.because = readings[r].id;
            }
        }
        const auto settled = [&](std::size_t r) {
            return settled_as(course[r][h], has) && std::abs(logit(course[r][h]) - logit(known.met)) >= news;
        };
        if (settled(readings.size()) && !settled(0)) {
            std::size_t first = readings.size();
            while (settled(first - 1))
                --first;
            known.since = readings[first - 1].id;
        }
        list.push_back(std::move(known));
    }
    return list;
}

ByHabit<double> learnt_of(const std::vector<HabitKnown>& known) {
    ByHabit<double> learnt{};
    for (const HabitKnown& habit : known) {
        // What every machine has, or none, no reading can move.
        if (habit.met > 0.0 && habit.met < 1.0)
            learnt[static_cast<std::size_t>(habit.habit)] =
                std::clamp(logit(habit.now) - logit(habit.met), -most_learnt, most_learnt);
    }
    return learnt;
}

}  // namespace eh
