#include "core/diagnosis/prediction_store.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cassert>
#include <cmath>
#include <numbers>
#include <numeric>
#include <optional>
#include <thread>
#include <tuple>

#include "core/machine/fault_reach.h"

namespace eh {
namespace {

// Does `work(index, solver)` for 0..count-1 on several threads. False when stopped.
template <typename Work>
bool spread_over_threads(std::size_t count, int threads, Work work, const std::function<bool()>& stop,
                         const std::function<void(double)>& progress) {
    std::atomic<std::size_t> next{0};
    std::atomic<std::size_t> done{0};
    std::atomic<bool> stopped{false};
    const auto take = [&](bool reports) {
        DcSolver solver;
        for (std::size_t i = next++; i < count && !stopped; i = next++) {
            work(i, solver);
            ++done;
            // One thread alone speaks to the caller's functions, which then need no locks.
            if (reports && stop && stop())
                stopped = true;
            if (reports && progress)
                progress(static_cast<double>(done) / static_cast<double>(count));
        }
    };
    std::vector<std::thread> helpers;
    for (int i = 1; i < threads && static_cast<std::size_t>(i) < count; ++i)
        helpers.emplace_back(take, false);
    take(true);
    for (std::thread& helper : helpers)
        helper.join();
    return !stopped;
}

// Nobody knows beforehand how the make of charger on the bench protects itself.
constexpr std::array makes{Protection::foldback, Protection::hiccup, Protection::latched};
constexpr int make_count = static_cast<int>(makes.size());

// A net, and how shorts of parts on it punch through.
using ShortedNet = std::tuple<int, double, double>;

// Where a fault is nothing but a short to ground that is drawn alike for all parts.
std::optional<ShortedNet> plain_short(const FaultSpec& fault, const PlanBlock& block) {
    if (fault.effects.size() != 1 || !drawn_alike(fault.effects.front()))
        return std::nullopt;
    const Effect& effect = fault.effects.front();
    return ShortedNet{block.pin_nodes.at(effect.pin), effect.knee_volts.median, effect.knee_volts.factor};
}

// Whether it matters much how severe they are.
bool draws_severity(const FaultCatalogue& catalogue, const std::vector<FaultInstance>& faults) {
    return std::any_of(faults.begin(), faults.end(), [&](const FaultInstance& fault) {
        const auto& effects = catalogue.find(fault.fault)->effects;
        return std::any_of(effects.begin(), effects.end(), [](const Effect& effect) {
            return effect.type == EffectType::shunt || effect.type == EffectType::series;
        });
    });
}

// Evenly over 0..1, any stretch of the sequence too (additive recurrence of the golden ratio, Weyl).
double evenly(int i) {
    const double turn = (i + 0.5) * std::numbers::phi;
    return turn - std::floor(turn);
}

}  // namespace

std::string PredictionStore::name_of(const std::vector<FaultInstance>& faults,
                                     const std::vector<int>& streams) {
    std::string name;
    for (std::size_t f = 0; f < faults.size(); ++f) {
        const FaultInstance& fault = faults[f];
        name += fault.fault + '@' + fault.block + '#' + std::to_string(streams[f]);
        if (fault.ohms)
            name += '=' + std::to_string(*fault.ohms);
        if (fault.knee_volts)
            name += '/' + std::to_string(*fault.knee_volts);
        name += ' ';
    }
    return name;
}

PredictionStore::PredictionStore(const MachinePlan& plan, PredictionOptions options)
    : plan_(&plan), options_(options) {
    assert(options_.samples > 0 && options_.threads > 0);
    for (int s = 0; s < options_.samples; ++s)
        sound_models_.emplace_back(*plan_, std::vector<FaultInstance>{}, sample_draw(s));
    machine({});
}

// What can be hidden by the shop's own charger and lead comes last, what draws a severity first: machines
// that show the same then are the same.
PredictionStore::MachineNumber PredictionStore::machine(std::vector<FaultInstance> faults) {
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
    return number_of(std::move(faults), std::move(streams));
}

PredictionStore::MachineNumber PredictionStore::number_of(std::vector<FaultInstance> faults,
                                                          std::vector<int> streams) const {
    return number_of(Machine{std::move(faults), std::move(streams), {}});
}

PredictionStore::MachineNumber PredictionStore::number_of(Machine machine) const {
    if (machine.faults.empty() && !machines_.empty())
        return sound;
    const auto [place, fresh] = numbers_.emplace(name_of(machine.faults, machine.streams), machines_.size());
    if (fresh) {
        if (machine.weights.empty())
            machine.weights = sample_weights(machine);
        machines_.push_back(std::move(machine));
    }
    return place->second;
}

std::vector<double> PredictionStore::sample_weights(const Machine& machine) const {
    std::vector<double> weights;
    double total = 0.0;
    const bool severe = draws_severity(plan_->knowledge().catalogue, machine.faults);
    for (int s = 0; s < options_.samples; ++s) {
        const bool empty = s / make_count % 2 == 0;
        // Only shorts are drawn from another spread than their own.
        const double drawn = severe ? sample_model(machine, s).weight() : 1.0;
        weights.push_back(drawn * (empty ? empty_pack_share : 1.0 - empty_pack_share));
        total += weights.back();
    }
    for (double& weight : weights)
        weight /= total;
    return weights;
}

std::vector<double> PredictionStore::weights(MachineNumber machine) const {
    const std::lock_guard lock(mutex_);
    return machines_[machine].weights;
}

PredictionStore::Machine PredictionStore::copy_of(MachineNumber machine) const {
    const std::lock_guard lock(mutex_);
    return machines_[machine];
}

PredictionStore::Scene PredictionStore::scene(MachineNumber number, const BenchConfiguration& asked,
                                              bool powered) const {
    Scene scene{sound, powered ? electrical_part(asked) : electrical_part(unpowered(asked))};
    BenchConfiguration& configuration = scene.configuration;
    std::vector<FaultInstance> showing;
    std::vector<int> streams;
    bool of_charger = false;
    bool of_lead = false;
    bool of_instruments = false;
    std::vector<std::string> replaced;
    std::vector<std::string> lent;
    for (std::size_t f = 0; f < machines_[number].faults.size(); ++f) {
        const FaultInstance& fault = machines_[number].faults[f];
        if (!fault_can_show(*plan_, fault, configuration, powered))
            continue;
        showing.push_back(fault);
        streams.push_back(machines_[number].streams[f]);
        const PlanBlock& block = plan_->blocks[static_cast<std::size_t>(plan_->find_block(fault.block))];
        const bool outside = !block.family.empty();
        const bool is_lead = outside && block.id == lead_block_id(block.family);
        of_lead = of_lead || is_lead;
        of_charger = of_charger || (outside && !is_lead);
        of_instruments = of_instruments || block.is_instrument();
        const auto keep = [&](const std::vector<std::string>& from, std::vector<std::string>& to) {
            if (std::binary_search(from.begin(), from.end(), fault.block))
                insert_block(to, fault.block);
        };
        keep(configuration.replaced, replaced);
        keep(configuration.lent, lent);
    }
    configuration.replaced = std::move(replaced);
    configuration.lent = std::move(lent);
    configuration.second_instruments = configuration.second_instruments && of_instruments;
    if (!of_charger)
        configuration.charger = Owner::bench;
    if (!of_lead)
        configuration.lead = Owner::bench;
    scene.machine = showing.size() == machines_[number].faults.size()
                        ? number
                        : number_of(std::move(showing), std::move(streams));
    return scene;
}

PredictionStore::Scene PredictionStore::twin_of(const Scene& scene) const {
    const Machine machine = machines_[scene.machine];
    const BenchConfiguration& configuration = scene.configuration;
    const auto stands = [&](const std::string& block) {
        const auto listed = [&](const std::vector<std::string>& list) {
            return std::binary_search(list.begin(), list.end(), block);
        };
        return !listed(configuration.removed) && !listed(configuration.replaced) &&
               !listed(configuration.lent);
    };
    if (machine.faults.empty() || machine.streams.front() != 0 || !stands(machine.faults.front().block))
        return scene;
    const FaultInstance& own = machine.faults.front();
    const auto short_at = [&](const FaultSpec& spec, const PlanBlock& block) -> std::optional<ShortedNet> {
        return spec.refit ? std::nullopt : plain_short(spec, block);
    };
    const auto& catalogue = plan_->knowledge().catalogue;
    const auto wanted = own.ohms || own.knee_volts
                            ? std::nullopt
                            : short_at(*catalogue.find(own.fault),
                                       plan_->blocks[static_cast<std::size_t>(plan_->find_block(own.block))]);
    if (!wanted)
        return scene;
    for (const PlanBlock& block : plan_->blocks) {
        const bool taken = std::any_of(machine.faults.begin() + 1, machine.faults.end(),
                                       [&](const FaultInstance& other) { return other.block == block.id; });
        if (taken || !stands(block.id) || block.is_outside())
            continue;
        for (const FaultSpec& spec : catalogue.faults) {
            if (spec.kind != block.kind->id || short_at(spec, block) != wanted)
                continue;
            std::vector<FaultInstance> faults = machine.faults;
            faults.front() = {spec.id, block.id};
            return {number_of(std::move(faults), machine.streams), scene.configuration};
        }
    }
    return scene;
}

Views PredictionStore::moved_heat(const Views& views, MachineNumber from, MachineNumber to) const {
    const std::lock_guard lock(mutex_);
    const auto block_of = [&](MachineNumber machine) {
        return static_cast<std::size_t>(plan_->find_block(machines_[machine].faults.front().block));
    };
    const std::size_t source = block_of(from);
    const std::size_t target = block_of(to);
    Views moved = views;
    for (PoweredView& view : moved) {
        const auto rise = [&](std::size_t block) {
            return view.first_shunt_watts *
                   static_cast<float>(plan_->blocks[block].kind->heat_kelvin_per_watt);
        };
        std::vector<float>& rises = view.rise_kelvin.own();
        rises[source] -= rise(source);
        rises[target] += rise(target);
    }
    return moved;
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

// Makes of charger change fastest from sample to sample, then the state of the pack, then whether shorts
// punch through, so that each is met with each of the others. Three samples that differ in the make alone
// have the same parts; faults of some severity, which bring the make out, have each their own.
PartDraw PredictionStore::sample_draw(int sample) const {
    const int parts = sample / make_count;
    PartDraw draw;
    draw.typical = false;
    // The same sound parts for every machine: differences between machines are then the faults' own.
    draw.seed = options_.seed + static_cast<std::uint64_t>(parts);
    draw.protection = makes[static_cast<std::size_t>(sample % make_count)];
    draw.pack_empty = parts % 2 == 0;
    draw.alike_punching_through = parts / 2 % 2 != 0;
    draw.tolerance_factor = options_.tolerance_factor;
    return draw;
}

MachineModel PredictionStore::sample_model(const Machine& machine, int sample) const {
    PartDraw draw = sample_draw(sample);
    const bool severe = draws_severity(plan_->knowledge().catalogue, machine.faults);
    draw.severity = evenly(severe ? sample : sample / make_count);
    draw.streams = machine.streams;
    return {sound_models_[static_cast<std::size_t>(sample)], machine.faults, draw};
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
        [&](std::size_t i, DcSolver& solver) {
            const Scene& at = missing[i];
            auto kept = std::make_shared<const Kept>(simulate_one(at, solver));
            const std::lock_guard lock(mutex_);
            shelf[at.configuration].emplace(at.machine, std::move(kept));
        },
        stop, progress);
}

std::shared_ptr<const PredictionStore::SoundPoints> PredictionStore::sound_points(
    const BenchConfiguration& configuration) {
    Scene at;
    {
        const std::lock_guard lock(mutex_);
        at = scene(sound, configuration, true);
        if (const auto known = sound_points_.find(at.configuration); known != sound_points_.end())
            return known->second;
    }
    auto points = std::make_shared<SoundPoints>(static_cast<std::size_t>(options_.samples));
    Views views;
    DcSolver solver;
    for (int s = 0; s < options_.samples; ++s) {
        MachineModel model = sample_model(Machine{}, s);
        CourseOptions options;
        options.learned = &(*points)[static_cast<std::size_t>(s)];
        views.push_back(look_at(model, at.configuration, solver, options));
    }
    const std::lock_guard lock(mutex_);
    if (!is_mirrored(at))
        views_[at.configuration].emplace(sound, std::make_shared<const Views>(std::move(views)));
    return sound_points_.emplace(at.configuration, std::move(points)).first->second;
}

bool PredictionStore::is_mirrored(const Scene& scene) const {
    const BenchConfiguration& configuration = scene.configuration;
    if (!configuration.charger_connected || configuration.side != PlugSide::b)
        return false;
    const auto twins = plug_side_nodes(*plan_, plan_->port_index(configuration.port));
    const auto& faults = machines_[scene.machine].faults;
    return !twins.empty() && std::none_of(faults.begin(), faults.end(), [&](const FaultInstance& fault) {
        return std::any_of(twins.begin(), twins.end(), [&](const auto& pair) {
            return fault_touches(*plan_, fault, pair.first) || fault_touches(*plan_, fault, pair.second);
        });
    });
}

bool PredictionStore::simulate_mirrored(const std::vector<MachineNumber>& machines,
                                        const BenchConfiguration& configuration,
                                        const std::function<bool()>& stop,
                                        const std::function<void(double)>& progress) {
    BenchConfiguration other = configuration;
    other.side = PlugSide::a;
    if (!simulate_views(machines, other, stop, progress))
        return false;
    std::vector<std::pair<std::size_t, std::size_t>> nets;
    for (const auto& [a, b] : plug_side_nodes(*plan_, plan_->port_index(configuration.port))) {
        const auto net_at = [&](int node) {
            return static_cast<std::size_t>(
                std::find(plan_->net_nodes.begin(), plan_->net_nodes.end(), node) - plan_->net_nodes.begin());
        };
        if (net_at(a) < plan_->net_nodes.size() && net_at(b) < plan_->net_nodes.size())
            nets.emplace_back(net_at(a), net_at(b));
    }
    for (const MachineNumber machine : machines) {
        auto turned = std::make_shared<Views>(*views(machine, other));
        for (PoweredView& view : *turned) {
            std::vector<float>& volts = view.net_volts.own();
            std::vector<float>& ohms = view.net_ohms.own();
            for (const auto& [a, b] : nets) {
                std::swap(volts[a], volts[b]);
                std::swap(ohms[a], ohms[b]);
            }
        }
        const std::lock_guard lock(mutex_);
        views_[configuration].emplace(machine, std::move(turned));
    }
    return true;
}

bool PredictionStore::simulate_views(const std::vector<MachineNumber>& machines,
                                     const BenchConfiguration& configuration,
                                     const std::function<bool()>& stop,
                                     const std::function<void(double)>& progress) {
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
        Views views;
        OperatingPoints of_machine;
        const bool same_parts = !draws_severity(plan_->knowledge().catalogue, machine.faults);
        for (int s = 0; s < options_.samples; ++s) {
            // A charger that is not strained shows nothing of its make.
            if (same_parts && s % make_count != 0 && !views.back().source_strained) {
                views.push_back(views.back());
                views.back().repeats = true;
                continue;
            }
            MachineModel model = sample_model(machine, s);
            CourseOptions options;
            options.sound = &(*points)[static_cast<std::size_t>(s)];
            options.learned = &of_machine;
            views.push_back(look_at(model, at.configuration, solver, options));
        }
        return views;
    };
    for (const auto& [at, of_machines] : distinct) {
        points = sound_points(at);
        if (!simulate(views_, of_machines, at, true, simulate_one, stop, progress))
            return false;
    }
    for (const auto& [own, twin] : twins) {
        auto moved = std::make_shared<const Views>(
            moved_heat(*find(views_, twin.machine, twin.configuration, true), twin.machine, own.machine));
        const std::lock_guard lock(mutex_);
        views_[own.configuration].emplace(own.machine, std::move(moved));
    }
    return true;
}

