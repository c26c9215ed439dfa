// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/prediction/prediction_table.h"

#include <algorithm>
#include <stdexcept>

#include "core/machine/model/fault_reach.h"
#include "core/machine/model/plug_contacts.h"

namespace eh {
namespace {

// What the store has of each machine; nothing for "none of these". Empty when a machine is missing.
// `column` holds what is known already of the first ones.
template <typename Kept, typename Find>
std::vector<std::shared_ptr<const Kept>> gather(const std::vector<Hypothesis>& hypotheses,
                                                std::vector<std::shared_ptr<const Kept>> column,
                                                const Kept& nothing, Find find) {
    column.reserve(hypotheses.size());
    for (std::size_t h = column.size(); h < hypotheses.size(); ++h) {
        auto kept = hypotheses[h].kind == HypothesisKind::none_of_these
                        ? std::make_shared<const Kept>(nothing)
                        : find(h);
        if (kept == nullptr)
            return {};
        column.push_back(std::move(kept));
    }
    return column;
}

constexpr int meter_volts_number = -1;
constexpr int meter_amps_number = -2;

}  // namespace

std::shared_ptr<const ExpectedOfViews> PoweredColumn::expected(int number,
                                                               const ExpectedOfViews::Work& work) const {
    const std::lock_guard lock(mutex_);
    auto& expected = expected_[number];
    if (expected == nullptr)
        expected = std::make_shared<const ExpectedOfViews>(
            of_hypothesis_, counted_, work,
            narrower_ == nullptr ? nullptr : narrower_->expected(number, work));
    return expected;
}

std::shared_ptr<const ExpectedOfViews> PoweredColumn::meter_volts() const {
    return expected(meter_volts_number,
                    [](const Views& v, SampleMask m) { return expected_meter_volts(v, {}, m); });
}

std::shared_ptr<const ExpectedOfViews> PoweredColumn::meter_amps() const {
    return expected(meter_amps_number,
                    [amps_ln = plan_->knowledge().variety.amps_ln](const Views& v, SampleMask m) {
                        return expected_meter_amps(v, {}, m, amps_ln);
                    });
}

std::shared_ptr<const ExpectedOfViews> PoweredColumn::net_volts(int net) const {
    const NetVariety variety = plan_->net_variety[static_cast<std::size_t>(net)];
    return expected(net, [net, variety](const Views& v, SampleMask m) {
        return expected_net_volts(v, net, {}, m, variety);
    });
}

NumberColumn::NumberColumn(const ExpectedOfNumbers::Things& of_hypothesis,
                           const std::vector<SampleMask>& counted, const ExpectedOfNumbers::Work& expected,
                           const NumberColumn* narrower)
    : of_hypothesis_(of_hypothesis),
      expected_(std::make_shared<const ExpectedOfNumbers>(
          of_hypothesis, counted, expected, narrower == nullptr ? nullptr : narrower->expected_)) {}

PredictionTable::PredictionTable(const MachinePlan& plan, std::vector<Hypothesis> hypotheses,
                                 PredictionOptions options)
    : PredictionTable(std::make_shared<PredictionStore>(plan, std::move(options)), std::move(hypotheses)) {}

PredictionTable::PredictionTable(std::shared_ptr<PredictionStore> store, std::vector<Hypothesis> hypotheses)
    : store_(std::move(store)), hypotheses_(std::move(hypotheses)) {
    machines_.reserve(hypotheses_.size());
    weights_.reserve(hypotheses_.size());
    for (const Hypothesis& hypothesis : hypotheses_)
        add_machine(hypothesis);
}

PredictionTable::PredictionTable(const std::shared_ptr<PredictionTable>& narrower,
                                 std::vector<Hypothesis> hypotheses)
    : store_(narrower->store_),
      narrower_(narrower),
      hypotheses_(std::move(hypotheses)),
      machines_(narrower->machines_),
      weights_(narrower->weights_),
      counted_(narrower->counted_) {
    for (std::size_t h = machines_.size(); h < hypotheses_.size(); ++h)
        add_machine(hypotheses_[h]);
}

void PredictionTable::add_machine(const Hypothesis& hypothesis) {
    machines_.push_back(store_->machine(hypothesis.faults, hypothesis.depth));
    weights_.push_back(store_->weights(machines_.back()));
    counted_.push_back(counted_samples(weights_.back()));
}

PredictionStore::MachineNumber PredictionTable::sound() const {
    const bool deep = std::any_of(hypotheses_.begin(), hypotheses_.end(), [](const Hypothesis& hypothesis) {
        return hypothesis.depth == Depth::many_designs;
    });
    return store_->machine({}, deep ? Depth::many_designs : Depth::few_designs);
}

namespace {

// The column once what it needs was simulated; nullptr when stopped. What another thread's question made the
// store forget meanwhile is simulated again, but not for ever: a column that is never found is a mistake of
// this program, which must be said and not waited for.
template <typename Simulate, typename Known>
auto once_known(Simulate simulate, Known known) -> decltype(known()) {
    constexpr int most_tries = 20;
    for (int tries = 0; tries < most_tries; ++tries) {
        if (!simulate())
            return nullptr;
        if (auto column = known())
            return column;
    }
    throw std::logic_error("what this bench shows was simulated and cannot be found again");
}

}  // namespace

std::shared_ptr<const PoweredColumn> PredictionTable::powered(const BenchConfiguration& configuration,
                                                              const std::function<bool()>& stop,
                                                              const std::function<void(double)>& progress) {
    if (auto known = known_powered(configuration))
        return known;
    return once_known([&] { return store_->simulate_views(machines_, configuration, stop, progress); },
                      [&] { return known_powered(configuration); });
}

std::shared_ptr<const NumberColumn> PredictionTable::ohms(const BenchConfiguration& configuration, int net,
                                                          const std::function<bool()>& stop) {
    if (auto known = known_ohms(configuration, net))
        return known;
    std::vector<PredictionStore::MachineNumber> machines = machines_;
    machines.push_back(sound());  // what the others are compared with
    return once_known([&] { return store_->simulate_ohms(machines, configuration, stop); },
                      [&] { return known_ohms(configuration, net); });
}

std::shared_ptr<const PoweredColumn> PredictionTable::known_powered(const BenchConfiguration& asked) const {
    const BenchConfiguration configuration = electrical_part(asked);
    const std::lock_guard lock(mutex_);
    if (const auto found = powered_.find(configuration); found != powered_.end())
        return found->second;
    const auto narrower = narrower_ == nullptr ? nullptr : narrower_->known_powered(configuration);
    auto views =
        gather(hypotheses_,
               narrower == nullptr ? std::vector<std::shared_ptr<const Views>>{} : narrower->of_hypothesis_,
               Views{}, [&](std::size_t h) { return store_->views(machines_[h], configuration); });
    if (views.empty())
        return nullptr;
    return powered_
        .emplace(configuration,
                 std::make_shared<const PoweredColumn>(plan(), std::move(views), counted_, narrower))
        .first->second;
}

template <typename Asked, typename Find, typename Expect, typename Narrower>
std::shared_ptr<const NumberColumn> PredictionTable::known_numbers(
    NumberColumns<Asked>& columns, const std::pair<BenchConfiguration, Asked>& key, Find find,
    Expect expected, Narrower narrower) const {
    const std::lock_guard lock(mutex_);
    if (const auto found = columns.find(key); found != columns.end())
        return found->second;
    const std::shared_ptr<const NumberColumn> first = narrower_ == nullptr ? nullptr : narrower(*narrower_);
    auto numbers = gather(
        hypotheses_, first == nullptr ? std::vector<std::shared_ptr<const Numbers>>{} : first->of_hypothesis_,
        Numbers{}, find);
    if (numbers.empty())
        return nullptr;
    return columns
        .emplace(key, std::make_shared<const NumberColumn>(numbers, counted_, expected(), first.get()))
        .first->second;
}

std::shared_ptr<const NumberColumn> PredictionTable::known_ohms(const BenchConfiguration& configuration,
                                                                int net) const {
    const BenchConfiguration at = electrical_part(unpowered(configuration));
    return known_numbers(
        ohms_, std::pair(at, net), [&](std::size_t h) { return ohms_of(machines_[h], at, net); },
        [&]() -> ExpectedOfNumbers::Work {
            const auto sound = known_sound_ohms(configuration, net);
            const NetVariety variety = plan().net_variety[static_cast<std::size_t>(net)];
            return [variety, sound](const Numbers& ohms, SampleMask m) {
                return expected_ohms(ohms, {}, m, variety, sound == nullptr ? Numbers{} : *sound);
            };
        },
        [&](const PredictionTable& other) { return other.known_ohms(configuration, net); });
}

std::shared_ptr<const Numbers> PredictionTable::known_sound_ohms(const BenchConfiguration& configuration,
                                                                 int net) const {
    return ohms_of(sound(), electrical_part(unpowered(configuration)), net);
}

std::shared_ptr<const Numbers> PredictionTable::ohms_of(PredictionStore::MachineNumber machine,
                                                        const BenchConfiguration& at, int net) const {
    auto by_net = store_->ohms(machine, at);
    if (by_net == nullptr)
        return nullptr;
    const Numbers* of_net = &(*by_net)[static_cast<std::size_t>(net)];
    return {std::move(by_net), of_net};
}

std::shared_ptr<const NumberColumn> PredictionTable::known_number(const BenchConfiguration& configuration,
                                                                  const OffQuestion& question) const {
    const BenchConfiguration at = electrical_part(unpowered(configuration));
    return known_numbers(
        numbers_, std::pair(at, question),
        [&](std::size_t h) { return store_->numbers(machine_asked(h, at, question), at, question); },
        [&] { return work_of(question, store_->numbers(sound(), at, question)); },
        [&](const PredictionTable& other) { return other.known_number(configuration, question); });
}

ExpectedOfNumbers::Work PredictionTable::work_of(const OffQuestion& question,
                                                 const std::shared_ptr<const Numbers>& sound) const {
    switch (question.of) {
        case OffQuestion::Of::diode_drop:
            return [](const Numbers& volts, SampleMask m) { return expected_drops(volts, {}, m); };
        case OffQuestion::Of::pack_volts:
            return [](const Numbers& volts, SampleMask m) { return expected_pack_volts(volts, {}, m); };
        case OffQuestion::Of::through_part:
            return [](const Numbers& ohms, SampleMask m) { return expected_ohms(ohms, {}, m); };
        case OffQuestion::Of::between_nets:
            break;
    }
    const auto variety_of = [&](int net) { return plan().net_variety[static_cast<std::size_t>(net)]; };
    NetVariety variety = variety_of(question.first);
    variety.ohms_ln = std::max(variety.ohms_ln, variety_of(question.second).ohms_ln);
    // A few ohms are a wire's, a fuse's, a sense resistor's: alike with all makers.
    Numbers of_makers = sound == nullptr ? Numbers{} : *sound;
    for (double& ohms : of_makers) {
        if (ohms < few_ohms)
            ohms = 0.0;
    }
    return [variety, of_makers](const Numbers& ohms, SampleMask m) {
        return expected_ohms(ohms, {}, m, variety, of_makers);
    };
}

// A number of one part by itself: the part's own faults, and the multimeter's.
bool PredictionTable::may_change_part(const Hypothesis& hypothesis, int part) const {
    return std::any_of(hypothesis.faults.begin(), hypothesis.faults.end(), [&](const FaultInstance& fault) {
        const int block = plan().find_block(fault.block);
        return block == part || plan().blocks[static_cast<std::size_t>(block)].is_instrument();
    });
}

// Through a contact of a bare plug into the net behind it: the contact's own part, and the multimeter.
bool PredictionTable::may_change_contact(const Hypothesis& hypothesis, const BenchConfiguration& at,
                                         const OffQuestion& question) const {
    const int node = plan().net_nodes[static_cast<std::size_t>(question.first)];
    const auto contacts = plug_contacts(plan(), plan().port_index(at.port), at.side);
    const auto contact = std::find_if(contacts.begin(), contacts.end(),
                                      [&](const PlugContact& one) { return one.board_node == node; });
    if (question.first != question.second || contact == contacts.end())
        return true;
    return may_change_part(hypothesis, contact->block);
}

bool PredictionTable::may_change(const Hypothesis& hypothesis, const BenchConfiguration& at,
                                 const OffQuestion& question) const {
    if (question.of == OffQuestion::Of::through_part)
        return fault_at(hypothesis, plan().blocks[static_cast<std::size_t>(question.first)].id) != nullptr;
    if (question.of == OffQuestion::Of::pack_volts)
        return may_change_part(hypothesis, plan().pack);
    if (question.of != OffQuestion::Of::between_nets)
        return true;
    if (at.bare_plug)
        return may_change_contact(hypothesis, at, question);
    const int one = plan().net_nodes[static_cast<std::size_t>(question.first)];
    const int other = plan().net_nodes[static_cast<std::size_t>(question.second)];
    const bool one_part =
        std::any_of(plan().elements.begin(), plan().elements.end(), [&](const auto& element) {
            return (element.from == one && element.to == other) ||
                   (element.from == other && element.to == one);
        });
    const auto matters = [&](const FaultInstance& fault) {
        const int block = plan().find_block(fault.block);
        return plan().blocks[static_cast<std::size_t>(block)].is_instrument() ||
               fault_touches(plan(), fault, one) || fault_touches(plan(), fault, other);
    };
    return !one_part || std::any_of(hypothesis.faults.begin(), hypothesis.faults.end(), matters);
}

PredictionStore::MachineNumber PredictionTable::machine_asked(std::size_t hypothesis,
                                                              const BenchConfiguration& at,
                                                              const OffQuestion& question) const {
    return may_change(hypotheses_[hypothesis], at, question)
               ? machines_[hypothesis]
               : store_->machine({}, hypotheses_[hypothesis].depth);
}

std::shared_ptr<const NumberColumn> PredictionTable::number(const BenchConfiguration& configuration,
                                                            const OffQuestion& question,
                                                            const std::function<bool()>& stop) {
    if (auto known = known_number(configuration, question))
        return known;
    std::vector<PredictionStore::MachineNumber> machines{sound()};  // what the others are compared with
    for (std::size_t h = 0; h < hypotheses_.size(); ++h)
        machines.push_back(machine_asked(h, electrical_part(unpowered(configuration)), question));
    return once_known([&] { return store_->simulate_numbers(machines, configuration, question, stop); },
                      [&] { return known_number(configuration, question); });
}

}  // namespace eh
