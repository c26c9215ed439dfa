// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/prediction/prediction_store.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>
#include <numeric>
#include <tuple>
#include <utility>

#include "core/base/random.h"
#include "core/base/text.h"
#include "core/machine/model/fault_reach.h"
#include "core/machine/model/net_index.h"
#include "core/prediction/sample_spread.h"

namespace eh {
namespace {

PoweredView repeated(PoweredView view) {
    view.repeats = true;
    return view;
}

// Neither the button nor the plug touched, once nothing changes any more.
BenchConfiguration left_alone(BenchConfiguration configuration) {
    configuration.button = Button::left_alone;
    configuration.plug_held = false;
    configuration.moment = Moment::settled;
    return configuration;
}

}  // namespace

std::string PredictionStore::name_of(const Machine& machine) {
    std::string name;
    for (std::size_t f = 0; f < machine.faults.size(); ++f) {
        const FaultInstance& fault = machine.faults[f];
        name += fault.fault + '@' + fault.block + '#' + integer_text(machine.streams[f]);
        if (fault.ohms)
            name += '=' + machine_number("%f", *fault.ohms);
        if (fault.knee_volts)
            name += '/' + machine_number("%f", *fault.knee_volts);
        if (fault.severity)
            name += '~' + machine_number("%f", fault.severity->from) + '-' +
                    machine_number("%f", fault.severity->to);
        name += ' ';
    }
    return machine.depth == Depth::many_designs ? name + '*' : name;
}

PredictionStore::PredictionStore(const MachinePlan& plan, PredictionOptions options)
    : plan_(&plan), options_(std::move(options)) {
    assert(options_.samples > 0 && options_.threads > 0);
    if (options_.designs.empty()) {
        const auto& shares = plan.knowledge().variety.habit_shares;
        const std::size_t few = options_.few_designs();
        options_.designs = spread_in_blocks(shares, {shares_met(shares)}, few,
                                            std::max(few, options_.many_designs), options_.seed);
    }
    sound_models_.resize(options_.designs.size() * samples_of_design);
    options_.samples = std::min(options_.samples, static_cast<int>(sound_models_.size()));
    machine({});
}

// What can be hidden by the shop's own charger and lead comes last, what draws a severity first: machines
// that show the same then are the same.
PredictionStore::MachineNumber PredictionStore::machine(std::vector<FaultInstance> faults, Depth depth) {
    const auto place = [&](const FaultInstance& fault) {
        const PlanBlock& block = plan_->blocks[static_cast<std::size_t>(plan_->find_block(fault.block))];
        const bool draws = draws_severity(plan_->knowledge().catalogue, {fault});
        return std::make_tuple(block.is_outside(), !draws, fault.block, fault.fault);
    };
    std::sort(faults.begin(), faults.end(),
              [&](const FaultInstance& a, const FaultInstance& b) { return place(a) < place(b); });
    std::vector<int> streams(faults.size());
    std::iota(streams.begin(), streams.end(), 0);
    const std::lock_guard lock(mutex_);
    return number_of({std::move(faults), std::move(streams), depth});
}

PredictionStore::MachineNumber PredictionStore::number_of(Machine machine) const {
    if (samples_of(machine.depth) == samples_of(Depth::few_designs))
        machine.depth = Depth::few_designs;
    const auto [place, fresh] = numbers_.emplace(name_of(machine), machines_.size());
    if (fresh) {
        draw_sound_models(machine.depth);
        if (machine.weights.empty())
            machine.weights = sample_weights(machine);
        machines_.push_back(std::move(machine));
    }
    return place->second;
}

std::vector<double> PredictionStore::weights(MachineNumber machine) const {
    const std::lock_guard lock(mutex_);
    return machines_[machine].weights;
}

PredictionStore::Machine PredictionStore::copy_of(MachineNumber machine) const {
    const std::lock_guard lock(mutex_);
    return machines_[machine];
}

template <typename Kept>
std::shared_ptr<const Kept> PredictionStore::find(const Shelf<Kept>& shelf, MachineNumber machine,
                                                  const BenchConfiguration& configuration,
                                                  bool powered) const {
    const std::lock_guard lock(mutex_);
    const Scene at = scene(machine, configuration, powered);
    const auto place = shelf.find(at.configuration);
    if (place == shelf.end())
        return nullptr;
    const auto found = place->second.find(at.machine);
    return found == place->second.end() ? nullptr : found->second;
}

std::shared_ptr<const Views> PredictionStore::sound_views(const BenchConfiguration& configuration) {
    (void)simulate_views({sound}, configuration);
    return views(sound, configuration);
}

std::shared_ptr<const Views> PredictionStore::views(MachineNumber machine,
                                                    const BenchConfiguration& configuration) const {
    return find(views_, machine, configuration, true);
}

std::shared_ptr<const NetOhms> PredictionStore::ohms(MachineNumber machine,
                                                     const BenchConfiguration& configuration) const {
    return find(ohms_, machine, configuration, false);
}

template <typename Kept>
std::shared_ptr<const Kept> PredictionStore::first_samples(const Shelf<Kept>& shelf, const Scene& at) const {
    const std::lock_guard lock(mutex_);
    Machine machine = machines_[at.machine];
    if (machine.depth == Depth::few_designs)
        return nullptr;
    machine.depth = Depth::few_designs;
    const auto number = numbers_.find(name_of(machine));
    const auto place = shelf.find(at.configuration);
    if (number == numbers_.end() || place == shelf.end())
        return nullptr;
    const auto found = place->second.find(number->second);
    return found == place->second.end() ? nullptr : found->second;
}

Depth PredictionStore::deepest_of(const std::vector<MachineNumber>& machines) const {
    const std::lock_guard lock(mutex_);
    const bool any = std::any_of(machines.begin(), machines.end(), [&](MachineNumber machine) {
        return machines_[machine].depth == Depth::many_designs;
    });
    return any ? Depth::many_designs : Depth::few_designs;
}

template <typename Kept, typename Simulate>
bool PredictionStore::simulate(Shelf<Kept>& shelf, const std::vector<MachineNumber>& machines,
                               const BenchConfiguration& configuration, bool powered, Simulate simulate_one,
                               const std::function<bool()>& stop,
                               const std::function<void(double)>& progress) {
    std::vector<Scene> missing;
    {
        const std::lock_guard lock(mutex_);
        for (const MachineNumber machine : machines) {
            Scene at = scene(machine, configuration, powered);
            const auto [place, fresh] = shelf[at.configuration].emplace(at.machine, nullptr);
            if (fresh)
                missing.push_back(std::move(at));
        }
        // The empty places only told repeats apart.
        for (const Scene& at : missing)
            shelf[at.configuration].erase(at.machine);
    }
    return spread_over_threads(
        missing.size(), options_.threads,
        [&] {
            return [&, solver = std::make_unique<DcSolver>()](std::size_t i) {
                const Scene& at = missing[i];
                auto kept = std::make_shared<const Kept>(simulate_one(at, *solver));
                const std::lock_guard lock(mutex_);
                keep(shelf, at.configuration, at.machine, std::move(kept));
            };
        },
        stop, progress);
}

PoweredView PredictionStore::look_at_sample(const Machine& machine, const BenchConfiguration& configuration,
                                            const Scene& before, int sample, CourseOptions options,
                                            DcSolver& solver) {
    StandingMachine standing;
    const auto place = std::pair(before.machine, sample);
    {
        const std::lock_guard lock(mutex_);
        auto& of_configuration = standing_[before.configuration];
        if (const auto known = of_configuration.find(place); known != of_configuration.end())
            standing = known->second;
    }
    const bool was_known = !standing.volts.empty();
    options.standing = &standing;
    MachineModel model = sample_model(machine, sample);
    PoweredView view = look_at(model, configuration, solver, options);
    if (!was_known && !standing.volts.empty()) {
        const std::lock_guard lock(mutex_);
        standing_[before.configuration].emplace(place, std::move(standing));
    }
    return view;
}

std::shared_ptr<const Views> PredictionStore::views_before_pressing(Scene at) const {
    at.configuration.button = Button::left_alone;
    const std::lock_guard lock(mutex_);
    const auto place = views_.find(at.configuration);
    if (place == views_.end())
        return nullptr;
    const auto found = place->second.find(at.machine);
    return found == place->second.end() ? nullptr : found->second;
}

std::shared_ptr<const PredictionStore::SoundPoints> PredictionStore::sound_points(
    const BenchConfiguration& configuration, Depth depth, const std::function<bool()>& stop) {
    Scene at;
    Scene before;
    {
        const std::lock_guard lock(mutex_);
        at = scene(number_of({{}, {}, depth}), configuration, true);
        before = before_plugging(at);
        if (const auto known = sound_points_.find({at.configuration, depth}); known != sound_points_.end())
            return known->second;
    }
    const std::size_t samples = samples_of(depth);
    auto points = std::make_shared<SoundPoints>(samples);
    Views views(samples);
    const auto simulate_design = [&](std::size_t design, DcSolver& solver) {
        for (std::size_t s = samples_of_design * design; s < samples_of_design * (design + 1) && s < samples;
             ++s) {
            if (has_parts_of_sample_before({}, s) && !views[s - 1].source_strained) {
                views[s] = repeated(views[s - 1]);
                (*points)[s] = (*points)[s - 1];
                continue;
            }
            CourseOptions options;
            options.learned = &(*points)[s];
            views[s] =
                look_at_sample(Machine{}, at.configuration, before, static_cast<int>(s), options, solver);
        }
    };
    const bool done =
        spread_over_threads(designs_of(samples), options_.threads,
                            [&] {
                                return [&, solver = std::make_unique<DcSolver>()](std::size_t design) {
                                    simulate_design(design, *solver);
                                };
                            },
                            stop, {});
    if (!done)
        return nullptr;
    const std::lock_guard lock(mutex_);
    if (!is_mirrored(at))
        keep<Views>(views_, at.configuration, at.machine, std::make_shared<const Views>(std::move(views)));
    return sound_points_.emplace(std::pair(at.configuration, depth), std::move(points)).first->second;
}

bool PredictionStore::simulate_mirrored(const std::vector<MachineNumber>& machines,
                                        const BenchConfiguration& configuration,
                                        const std::function<bool()>& stop,
                                        const std::function<void(double)>& progress) {
    BenchConfiguration usual = configuration;
    usual.side = PlugSide::a;
    if (!simulate_views_now(machines, usual, stop, progress))
        return false;
    std::vector<std::pair<std::size_t, std::size_t>> nets;
    for (const auto& [a, b] : plug_side_nodes(*plan_, plan_->port_index(configuration.port))) {
        const int one = net_at_node(*plan_, a);
        const int other = net_at_node(*plan_, b);
        if (one >= 0 && other >= 0)
            nets.emplace_back(one, other);
    }
    for (const MachineNumber machine : machines) {
        auto turned = std::make_shared<Views>(*views(machine, usual));
        for (PoweredView& view : *turned) {
            std::vector<float>& volts = view.net_volts.own();
            std::vector<float>& ohms = view.net_ohms.own();
            for (const auto& [a, b] : nets) {
                std::swap(volts[a], volts[b]);
                std::swap(ohms[a], ohms[b]);
            }
        }
        const std::lock_guard lock(mutex_);
        keep<Views>(views_, configuration, machine, std::move(turned));
    }
    return true;
}

bool PredictionStore::simulate_views(const std::vector<MachineNumber>& machines,
                                     const BenchConfiguration& configuration,
                                     const std::function<bool()>& stop,
                                     const std::function<void(double)>& progress) {
    const Simulating going_on(*this);
    return simulate_views_now(machines, configuration, stop, progress);
}

bool PredictionStore::simulate_views_now(const std::vector<MachineNumber>& machines,
                                         const BenchConfiguration& configuration,
                                         const std::function<bool()>& stop,
                                         const std::function<void(double)>& progress) {
    const bool pressed = configuration.button == Button::pressed;
    if (pressed && !simulate_views_now(machines, left_alone(configuration), stop, {}))
        return false;
    // What only differs in which part of a net is shorted is simulated once, and so is what only differs in
    // which way up the plug is.
    std::map<BenchConfiguration, std::vector<MachineNumber>> distinct;
    std::vector<std::pair<Scene, Scene>> twins;  // of what is missing
    std::map<BenchConfiguration, std::vector<MachineNumber>> mirrored;
    {
        const std::lock_guard lock(mutex_);
        for (const MachineNumber machine : machines) {
            const Scene at = scene(machine, configuration, true);
            if (is_mirrored(at)) {
                if (views_[at.configuration].count(at.machine) == 0)
                    mirrored[at.configuration].push_back(at.machine);
                continue;
            }
            const Scene twin = twin_of(at);
            // Where the twin's own part was replaced, it is the scene's configuration that counts.
            distinct[twin.configuration].push_back(twin.machine);
            if (twin.machine != at.machine && views_[at.configuration].count(at.machine) == 0)
                twins.emplace_back(at, twin);
        }
    }
    for (const auto& [at, of_machines] : mirrored) {
        if (!simulate_mirrored(of_machines, at, stop, progress))
            return false;
    }
    std::shared_ptr<const SoundPoints> points;
    const auto simulate_one = [&](const Scene& at, DcSolver& solver) {
        const Machine machine = copy_of(at.machine);
        Scene before;
        {
            const std::lock_guard lock(mutex_);
            before = before_plugging(at);
        }
        const auto first = first_samples(views_, at);
        Views views = first == nullptr ? Views{} : *first;
        views.reserve(machine.weights.size());
        OperatingPoints of_machine;
        const auto unpressed = pressed ? views_before_pressing(at) : nullptr;
        for (std::size_t s = views.size(); s < machine.weights.size(); ++s) {
            // The button changes nothing of a machine that starts by itself.
            if (unpressed != nullptr && !sound_models_[s]->has(Habit::rests_until_pressed)) {
                views.push_back((*unpressed)[s]);
                continue;
            }
            // A charger that is not strained shows nothing of its make.
            if (has_parts_of_sample_before(machine, s) && !views.back().source_strained) {
                views.push_back(repeated(views.back()));
                continue;
            }
            CourseOptions options;
            options.sound = &(*points)[s];
            options.learned = &of_machine;
            views.push_back(
                look_at_sample(machine, at.configuration, before, static_cast<int>(s), options, solver));
        }
        return views;
    };
    for (const auto& [at, of_machines] : distinct) {
        // Pressed or not, held or not, a machine passes through the same states.
        points = sound_points(left_alone(at), deepest_of(of_machines), stop);
        if (points == nullptr || !simulate(views_, of_machines, at, true, simulate_one, stop, progress))
            return false;
    }
    for (const auto& [own, twin] : twins) {
        auto moved = std::make_shared<const Views>(
            moved_heat(*find(views_, twin.machine, twin.configuration, true), twin.machine, own.machine));
        const std::lock_guard lock(mutex_);
        keep<Views>(views_, own.configuration, own.machine, std::move(moved));
    }
    return true;
}

bool PredictionStore::simulate_ohms(const std::vector<MachineNumber>& machines,
                                    const BenchConfiguration& configuration,
                                    const std::function<bool()>& stop,
                                    const std::function<void(double)>& progress) {
    const Simulating going_on(*this);
    const auto simulate_one = [&](const Scene& at, DcSolver& solver) {
        const Machine machine = copy_of(at.machine);
        const auto first = first_samples(ohms_, at);
        NetOhms by_net = first == nullptr ? NetOhms(plan_->net_nodes.size()) : *first;
        for (std::size_t s = by_net.front().size(); s < machine.weights.size(); ++s) {
            if (has_parts_of_sample_before(machine, s)) {
                for (auto& of_net : by_net)
                    of_net.push_back(of_net.back());
                continue;
            }
            MachineModel model = sample_model(machine, static_cast<int>(s));
            model.configure(at.configuration);
            // One model serves all nets.
            for (std::size_t n = 0; n < by_net.size(); ++n)
                by_net[n].push_back(model.ohms_to_ground(static_cast<int>(n), solver));
        }
        return by_net;
    };
    return simulate(ohms_, machines, configuration, false, simulate_one, stop, progress);
}

bool PredictionStore::simulate_numbers(const std::vector<MachineNumber>& machines,
                                       const BenchConfiguration& configuration, const OffQuestion& question,
                                       const std::function<bool()>& stop) {
    const Simulating going_on(*this);
    Shelf<Numbers>* shelf = nullptr;
    {
        const std::lock_guard lock(mutex_);
        shelf = &numbers_when_off_[question];  // stays where it is: a map moves nothing
    }
    const auto simulate_one = [&](const Scene& at, DcSolver& solver) {
        const Machine machine = copy_of(at.machine);
        const auto first = first_samples(*shelf, at);
        Numbers numbers = first == nullptr ? Numbers{} : *first;
        for (std::size_t s = numbers.size(); s < machine.weights.size(); ++s) {
            if (has_parts_of_sample_before(machine, s)) {
                numbers.push_back(numbers.back());
                continue;
            }
            MachineModel model = sample_model(machine, static_cast<int>(s));
            model.configure(at.configuration);
            numbers.push_back(model.answer(question, solver));
        }
        return numbers;
    };
    return simulate(*shelf, machines, configuration, false, simulate_one, stop, {});
}

std::shared_ptr<const Numbers> PredictionStore::numbers(MachineNumber machine,
                                                        const BenchConfiguration& configuration,
                                                        const OffQuestion& question) const {
    const Shelf<Numbers>* shelf = nullptr;
    {
        const std::lock_guard lock(mutex_);
        const auto found = numbers_when_off_.find(question);
        if (found == numbers_when_off_.end())
            return nullptr;
        shelf = &found->second;
    }
    return find(*shelf, machine, configuration, false);
}

}  // namespace eh