bool PredictionStore::simulate_ohms(const std::vector<MachineNumber>& machines,
                                    const BenchConfiguration& configuration,
                                    const std::function<bool()>& stop,
                                    const std::function<void(double)>& progress) {
    const auto simulate_one = [&](const Scene& at, DcSolver& solver) {
        const Machine machine = copy_of(at.machine);
        NetOhms by_net(plan_->net_nodes.size());
        for (int s = 0; s < options_.samples; ++s) {
            MachineModel model = sample_model(machine, s);
            model.configure(at.configuration);
            // One model serves all nets.
            for (std::size_t n = 0; n < by_net.size(); ++n)
                by_net[n].push_back(model.ohms_to_ground(static_cast<int>(n), solver));
        }
        return by_net;
    };
    return simulate(ohms_, machines, configuration, false, simulate_one, stop, progress);
}

template <typename NumberOf>
bool PredictionStore::simulate_numbers(std::map<int, Shelf<Numbers>>& shelves, int number,
                                       const std::vector<MachineNumber>& machines,
                                       const BenchConfiguration& configuration, NumberOf number_of,
                                       const std::function<bool()>& stop) {
    const auto simulate_one = [&](const Scene& at, DcSolver& solver) {
        const Machine machine = copy_of(at.machine);
        Numbers numbers;
        for (int s = 0; s < options_.samples; ++s) {
            MachineModel model = sample_model(machine, s);
            model.configure(at.configuration);
            numbers.push_back(number_of(model, solver));
        }
        return numbers;
    };
    Shelf<Numbers>* shelf = nullptr;
    {
        const std::lock_guard lock(mutex_);
        shelf = &shelves[number];  // stays where it is: a map moves nothing
    }
    return simulate(*shelf, machines, configuration, false, simulate_one, stop, {});
}

