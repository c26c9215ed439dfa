// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers whose copies share one place in memory until one of them is written to: samples that differ only in
// what does not show hold the same hundred numbers.
#pragma once

#include <initializer_list>
#include <memory>
#include <utility>
#include <vector>

namespace eh {

class SharedFloats {
  public:
    SharedFloats() = default;
    SharedFloats(std::vector<float> numbers)  // a vector may stand for it
        : numbers_(std::make_shared<std::vector<float>>(std::move(numbers))) {}
    SharedFloats(std::initializer_list<float> numbers) : SharedFloats(std::vector<float>(numbers)) {}

    [[nodiscard]] std::size_t size() const { return all().size(); }
    // Requires an index below size().
    float operator[](std::size_t i) const { return (*numbers_)[i]; }
    [[nodiscard]] auto begin() const { return all().begin(); }
    [[nodiscard]] auto end() const { return all().end(); }
    // The place in memory, the same for copies; nullptr where there are no numbers.
    [[nodiscard]] const void* place() const { return numbers_.get(); }

    // To write to; other copies keep what they have.
    std::vector<float>& own() {
        if (numbers_ == nullptr)
            numbers_ = std::make_shared<std::vector<float>>();
        else if (numbers_.use_count() > 1)
            numbers_ = std::make_shared<std::vector<float>>(*numbers_);
        return *numbers_;
    }

    friend bool operator==(const SharedFloats& a, const SharedFloats& b) { return a.all() == b.all(); }

  private:
    [[nodiscard]] const std::vector<float>& all() const {
        static const std::vector<float> none;
        return numbers_ == nullptr ? none : *numbers_;
    }
    std::shared_ptr<std::vector<float>> numbers_;
};

}  // namespace eh
