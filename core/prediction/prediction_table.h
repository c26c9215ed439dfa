// SPDX-License-Identifier: GPL-3.0-or-later
// What each hypothesis predicts in each bench configuration: a list of hypotheses over a store of simulated
// machines.
//
// Columns are put together when first asked for and kept; what they need is simulated by the store, once for
// all tables over it. Safe to use from several threads.
#pragma once

#include <array>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <vector>

#include "core/prediction/expectations.h"
#include "core/prediction/hypothesis.h"
#include "core/prediction/prediction_store.h"

namespace eh {

using ExpectedOfViews = Expectations<Views>;
using ExpectedOfNumbers = Expectations<Numbers>;

// Views by hypothesis and sample; "none of these" has no samples. Expectations are those of the default
// accuracy.
class PoweredColumn {
  public:
    // `plan`, which outlives it, says how makers differ. `narrower` is the column of the same configuration
    // over the first of the same hypotheses, whose expectations serve here too; nullptr where there is none.
    PoweredColumn(const MachinePlan& plan, ExpectedOfViews::Things of_hypothesis,
                  std::vector<SampleMask> counted, std::shared_ptr<const PoweredColumn> narrower = nullptr)
        : plan_(&plan),
          of_hypothesis_(std::move(of_hypothesis)),
          counted_(std::move(counted)),
          narrower_(std::move(narrower)) {}
    const Views& operator[](std::size_t hypothesis) const { return *of_hypothesis_[hypothesis]; }
    [[nodiscard]] std::size_t size() const { return of_hypothesis_.size(); }

    // What the samples make one expect, by hypothesis; worked out at the first question and kept.
    [[nodiscard]] std::shared_ptr<const ExpectedOfViews> meter_volts() const;
    [[nodiscard]] std::shared_ptr<const ExpectedOfViews> meter_amps() const;
    [[nodiscard]] std::shared_ptr<const ExpectedOfViews> net_volts(int net) const;

  private:
    friend class PredictionTable;
    [[nodiscard]] std::shared_ptr<const ExpectedOfViews> expected(int number,
                                                                  const ExpectedOfViews::Work& work) const;

    const MachinePlan* plan_;
    ExpectedOfViews::Things of_hypothesis_;
    std::vector<SampleMask> counted_;
    std::shared_ptr<const PoweredColumn> narrower_;
    mutable std::mutex mutex_;
    mutable std::map<int, std::shared_ptr<const ExpectedOfViews>> expected_;  // by net; the meter's below 0
};

// One number of the multimeter (ohms of a net or through a part, volts in diode mode) by hypothesis and
// sample; "none of these" has no samples. Infinity is OL, NaN: no operating point was found.
class NumberColumn {
  public:
    // `expected` says what samples make one expect. `narrower`: see PoweredColumn.
    NumberColumn(const ExpectedOfNumbers::Things& of_hypothesis, const std::vector<SampleMask>& counted,
                 const ExpectedOfNumbers::Work& expected, const NumberColumn* narrower = nullptr);
    const Numbers& operator[](std::size_t hypothesis) const { return *of_hypothesis_[hypothesis]; }
    [[nodiscard]] std::size_t size() const { return of_hypothesis_.size(); }
    [[nodiscard]] const ExpectedOfNumbers& expected() const { return *expected_; }

  private:
    friend class PredictionTable;
    ExpectedOfNumbers::Things of_hypothesis_;
    std::shared_ptr<const ExpectedOfNumbers> expected_;
};

class PredictionTable {
  public:
    // Over a store of its own. Requires a plan that outlives the table.
    PredictionTable(const MachinePlan& plan, std::vector<Hypothesis> hypotheses,
                    PredictionOptions options = {});
    // Over a store that others use too.
    PredictionTable(std::shared_ptr<PredictionStore> store, std::vector<Hypothesis> hypotheses);
    // The hypotheses of `narrower`, maybe with other priors, and more: what is put together there serves
    // here too, and so do its sample weights. Requires `hypotheses` to begin with those of `narrower`.
    PredictionTable(const std::shared_ptr<PredictionTable>& narrower, std::vector<Hypothesis> hypotheses);

    [[nodiscard]] const MachinePlan& plan() const { return store_->plan(); }
    [[nodiscard]] const std::vector<Hypothesis>& hypotheses() const { return hypotheses_; }
    [[nodiscard]] const PredictionOptions& options() const { return store_->options(); }
    [[nodiscard]] const std::shared_ptr<PredictionStore>& store() const { return store_; }