bool PredictionStore::simulate_drops(const std::vector<MachineNumber>& machines,
                                     const BenchConfiguration& configuration, int net,
                                     const std::function<bool()>& stop) {
    return simulate_numbers(
        drops_, net, machines, configuration,
        [net](const MachineModel& model, DcSolver& solver) { return model.diode_drop(net, solver); }, stop);
}

bool PredictionStore::simulate_through(const std::vector<MachineNumber>& machines,
                                       const BenchConfiguration& configuration, int block,
                                       const std::function<bool()>& stop) {
    return simulate_numbers(
        through_, block, machines, configuration,
        [block](const MachineModel& model, const DcSolver&) { return model.through_ohms(block); }, stop);
}

const PredictionStore::Shelf<Numbers>* PredictionStore::shelf_of(const std::map<int, Shelf<Numbers>>& shelves,
                                                                 int number) const {
    const std::lock_guard lock(mutex_);
    const auto found = shelves.find(number);
    return found == shelves.end() ? nullptr : &found->second;
}

std::shared_ptr<const Numbers> PredictionStore::drops(MachineNumber machine,
                                                      const BenchConfiguration& configuration,
                                                      int net) const {
    const auto* shelf = shelf_of(drops_, net);
    return shelf == nullptr ? nullptr : find(*shelf, machine, configuration, false);
}

std::shared_ptr<const Numbers> PredictionStore::through(MachineNumber machine,
                                                        const BenchConfiguration& configuration,
                                                        int block) const {
    const auto* shelf = shelf_of(through_, block);
    return shelf == nullptr ? nullptr : find(*shelf, machine, configuration, false);
}

}  // namespace eh
