// SPDX-License-Identifier: GPL-3.0-or-later
// What the samples of each hypothesis make one expect, worked out when it is first asked for and kept: most
// hypotheses of a table are never weighed at most places. Internal to core/diagnosis.
#pragma once

#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <vector>

#include "core/prediction/expectation.h"

namespace eh {

// `Thing` is what samples show: views of the machine, or numbers. May be asked from several threads.
template <typename Thing>
class Expectations {
  public:
    using Things = std::vector<std::shared_ptr<const Thing>>;
    using Work = std::function<std::vector<Expected>(const Thing&, SampleMask)>;

    // By hypothesis: what it shows, and which samples of it count. `narrower` knows the first of the same
    // hypotheses; nullptr where there is none.
    Expectations(Things things, std::vector<SampleMask> counted, Work work,
                 std::shared_ptr<const Expectations> narrower)
        : things_(std::move(things)),
          counted_(std::move(counted)),
          work_(std::move(work)),
          narrower_(std::move(narrower)),
          of_hypothesis_(things_.size()) {}

    // Each by sample. The reference holds as long as this does.
    const std::vector<Expected>& operator[](std::size_t hypothesis) const {
        const std::lock_guard lock(mutex_);
        const std::vector<Expected>*& known = of_hypothesis_[hypothesis];
        if (known == nullptr)
            known = narrower_ != nullptr && hypothesis < narrower_->things_.size()
                        ? &(*narrower_)[hypothesis]
                        : &of_thing({things_[hypothesis].get(), counted_[hypothesis]});
        return *known;
    }

  private:
    using Key = std::pair<const Thing*, SampleMask>;

    // Hypotheses that show the same make one expect the same.
    const std::vector<Expected>& of_thing(const Key& key) const {
        if (narrower_ != nullptr) {
            if (const auto* known = narrower_->find(key))
                return *known;
        }
        const auto [place, fresh] = worked_out_.try_emplace(key);
        if (fresh)
            place->second = work_(*key.first, key.second);
        return place->second;
    }

    const std::vector<Expected>* find(const Key& key) const {
        const std::lock_guard lock(mutex_);
        const auto found = worked_out_.find(key);
        return found == worked_out_.end() ? nullptr : &found->second;
    }

    Things things_;
    std::vector<SampleMask> counted_;
    Work work_;
    std::shared_ptr<const Expectations> narrower_;
    mutable std::mutex mutex_;
    mutable std::map<Key, std::vector<Expected>> worked_out_;
    mutable std::vector<const std::vector<Expected>*> of_hypothesis_;
};

}  // namespace eh
