// SPDX-License-Identifier: GPL-3.0-or-later
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

#include "core/base/thread_pool.h"
#include "core/machine/simulation/observation.h"
#include "core/prediction/design_samples.h"
#include "core/prediction/kept_bytes.h"
#include "core/prediction/sample_spread.h"

namespace eh {

// How many samples of a store share one design: one for each make of charger, next to each other.
inline constexpr int samples_of_design = 3;

// Into how many designs so many samples go; the last of them may lack makes of charger.
constexpr std::size_t designs_of(std::size_t samples) {
    return (samples + samples_of_design - 1) / samples_of_design;
}

struct PredictionOptions {
    int samples = 48;  // draws per machine: each design with each make of charger
    // Designs of machines that are looked at closely (Depth::many_designs); those of the others are the
    // first.
    std::size_t many_designs = 256;
    std::uint64_t seed =
        20240501;  // of the draws; the same for all machines, so that samples belong together
    int threads = machine_threads();
    // What may be kept of machines that only some job asked for (several faults, many designs, a fault of
    // given severity). Beyond it all of that is forgotten, and simulated again where it is asked for.
    std::size_t most_spare_bytes = std::size_t{128} << 20;
    double tolerance_factor = 1.0;  // of the parts, see PartDraw
    // Which; none: designs as they are met. Where there are fewer than samples take, there are fewer samples.
    std::vector<DesignSample> designs = {};

    // Designs that every machine is drawn in.
    [[nodiscard]] std::size_t few_designs() const { return designs_of(static_cast<std::size_t>(samples)); }
};

class PredictionStore {
  public:
    using MachineNumber = std::size_t;
    static constexpr MachineNumber sound = 0;  // in few designs

    // Requires a plan that outlives the store.
    explicit PredictionStore(const MachinePlan& plan, PredictionOptions options = {});

    [[nodiscard]] const MachinePlan& plan() const { return *plan_; }
    [[nodiscard]] const PredictionOptions& options() const { return options_; }

    // The number of the machine with these faults, new or known; no faults: the sound one. The order of the
    // faults plays no role. Requires faults and blocks of the plan.
    // A machine of several faults draws each of them as if it were alone, so that it shares what was
    // simulated of those that show. In many designs its first samples are those that it has in few.
    MachineNumber machine(std::vector<FaultInstance> faults, Depth depth = Depth::few_designs);

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

    // The same for one of the other numbers of the multimeter.
    bool simulate_numbers(const std::vector<MachineNumber>& machines, const BenchConfiguration& configuration,
                          const OffQuestion& question, const std::function<bool()>& stop = {});

    // How much is kept that may be forgotten, about.
    [[nodiscard]] std::size_t spare_bytes() const;

    // Views of the sound machine: some tens of milliseconds when they are not known yet.
    std::shared_ptr<const Views> sound_views(const BenchConfiguration& configuration);

    // What is there already, else nullptr.
    [[nodiscard]] std::shared_ptr<const Views> views(MachineNumber machine,
                                                     const BenchConfiguration& configuration) const;
    [[nodiscard]] std::shared_ptr<const NetOhms> ohms(MachineNumber machine,
                                                      const BenchConfiguration& configuration) const;
    [[nodiscard]] std::shared_ptr<const Numbers> numbers(MachineNumber machine,
                                                         const BenchConfiguration& configuration,
                                                         const OffQuestion& question) const;

  private:
    friend class PredictionArchive;
    // Where the sound machine stands in each of its states, by sample: where solving starts.
    using SoundPoints = std::vector<OperatingPoints>;
    template <typename Kept>
    using Shelf =
        std::map<BenchConfiguration, std::unordered_map<MachineNumber, std::shared_ptr<const Kept>>>;
    struct Machine {
        std::vector<FaultInstance> faults;
        std::vector<int> streams;  // of draws, by fault
        Depth depth = Depth::few_designs;
        std::vector<double> weights = {};  // of samples
    };
    // A machine in a configuration, told apart from others only where its faults can tell.
    struct Scene {
        MachineNumber machine = sound;
        BenchConfiguration configuration;
    };
    // These call for mutex_ to be held.
    // The number of a machine, whose weights are worked out where it is new and has none.
    MachineNumber number_of(Machine machine) const;
    static std::string name_of(const Machine& machine);
    [[nodiscard]] std::size_t samples_of(Depth depth) const;
    [[nodiscard]] Depth deepest_of(const std::vector<MachineNumber>& machines) const;
    // Draws the sound machines that one of this depth is made from.
    void draw_sound_models(Depth depth) const;
    [[nodiscard]] Scene scene(MachineNumber machine, const BenchConfiguration& configuration,
                              bool powered) const;
    // Whether holding the plug to its good side may change what is seen of them.
    [[nodiscard]] bool changes_when_held(const std::vector<FaultInstance>& faults) const;
    // A machine that differs only in which part of a net is shorted, the same one for all of those; the
    // scene itself where there is none.
    [[nodiscard]] Scene twin_of(const Scene& scene) const;
    // A scene before the plug goes in.
    [[nodiscard]] Scene before_plugging(const Scene& scene) const;
    // Whether turning the plug over shows nothing but what is on the two signal lines, swapped.
    [[nodiscard]] bool is_mirrored(const Scene& scene) const;
    bool simulate_mirrored(const std::vector<MachineNumber>& machines,
                           const BenchConfiguration& configuration, const std::function<bool()>& stop,
                           const std::function<void(double)>& progress);
    // The views of a twin as those of a machine: with the heat of the short in its own part.
    [[nodiscard]] Views moved_heat(const Views& views, MachineNumber from, MachineNumber to) const;

