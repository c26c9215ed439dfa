// SPDX-License-Identifier: GPL-3.0-or-later
// Operating points of a machine by its states: places to start from when a machine much like it is in the
// same state.
#pragma once

#include <string>
#include <unordered_map>
#include <vector>

namespace eh {

class OperatingPoints {
  public:
    // The node volts remembered for these states, or nullptr.
    [[nodiscard]] const std::vector<double>* find(const std::string& states) const {
        const auto found = points_.find(states);
        return found == points_.end() ? nullptr : &found->second;
    }
    // Remembers the first point of each state.
    void add(const std::string& states, const std::vector<double>& node_volts) {
        points_.emplace(states, node_volts);
    }

  private:
    std::unordered_map<std::string, std::vector<double>> points_;
};

}  // namespace eh
