// SPDX-License-Identifier: GPL-3.0-or-later
// What each hypothesis predicts in each bench configuration: a list of hypotheses over a store of simulated
// machines.
//
// Columns are put together when first asked for and kept; what they need is simulated by the store, once for
// all tables over it. Safe to use from several threads.
#pragma once

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

    // Another number of the multimeter.
    std::shared_ptr<const NumberColumn> number(const BenchConfiguration& configuration,
                                               const OffQuestion& question,
                                               const std::function<bool()>& stop = {});

    // The column when all of it is known already, else nullptr: never simulates.
    [[nodiscard]] std::shared_ptr<const PoweredColumn> known_powered(
        const BenchConfiguration& configuration) const;
    [[nodiscard]] std::shared_ptr<const NumberColumn> known_ohms(const BenchConfiguration& configuration,
                                                                 int net) const;
    // What the machine without faults shows there, by sample; nullptr where it was not simulated.
    [[nodiscard]] std::shared_ptr<const Numbers> known_sound_ohms(const BenchConfiguration& configuration,
                                                                  int net) const;
    [[nodiscard]] std::shared_ptr<const NumberColumn> known_number(const BenchConfiguration& configuration,
                                                                   const OffQuestion& question) const;

  private:
    template <typename Asked>  // a net, for its ohms to ground, or an OffQuestion
    using NumberColumns = std::map<std::pair<BenchConfiguration, Asked>, std::shared_ptr<const NumberColumn>>;

    [[nodiscard]] bool may_change_part(const Hypothesis& hypothesis, int part) const;
    [[nodiscard]] bool may_change_contact(const Hypothesis& hypothesis, const BenchConfiguration& at,
                                          const OffQuestion& question) const;
    [[nodiscard]] std::shared_ptr<const Numbers> ohms_of(PredictionStore::MachineNumber machine,
                                                         const BenchConfiguration& at, int net) const;
    // The column among `columns`, put together where it is not there yet: `find` looks up the numbers of a
    // hypothesis, `expected` makes what they make one expect, `narrower` looks up the same column of the
    // narrower table.
    template <typename Asked, typename Find, typename Expect, typename Narrower>
    std::shared_ptr<const NumberColumn> known_numbers(NumberColumns<Asked>& columns,
                                                      const std::pair<BenchConfiguration, Asked>& key,
                                                      Find find, Expect expected, Narrower narrower) const;
    // What samples of such a number make one expect. `sound` are those of the sound machine.
    [[nodiscard]] ExpectedOfNumbers::Work work_of(const OffQuestion& question,
                                                  const std::shared_ptr<const Numbers>& sound) const;
    // Whether the faults of a hypothesis may change what answers a question: of a part by itself those in it,
    // of two nets with one part between them those at either net, and the multimeter's. What is farther away
    // moves the ohms between them by less than makers differ.
    [[nodiscard]] bool may_change(const Hypothesis& hypothesis, const BenchConfiguration& at,
                                  const OffQuestion& question) const;
    // The machine that a question is put to: that of the hypothesis, or the sound one where they may not.
    [[nodiscard]] PredictionStore::MachineNumber machine_asked(std::size_t hypothesis,
                                                               const BenchConfiguration& at,
                                                               const OffQuestion& question) const;
    // The sound machine in as many designs as the deepest of the hypotheses has.
    [[nodiscard]] PredictionStore::MachineNumber sound() const;
    void add_machine(const Hypothesis& hypothesis);

    std::shared_ptr<PredictionStore> store_;
    std::shared_ptr<PredictionTable> narrower_;  // over the first of the hypotheses; nullptr: none
    std::vector<Hypothesis> hypotheses_;
    std::vector<PredictionStore::MachineNumber> machines_;  // by hypothesis; sound for "none of these"
    std::vector<std::vector<double>> weights_;              // of samples, by hypothesis
    std::vector<SampleMask> counted_;
    mutable std::mutex mutex_;
    mutable std::map<BenchConfiguration, std::shared_ptr<const PoweredColumn>> powered_;
    mutable NumberColumns<int> ohms_;
    mutable NumberColumns<OffQuestion> numbers_;
};

}  // namespace eh
