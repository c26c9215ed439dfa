// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/reading_fit.h"

#include <map>
#include <unordered_map>
#include <utility>

#include "core/inference/board_look.h"
#include "core/inference/contact_look.h"
#include "core/inference/repeats.h"
#include "core/machine/model/fault_reach.h"
#include "core/machine/model/net_index.h"

namespace eh {
namespace {

template <typename Column, typename TermsOf>
void fill_samples(ReadingFit& fit, const PredictionTable& table, const Column& column, TermsOf terms_of) {
    std::map<std::pair<const void*, SampleMask>, std::shared_ptr<const std::vector<SampleTerms>>> known;
    fit.samples.reserve(column.size());
    for (std::size_t h = 0; h < column.size(); ++h) {
        auto& terms = known[{&column[h], table.counted(h)}];
        if (terms == nullptr)
            terms = std::make_shared<const std::vector<SampleTerms>>(terms_of(column[h], h));
        fit.samples.push_back(terms);
    }
}

// Of a look at a part or over the board: by what faults a hypothesis has there.
double seen_probability(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                        const Reading& reading) {
    if (const auto* board = reading.as<BoardLookReading>())
        return board_look_probability(plan, faults, board->found, reading.configuration);
    const auto* look = reading.as<LookReading>();
    return look_shares(plan, faults, look->part, reading.configuration)[static_cast<std::size_t>(look->seen)];
}

void fill_looks(ReadingFit& fit, const PredictionTable& table, const Reading& reading) {
    for (std::size_t h = 0; h < table.hypotheses().size(); ++h) {
        const Hypothesis& hypothesis = table.hypotheses()[h];
        const bool none = hypothesis.kind == HypothesisKind::none_of_these;
        fit.samples.push_back(std::make_shared<const std::vector<SampleTerms>>(
            sample_terms(seen_probability(table.plan(), hypothesis.faults, reading),
                         none ? 0 : table.sample_weights(h).size())));
    }
}

// Whether what was measured through a part changed when it was pushed.
void add_push(ReadingFit& fit, const PredictionTable& table, const Reading& reading, bool seen) {
    for (std::size_t h = 0; h < fit.samples.size(); ++h) {
        const double changes = push_probability(table.plan(), table.hypotheses()[h].faults, reading.place(),
                                                reading.configuration);
        std::vector<SampleTerms> terms = *fit.samples[h];
        for (SampleTerms& of_sample : terms)
            of_sample.given *= seen ? changes : 1.0 - changes;
        fit.samples[h] = std::make_shared<const std::vector<SampleTerms>>(std::move(terms));
    }
}

}  // namespace

void add_contact(ReadingFit& fit, const PredictionTable& table, const Reading& reading) {
    for (std::size_t h = 0; h < fit.samples.size(); ++h) {
        const double factor = contact_factor(table.plan(), table.hypotheses()[h].faults,
                                             *reading.as<LookReading>(), reading.configuration);
        if (factor == 1.0)
            continue;
        std::vector<SampleTerms> terms = *fit.samples[h];
        for (SampleTerms& of_sample : terms)
            of_sample.given *= factor;
        fit.samples[h] = std::make_shared<const std::vector<SampleTerms>>(std::move(terms));
    }
}

namespace {

// How makers differ in what is read.
KnownExpectations variety_of(const Reading& reading, const MachinePlan& plan) {
    KnownExpectations known;
    known.amps_ln = plan.knowledge().variety.amps_ln;
    if (const int net = net_index(plan.topology(), reading.place()); net >= 0)
        known.variety = plan.net_variety[static_cast<std::size_t>(net)];
    return known;
}

// Parts of one kind at the very same nets.
std::vector<int> sisters_of(int block, const MachinePlan& plan) {
    std::vector<int> list;
    for (int b = 0; block >= 0 && b < static_cast<int>(plan.blocks.size()); ++b) {
        const PlanBlock& one = plan.blocks[static_cast<std::size_t>(block)];
        const PlanBlock& other = plan.blocks[static_cast<std::size_t>(b)];
        if (b != block && one.kind == other.kind && one.pin_nodes == other.pin_nodes)
            list.push_back(b);
    }
    return list;
}

}  // namespace

// Columns of numbers that the multimeter shows with the machine off.
std::shared_ptr<const NumberColumn> number_column(PredictionTable& table, const Reading& reading,
                                                  const std::function<bool()>& stop) {
    if (const auto question = off_question(reading, table.plan()))
        return table.number(reading.configuration, *question, stop);
    return table.ohms(reading.configuration, net_index(table.plan().topology(), reading.place()), stop);
}

ReadingFit fit_of(PredictionTable& table, const Reading& reading, const AccuracyOptions& accuracy) {
    const Topology& topology = table.plan().topology();
    ReadingFit fit{reading_terms(reading, topology), {}};
    AccuracyOptions but_for_slips = accuracy;
    but_for_slips.odd_reading = AccuracyOptions{}.odd_reading;
    const bool usual = but_for_slips == AccuracyOptions{};
    if (is_by_eye(reading.kind())) {
        fill_looks(fit, table, reading);
    } else if (is_unpowered(reading.kind())) {
        const auto column = number_column(table, reading);
        KnownExpectations known = variety_of(reading, table.plan());
        const auto sound =
            reading.kind() == ReadingKind::net_ohms
                ? table.known_sound_ohms(reading.configuration, net_index(topology, reading.place()))
                : nullptr;
        known.sound_ohms = sound.get();
        fill_samples(fit, table, *column, [&](const Numbers& numbers, std::size_t h) {
            known.number = usual ? &column->expected()[h] : nullptr;
            known.counted = table.counted(h);
            return sample_terms(reading, numbers, accuracy, known);
        });
        const auto* through = reading.as<ThroughReading>();
        if (through != nullptr && through->changes_when_pushed)
            add_push(fit, table, reading, *through->changes_when_pushed);
    } else {
        const int net = net_index(topology, reading.place());
        const int block = table.plan().find_block(reading.place());
        const auto column = table.powered(reading.configuration);
        // Kept with the column, for the accuracy that all use but the oracle of an evaluation.
        std::shared_ptr<const ExpectedOfViews> number;
        std::shared_ptr<const ExpectedOfViews> amps;
        if (usual && reading.kind() == ReadingKind::meter) {
            number = column->meter_volts();
            amps = column->meter_amps();
        } else if (usual && reading.kind() == ReadingKind::net_volts) {
            number = column->net_volts(net);
        }
        KnownExpectations known = variety_of(reading, table.plan());
        if (reading.kind() == ReadingKind::hot_part || reading.kind() == ReadingKind::injection)
            known.sisters = sisters_of(block, table.plan());
        fill_samples(fit, table, *column, [&](const Views& views, std::size_t h) {
            known.number = number ? &(*number)[h] : nullptr;
            known.amps = amps ? &(*amps)[h] : nullptr;
            known.counted = table.counted(h);
            return sample_terms(reading, views, net, block, accuracy, known);
        });
    }
    return fit;
}

void take_again(ReadingFit& fit, const Reading& reading, const Reading& before,
                const AccuracyOptions& accuracy) {
    std::unordered_map<const void*, std::shared_ptr<const std::vector<SampleTerms>>> known;
    for (auto& samples : fit.samples) {
        auto& again = known[samples.get()];
        if (again == nullptr)
            again = std::make_shared<const std::vector<SampleTerms>>(
                taken_again(*samples, reading, before, accuracy));
        samples = again;
    }
}

bool counts(const Reading& reading, const MachinePlan& plan) {
    return !reading.set_aside && check_reading(reading, plan).ok();
}

}  // namespace eh
