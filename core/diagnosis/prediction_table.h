// What each hypothesis predicts in each bench configuration, as samples over part tolerances and severities.
//
// Columns are computed when first asked for and kept; the slow part of the reasoning is here and nowhere
// else. Safe to use from several threads; two that ask for the same new column both compute it and one result
// is kept.
#pragma once

#include <atomic>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <vector>

#include "core/diagnosis/hypothesis.h"
#include "core/machine/observation.h"

namespace eh {

struct PredictionOptions {
    int samples = 12;               // draws per hypothesis
    std::uint64_t seed = 20240501;  // of the draws; the same for all columns, so that samples belong together
    int threads = 2;
};

// [hypothesis][sample]; "none of these" has no samples.
using PoweredColumn = std::vector<std::vector<PoweredView>>;
using OhmsColumn = std::vector<std::vector<double>>;

class PredictionTable {
  public:
    // Requires a plan that outlives the table.
    PredictionTable(const MachinePlan& plan, std::vector<Hypothesis> hypotheses,
                    PredictionOptions options = {});

    [[nodiscard]] const MachinePlan& plan() const { return *plan_; }
    [[nodiscard]] const std::vector<Hypothesis>& hypotheses() const { return hypotheses_; }
    [[nodiscard]] const PredictionOptions& options() const { return options_; }

    // Views under power. `stop` is asked now and then; when it says true, nullptr is returned and nothing
    // kept. `progress` receives 0..1. Requires a port of the topology when the charger is connected.
    std::shared_ptr<const PoweredColumn> powered(const BenchConfiguration& configuration,
                                                 const std::function<bool()>& stop = {},
                                                 const std::function<void(double)>& progress = {});
    // Ohms to ground at a net with the machine off; infinity is OL. NaN where no operating point was found.
    // The first question about a configuration computes all its nets.
    std::shared_ptr<const OhmsColumn> ohms(const BenchConfiguration& configuration, int net,
                                           const std::function<bool()>& stop = {});

    // Views of the sound machine alone: from the column when it is known, else computed here, some tens of
    // milliseconds, and not kept.
    std::vector<PoweredView> sound_views(const BenchConfiguration& configuration) const;

    // The column when it is there already, else nullptr: never computes.
    [[nodiscard]] std::shared_ptr<const PoweredColumn> known_powered(
        const BenchConfiguration& configuration) const;
    [[nodiscard]] std::shared_ptr<const OhmsColumn> known_ohms(const BenchConfiguration& configuration,
                                                               int net) const;

  private:
    using OhmsKey = std::pair<BenchConfiguration, int>;
    template <typename Column, typename Fill>
    bool fill(Column& column, Fill fill, const std::function<bool()>& stop,
              const std::function<void(double)>& progress) const;
    [[nodiscard]] MachineModel sample_model(std::size_t hypothesis, int sample) const;
    // Operating points of the sound machine in a configuration, by sample.
    using SoundPoints = std::vector<OperatingPoints>;
    // With `learn` the points are filled, otherwise they are used.
    [[nodiscard]] std::vector<PoweredView> powered_samples(std::size_t hypothesis,
                                                           const BenchConfiguration& configuration,
                                                           DcSolver& solver, SoundPoints& points,
                                                           bool learn) const;
    // Ohms of every net: [net][sample].
    [[nodiscard]] std::vector<std::vector<double>> ohms_samples(std::size_t hypothesis,
                                                                const BenchConfiguration& configuration,
                                                                DcSolver& solver) const;
    // Whether the hypothesis changes anything in this configuration; when not, it is the sound machine.
    [[nodiscard]] bool differs(std::size_t hypothesis, const BenchConfiguration& configuration,
                               bool powered) const;

    const MachinePlan* plan_;
    std::vector<Hypothesis> hypotheses_;
    PredictionOptions options_;
    mutable std::mutex mutex_;
    std::map<BenchConfiguration, std::shared_ptr<const PoweredColumn>> powered_;
    std::map<OhmsKey, std::shared_ptr<const OhmsColumn>> ohms_;
};

}  // namespace eh
