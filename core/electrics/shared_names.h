// SPDX-License-Identifier: GPL-3.0-or-later
// A list of names of which many copies are made: what has been shared is not copied again.
#pragma once

#include <cassert>
#include <memory>
#include <string>
#include <utility>
#include <vector>

namespace eh {

class SharedNames {
  public:
    SharedNames() = default;
    explicit SharedNames(std::vector<std::string> names) : own_(std::move(names)) {}

    [[nodiscard]] std::size_t size() const { return shared_count() + own_.size(); }
    // Requires index < size().
    [[nodiscard]] const std::string& operator[](std::size_t index) const {
        assert(index < size());
        const std::size_t shared = shared_count();
        return index < shared ? (*shared_)[index] : own_[index - shared];
    }
    // Seen by this list alone, not by its copies.
    void push_back(std::string name) { own_.push_back(std::move(name)); }
    // From here on copies refer to the names that there are now.
    void share() {
        if (own_.empty())
            return;
        auto all = std::make_shared<std::vector<std::string>>();
        all->reserve(size());
        for (std::size_t i = 0; i < size(); ++i)
            all->push_back((*this)[i]);
        shared_ = std::move(all);
        own_.clear();
    }

  private:
    [[nodiscard]] std::size_t shared_count() const { return shared_ == nullptr ? 0 : shared_->size(); }

    std::shared_ptr<const std::vector<std::string>> shared_;
    std::vector<std::string> own_;
};

}  // namespace eh
