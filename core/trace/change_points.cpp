// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/change_points.h"

#include <algorithm>
#include <cmath>
#include <queue>

#include "core/base/quantile.h"

namespace eh {
namespace {

constexpr double quantile_of_median = 0.6744897501960817;  // of a standard normal's absolute value

struct Node {
    std::size_t first = 0;
    std::size_t count = 0;
    double sum = 0.0;
    int before = -1;
    int after = -1;
    int version = 0;  // counts up when it grows, so that older offers to merge are void
    [[nodiscard]] double mean() const { return sum / static_cast<double>(count); }
};

struct MergeOffer {
    double cost = 0.0;
    int left = 0;
    int left_version = 0;
    int right_version = 0;
    friend bool operator>(const MergeOffer& a, const MergeOffer& b) { return a.cost > b.cost; }
};

class Merger {
  public:
    Merger(std::vector<Node> nodes, double variance, double penalty)
        : nodes_(std::move(nodes)), variance_(variance), penalty_(penalty) {}

    std::vector<LevelSegment> run() {
        for (int n = 0; n + 1 < static_cast<int>(nodes_.size()); ++n)
            offer(n);
        while (!offers_.empty()) {
            const MergeOffer best = offers_.top();
            offers_.pop();
            if (is_void(best))
                continue;
            merge(best.left);
        }
        std::vector<LevelSegment> segments;
        for (int n = 0; n >= 0; n = at(n).after)
            segments.push_back({at(n).first, at(n).count, at(n).mean()});
        return segments;
    }

  private:
    Node& at(int n) { return nodes_[static_cast<std::size_t>(n)]; }

    void offer(int left) {
        const int right = at(left).after;
        if (right < 0)
            return;
        const auto n = static_cast<double>(at(left).count);
        const auto m = static_cast<double>(at(right).count);
        const double step = at(left).mean() - at(right).mean();
        const double cost = n * m / (n + m) * step * step / variance_;
        if (cost <= penalty_)
            offers_.push({cost, left, at(left).version, at(right).version});
    }

    bool is_void(const MergeOffer& offer) {
        const int right = at(offer.left).after;
        return right < 0 || at(offer.left).version != offer.left_version ||
               at(right).version != offer.right_version;
    }

    void merge(int left) {
        Node& kept = at(left);
        Node& gone = at(kept.after);
        kept.count += gone.count;
        kept.sum += gone.sum;
        kept.after = gone.after;
        ++kept.version;
        ++gone.version;
        if (kept.after >= 0)
            at(kept.after).before = left;
        offer(left);
        if (kept.before >= 0)
            offer(kept.before);
    }

    std::vector<Node> nodes_;
    double variance_;
    double penalty_;
    std::priority_queue<MergeOffer, std::vector<MergeOffer>, std::greater<>> offers_;
};

}  // namespace

double noise_of(std::span<const double> values) {
    if (values.size() < 3)
        return 0.0;
    std::vector<double> steps;
    steps.reserve(values.size() - 1);
    for (std::size_t i = 1; i < values.size(); ++i)
        steps.push_back(std::abs(values[i] - values[i - 1]));
    return median(std::move(steps)) / quantile_of_median / std::sqrt(2.0);
}

std::vector<LevelSegment> level_segments(std::span<const double> values, const ChangePointOptions& options) {
    if (values.empty())
        return {};
    double noise = options.noise > 0.0 ? options.noise : std::max(noise_of(values), options.least_noise);
    constexpr double smallest_noise = 1e-12;  // a series without any noise changes wherever it moves
    noise = std::max(noise, smallest_noise);
    const double penalty =
        options.penalty > 0.0 ? options.penalty : 3.0 * std::log(static_cast<double>(values.size()));
    const double within = 3.0 * noise;
    std::vector<Node> nodes;
    nodes.reserve(values.size() / std::max<std::size_t>(1, options.block) + 16);
    for (std::size_t i = 0; i < values.size(); ++i) {
        const bool joins = !nodes.empty() && nodes.back().count < options.block &&
                           std::abs(values[i] - nodes.back().mean()) <= within;
        if (joins) {
            ++nodes.back().count;
            nodes.back().sum += values[i];
            continue;
        }
        const int number = static_cast<int>(nodes.size());
        if (!nodes.empty())
            nodes.back().after = number;
        Node node;
        node.first = i;
        node.count = 1;
        node.sum = values[i];
        node.before = number - 1;
        nodes.push_back(node);
    }
    return Merger(std::move(nodes), noise * noise, penalty).run();
}

}  // namespace eh
