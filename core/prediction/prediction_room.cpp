// SPDX-License-Identifier: GPL-3.0-or-later
// What a store keeps, and what it forgets where that grows too large.
#include <algorithm>

#include "core/prediction/prediction_store.h"

namespace eh {

// Machines of one fault in few designs are those of every job; the others belong to some job alone.
bool PredictionStore::is_spare(MachineNumber number) const {
    const Machine& machine = machines_[number];
    return machine.depth == Depth::many_designs || machine.faults.size() > 1 ||
           std::any_of(machine.faults.begin(), machine.faults.end(), [](const FaultInstance& fault) {
               return fault.ohms || fault.knee_volts || fault.severity;
           });
}

std::size_t PredictionStore::spare_bytes() const {
    const std::lock_guard lock(mutex_);
    return spare_bytes_;
}

void PredictionStore::forget_spare() {
    const auto clear = [&](auto& shelf) {
        for (auto& [configuration, by_machine] : shelf)
            std::erase_if(by_machine, [&](const auto& kept) { return is_spare(kept.first); });
    };
    clear(views_);
    clear(ohms_);
    for (auto& [question, shelf] : numbers_when_off_)
        clear(shelf);
    for (auto& [configuration, standing] : standing_)
        std::erase_if(standing, [&](const auto& kept) { return is_spare(kept.first.first); });
    std::erase_if(sound_points_, [](const auto& kept) { return kept.first.second == Depth::many_designs; });
    spare_bytes_ = 0;
}

PredictionStore::Simulating::Simulating(PredictionStore& store) : store_(store) {
    const std::lock_guard lock(store_.mutex_);
    if (store_.simulations_ == 0 && store_.spare_bytes_ > store_.options_.most_spare_bytes)
        store_.forget_spare();
    ++store_.simulations_;
}

PredictionStore::Simulating::~Simulating() {
    const std::lock_guard lock(store_.mutex_);
    --store_.simulations_;
}

}  // namespace eh
