// Simulated machines and what was seen of them: the slow part of the reasoning, done once.
//
// A machine is a set of faults, drawn in a number of samples over part tolerances and severities. What is
// kept is keyed by the part of the bench configuration that reaches the machine's faults, so that swapping
// the charger, say, costs nothing for a machine whose charger is sound. Safe to use from several threads.
#pragma once

#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <unordered_map>
#include <vector>

#include "core/machine/observation.h"

namespace eh {

struct PredictionOptions {
    int samples = 24;  // draws per machine
    std::uint64_t seed =
        20240501;  // of the draws; the same for all machines, so that samples belong together
    int threads = 2;
    double tolerance_factor = 1.0;  // of the parts, see PartDraw
};

using Views = std::vector<PoweredView>;            // by sample
using NetOhms = std::vector<std::vector<double>>;  // [net][sample]; infinity is OL, NaN: no operating point

class PredictionStore {
  public:
    using MachineNumber = std::size_t;
    static constexpr MachineNumber sound = 0;

    // Requires a plan that outlives the store.
    explicit PredictionStore(const MachinePlan& plan, PredictionOptions options = {});

    [[nodiscard]] const MachinePlan& plan() const { return *plan_; }
    [[nodiscard]] const PredictionOptions& options() const { return options_; }

    // The number of the machine with these faults, new or known; no faults: the sound one. The order of the
    // faults plays no role. Requires faults and blocks of the plan.
    MachineNumber machine(std::vector<FaultInstance> faults);

    // How much each sample of a machine counts, summing to 1.
    [[nodiscard]] std::vector<double> weights(MachineNumber machine) const;

    // Simulates what is missing for these machines, on all threads. `stop` is asked now and then; false when
    // it said true. `progress` receives 0..1. Requires a port of the topology when the charger is connected.
    bool simulate_views(const std::vector<MachineNumber>& machines, const BenchConfiguration& configuration,
                        const std::function<bool()>& stop = {},
                        const std::function<void(double)>& progress = {});
    bool simulate_ohms(const std::vector<MachineNumber>& machines, const BenchConfiguration& configuration,
                       const std::function<bool()>& stop = {},
                       const std::function<void(double)>& progress = {});

    // Views of the sound machine: some tens of milliseconds when they are not known yet.
    std::shared_ptr<const Views> sound_views(const BenchConfiguration& configuration);

    // What is there already, else nullptr.
    [[nodiscard]] std::shared_ptr<const Views> views(MachineNumber machine,
                                                     const BenchConfiguration& configuration) const;
    [[nodiscard]] std::shared_ptr<const NetOhms> ohms(MachineNumber machine,
                                                      const BenchConfiguration& configuration) const;

  private:
    // Where the sound machine stands in each of its states, by sample: where solving starts.
    using SoundPoints = std::vector<OperatingPoints>;
    template <typename Kept>
    using Shelf =
        std::map<BenchConfiguration, std::unordered_map<MachineNumber, std::shared_ptr<const Kept>>>;
    // A machine in a configuration, told apart from others only where its faults can tell.
    struct Scene {
        MachineNumber machine = sound;
        BenchConfiguration configuration;
    };
    [[nodiscard]] Scene scene(MachineNumber machine, const std::vector<FaultInstance>& faults,
                              const BenchConfiguration& configuration, bool powered) const;

    template <typename Kept>
    [[nodiscard]] std::shared_ptr<const Kept> find(const Shelf<Kept>& shelf, MachineNumber machine,
                                                   const BenchConfiguration& configuration,
                                                   bool powered) const;
    template <typename Kept, typename Simulate>
    bool simulate(Shelf<Kept>& shelf, const std::vector<MachineNumber>& machines,
                  const BenchConfiguration& configuration, bool powered, Simulate simulate_one,
                  const std::function<bool()>& stop, const std::function<void(double)>& progress);
    [[nodiscard]] std::vector<double> sample_weights(const std::vector<FaultInstance>& faults) const;
    [[nodiscard]] std::vector<FaultInstance> faults_of(MachineNumber machine) const;
    [[nodiscard]] MachineModel sample_model(const std::vector<FaultInstance>& faults, int sample) const;
    // Computes the sound machine's views when its points are not there yet.
    std::shared_ptr<const SoundPoints> sound_points(const BenchConfiguration& configuration);

    const MachinePlan* plan_;
    PredictionOptions options_;
    mutable std::mutex mutex_;  // guards everything below; held only to look up and to put away
    std::vector<std::vector<FaultInstance>> machines_;
    std::vector<std::vector<double>> weights_;  // of samples, by machine
    std::map<std::string, MachineNumber> numbers_;
    Shelf<Views> views_;
    Shelf<NetOhms> ohms_;
    std::map<BenchConfiguration, std::shared_ptr<const SoundPoints>> sound_points_;
};

}  // namespace eh