    template <typename Kept>
    [[nodiscard]] std::shared_ptr<const Kept> find(const Shelf<Kept>& shelf, MachineNumber machine,
                                                   const BenchConfiguration& configuration,
                                                   bool powered) const;
    // A simulation that goes on as long as it lives. Before it begins, what is spare is forgotten where there
    // is too much of it and nothing else is being simulated.
    class Simulating {
      public:
        explicit Simulating(PredictionStore& store);
        ~Simulating();
        Simulating(const Simulating&) = delete;
        Simulating& operator=(const Simulating&) = delete;

      private:
        PredictionStore& store_;
    };
    // These call for mutex_ to be held.
    [[nodiscard]] bool is_spare(MachineNumber machine) const;
    void forget_spare();
    template <typename Kept>
    void keep(Shelf<Kept>& shelf, const BenchConfiguration& configuration, MachineNumber machine,
              std::shared_ptr<const Kept> kept) {
        if (is_spare(machine))
            spare_bytes_ += bytes_of(*kept);
        shelf[configuration].emplace(machine, std::move(kept));
    }
    bool simulate_views_now(const std::vector<MachineNumber>& machines,
                            const BenchConfiguration& configuration, const std::function<bool()>& stop,
                            const std::function<void(double)>& progress);
    // What the shelf has of the same machine in few designs: the first of its samples. nullptr where there is
    // nothing, or where it has no more designs than those.
    template <typename Kept>
    [[nodiscard]] std::shared_ptr<const Kept> first_samples(const Shelf<Kept>& shelf, const Scene& at) const;
    template <typename Kept, typename Simulate>
    bool simulate(Shelf<Kept>& shelf, const std::vector<MachineNumber>& machines,
                  const BenchConfiguration& configuration, bool powered, Simulate simulate_one,
                  const std::function<bool()>& stop, const std::function<void(double)>& progress);
    [[nodiscard]] std::vector<double> sample_weights(const Machine& machine) const;
    [[nodiscard]] Machine copy_of(MachineNumber machine) const;
    [[nodiscard]] PartDraw sample_draw(int sample) const;
    // How severe the fault is that draws its values first.
    [[nodiscard]] SeverityDraw severity_of(const Machine& machine, int sample) const;
    [[nodiscard]] MachineModel sample_model(const Machine& machine, int sample) const;
    // Whether it differs from the sample before it in the make of charger alone.
    [[nodiscard]] bool has_parts_of_sample_before(const Machine& machine, std::size_t sample) const;
    // What a sample of a machine shows, which stands as in the scene `before` until the plug goes in.
    [[nodiscard]] PoweredView look_at_sample(const Machine& machine, const BenchConfiguration& configuration,
                                             const Scene& before, int sample, CourseOptions options,
                                             DcSolver& solver);
    // What was simulated of a scene before the power button was pressed in it; nullptr: nothing.
    [[nodiscard]] std::shared_ptr<const Views> views_before_pressing(Scene at) const;
    // Computes the sound machine's views when its points are not there yet. nullptr when stopped.
    std::shared_ptr<const SoundPoints> sound_points(const BenchConfiguration& configuration, Depth depth,
                                                    const std::function<bool()>& stop);

    const MachinePlan* plan_;
    PredictionOptions options_;
    // By sample; nullptr where no machine of so many designs was asked for yet. What is there never changes,
    // and it is drawn, with mutex_ held, before anybody has the number of a machine that needs it.
    mutable std::vector<std::unique_ptr<const MachineModel>> sound_models_;
    mutable std::mutex mutex_;  // guards everything below; held only to look up and to put away
    int simulations_ = 0;       // going on now
    std::size_t spare_bytes_ = 0;
    mutable std::vector<Machine> machines_;
    mutable std::map<std::string, MachineNumber> numbers_;
    Shelf<Views> views_;
    Shelf<NetOhms> ohms_;
    std::map<OffQuestion, Shelf<Numbers>> numbers_when_off_;
    std::map<std::pair<BenchConfiguration, Depth>, std::shared_ptr<const SoundPoints>> sound_points_;
    std::map<BenchConfiguration, std::map<std::pair<MachineNumber, int>, StandingMachine>>
        standing_;  // by machine and sample
};

}  // namespace eh
