#include "core/diagnosis/prediction_table.h"

#include <algorithm>
#include <cassert>
#include <thread>

#include "core/machine/fault_reach.h"

namespace eh {

PredictionTable::PredictionTable(const MachinePlan& plan, std::vector<Hypothesis> hypotheses,
                                 PredictionOptions options)
    : plan_(&plan), hypotheses_(std::move(hypotheses)), options_(options) {
    assert(options_.samples > 0 && options_.threads > 0);
}

MachineModel PredictionTable::sample_model(std::size_t hypothesis, int sample) const {
    PartDraw draw;
    draw.typical = false;
    // The same sound parts for every hypothesis: differences between hypotheses are then the faults' own.
    draw.seed = options_.seed + static_cast<std::uint64_t>(sample);
    draw.severity = (sample + 0.5) / options_.samples;
    return {*plan_, hypotheses_[hypothesis].faults, draw};
}

bool PredictionTable::differs(std::size_t hypothesis, const BenchConfiguration& configuration,
                              bool powered) const {
    const auto& faults = hypotheses_[hypothesis].faults;
    return std::any_of(faults.begin(), faults.end(), [&](const FaultInstance& fault) {
        return fault_can_show(*plan_, fault, configuration, powered);
    });
}

template <typename Column, typename Fill>
bool PredictionTable::fill(Column& column, Fill fill, const std::function<bool()>& stop,
                           const std::function<void(double)>& progress) const {
    std::atomic<std::size_t> next{0};
    std::atomic<std::size_t> done{0};
    std::atomic<bool> stopped{false};
    const auto work = [&](bool reports) {
        DcSolver solver;
        for (std::size_t h = next++; h < column.size() && !stopped; h = next++) {
            column[h] = fill(h, solver);
            ++done;
            // One thread alone speaks to the caller's functions, which then need no locks.
            if (reports && stop && stop())
                stopped = true;
            if (reports && progress)
                progress(static_cast<double>(done) / static_cast<double>(column.size()));
        }
    };
    std::vector<std::thread> helpers;
    for (int i = 1; i < options_.threads; ++i)
        helpers.emplace_back(work, false);
    work(true);
    for (std::thread& helper : helpers)
        helper.join();
    return !stopped;
}

namespace {

// Hypotheses that change nothing in a configuration share the sound machine's samples.
std::size_t sound_machine(const std::vector<Hypothesis>& hypotheses) {
    const auto found = std::find_if(hypotheses.begin(), hypotheses.end(), [](const Hypothesis& h) {
        return h.kind == HypothesisKind::nothing_wrong;
    });
    assert(found != hypotheses.end());
    return static_cast<std::size_t>(found - hypotheses.begin());
}

}  // namespace

std::shared_ptr<const PoweredColumn> PredictionTable::powered(const BenchConfiguration& asked,
                                                              const std::function<bool()>& stop,
                                                              const std::function<void(double)>& progress) {
    const BenchConfiguration configuration = electrical_part(asked);
    if (auto known = known_powered(configuration))
        return known;
    PoweredColumn column(hypotheses_.size());
    const std::size_t sound = sound_machine(hypotheses_);
    SoundPoints points(static_cast<std::size_t>(options_.samples));
    DcSolver first_solver;
    std::vector<PoweredView> sound_views = powered_samples(sound, configuration, first_solver, points, true);
    const bool complete = fill(
        column,
        [&](std::size_t h, DcSolver& solver) {
            if (h == sound)
                return sound_views;
            return differs(h, configuration, true) ? powered_samples(h, configuration, solver, points, false)
                                                   : std::vector<PoweredView>{};
        },
        stop, progress);
    if (!complete)
        return nullptr;
    for (std::size_t h = 0; h < column.size(); ++h) {
        if (column[h].empty() && hypotheses_[h].kind == HypothesisKind::fault)
            column[h] = column[sound];
    }
    auto shared = std::make_shared<const PoweredColumn>(std::move(column));
    const std::lock_guard lock(mutex_);
    return powered_.emplace(configuration, shared).first->second;
}

std::shared_ptr<const OhmsColumn> PredictionTable::ohms(const BenchConfiguration& asked, int net,
                                                        const std::function<bool()>& stop) {
    const BenchConfiguration configuration = electrical_part(unpowered(asked));
    if (auto known = known_ohms(configuration, net))
        return known;
    // One model serves all nets, so all are measured when the first is asked for.
    std::vector<std::vector<std::vector<double>>> samples(hypotheses_.size());  // [hypothesis][net][sample]
    const std::size_t sound = sound_machine(hypotheses_);
    const bool complete = fill(samples,
                               [&](std::size_t h, DcSolver& solver) {
                                   return h == sound || differs(h, configuration, false)
                                              ? ohms_samples(h, configuration, solver)
                                              : std::vector<std::vector<double>>{};
                               },
                               stop, {});
    if (!complete)
        return nullptr;
    const std::lock_guard lock(mutex_);
    for (std::size_t n = 0; n < plan_->net_nodes.size(); ++n) {
        OhmsColumn column(hypotheses_.size());
        for (std::size_t h = 0; h < column.size(); ++h) {
            if (hypotheses_[h].kind != HypothesisKind::none_of_these)
                column[h] = samples[samples[h].empty() ? sound : h][n];
        }
        ohms_.emplace(OhmsKey{configuration, static_cast<int>(n)},
                      std::make_shared<const OhmsColumn>(std::move(column)));
    }
    return ohms_.at(OhmsKey{configuration, net});
}

std::vector<std::vector<double>> PredictionTable::ohms_samples(std::size_t hypothesis,
                                                               const BenchConfiguration& configuration,
                                                               DcSolver& solver) const {
    std::vector<std::vector<double>> by_net(plan_->net_nodes.size());
    for (int s = 0; s < options_.samples; ++s) {
        MachineModel model = sample_model(hypothesis, s);
        model.configure(configuration);
        for (std::size_t n = 0; n < by_net.size(); ++n)
            by_net[n].push_back(model.ohms_to_ground(static_cast<int>(n), solver));
    }
    return by_net;
}

std::vector<PoweredView> PredictionTable::sound_views(const BenchConfiguration& asked) const {
    const BenchConfiguration configuration = electrical_part(asked);
    const std::size_t sound = sound_machine(hypotheses_);
    if (const auto column = known_powered(configuration))
        return (*column)[sound];
    DcSolver solver;
    SoundPoints points(static_cast<std::size_t>(options_.samples));
    return powered_samples(sound, configuration, solver, points, true);
}

std::vector<PoweredView> PredictionTable::powered_samples(std::size_t hypothesis,
                                                          const BenchConfiguration& configuration,
                                                          DcSolver& solver, SoundPoints& points,
                                                          bool learn) const {
    std::vector<PoweredView> views;
    OperatingPoints of_hypothesis;
    for (int s = 0; s < options_.samples; ++s) {
        MachineModel model = sample_model(hypothesis, s);
        OperatingPoints& of_sample = points[static_cast<std::size_t>(s)];
        CourseOptions options;
        options.sound = learn ? nullptr : &of_sample;
        options.learned = learn ? &of_sample : &of_hypothesis;
        views.push_back(look_at(model, configuration, solver, options));
    }
    return views;
}

std::shared_ptr<const PoweredColumn> PredictionTable::known_powered(const BenchConfiguration& asked) const {
    const std::lock_guard lock(mutex_);
    const auto found = powered_.find(electrical_part(asked));
    return found == powered_.end() ? nullptr : found->second;
}

std::shared_ptr<const OhmsColumn> PredictionTable::known_ohms(const BenchConfiguration& asked,
                                                              int net) const {
    const std::lock_guard lock(mutex_);
    const auto found = ohms_.find(OhmsKey{electrical_part(unpowered(asked)), net});
    return found == ohms_.end() ? nullptr : found->second;
}

}  // namespace eh