    // How much each sample of a hypothesis counts before any reading, summing to 1.
    [[nodiscard]] const std::vector<double>& sample_weights(std::size_t hypothesis) const {
        return weights_[hypothesis];
    }
    // Which of them count at all, as the fault has it.
    [[nodiscard]] SampleMask counted(std::size_t hypothesis) const { return counted_[hypothesis]; }
    // Sets them. Requires as many as there are hypotheses and samples; not while others use the table.
    void set_sample_weights(std::vector<std::vector<double>> weights) { weights_ = std::move(weights); }

    // Views under power. `stop` is asked now and then; when it says true, nullptr is returned. `progress`
    // receives 0..1. Requires a port of the topology when the charger is connected.
    std::shared_ptr<const PoweredColumn> powered(const BenchConfiguration& configuration,
                                                 const std::function<bool()>& stop = {},
                                                 const std::function<void(double)>& progress = {});
    // Ohms to ground at a net with the machine off; infinity is OL. NaN where no operating point was found.
    // The first question about a configuration computes all its nets.
    std::shared_ptr<const NumberColumn> ohms(const BenchConfiguration& configuration, int net,
                                             const std::function<bool()>& stop = {});

    // Volts in diode mode at a net, and ohms through a part that was unplugged from what it stands between.
    std::shared_ptr<const NumberColumn> drops(const BenchConfiguration& configuration, int net,
                                              const std::function<bool()>& stop = {});
    std::shared_ptr<const NumberColumn> through(const BenchConfiguration& configuration, int block,
                                                const std::function<bool()>& stop = {});

    // The column when all of it is known already, else nullptr: never simulates.
    [[nodiscard]] std::shared_ptr<const PoweredColumn> known_powered(
        const BenchConfiguration& configuration) const;
    [[nodiscard]] std::shared_ptr<const NumberColumn> known_ohms(const BenchConfiguration& configuration,
                                                                 int net) const;
    // What the machine without faults shows there, by sample; nullptr where it was not simulated.
    [[nodiscard]] std::shared_ptr<const Numbers> known_sound_ohms(const BenchConfiguration& configuration,
                                                                  int net) const;
    [[nodiscard]] std::shared_ptr<const NumberColumn> known_drops(const BenchConfiguration& configuration,
                                                                  int net) const;
    [[nodiscard]] std::shared_ptr<const NumberColumn> known_through(const BenchConfiguration& configuration,
                                                                    int block) const;

  private:
    enum NumberKind { of_ohms, of_drops, of_through };
    using NumberKey = std::pair<BenchConfiguration, int>;
    using NumberColumns = std::map<NumberKey, std::shared_ptr<const NumberColumn>>;

    [[nodiscard]] std::shared_ptr<const Numbers> ohms_of(PredictionStore::MachineNumber machine,
                                                         const BenchConfiguration& at, int net) const;
    // The column of that number, put together with `find` where it is not there yet.
    template <typename Find>
    std::shared_ptr<const NumberColumn> known_numbers(NumberKind kind,
                                                      const BenchConfiguration& configuration, int number,
                                                      Find find,
                                                      const ExpectedOfNumbers::Work& expected) const;
    // The sound machine in as many designs as the deepest of the hypotheses has.
    [[nodiscard]] PredictionStore::MachineNumber sound() const;
    void add_machine(const Hypothesis& hypothesis);
    // By hypothesis: the machine, or the sound one where the part has no fault in it.
    [[nodiscard]] std::vector<PredictionStore::MachineNumber> machines_with_fault_at(int block) const;

    std::shared_ptr<PredictionStore> store_;
    std::shared_ptr<PredictionTable> narrower_;  // over the first of the hypotheses; nullptr: none
    std::vector<Hypothesis> hypotheses_;
    std::vector<PredictionStore::MachineNumber> machines_;  // by hypothesis; sound for "none of these"
    std::vector<std::vector<double>> weights_;              // of samples, by hypothesis
    std::vector<SampleMask> counted_;
    mutable std::mutex mutex_;
    mutable std::map<BenchConfiguration, std::shared_ptr<const PoweredColumn>> powered_;
    mutable std::array<NumberColumns, 3> numbers_;  // by NumberKind
};

}  // namespace eh
