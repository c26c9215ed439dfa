// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shop/similar_jobs.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace eh {
namespace {

constexpr unsigned level_bits = 10;
constexpr std::uint32_t level_mask = (1U << level_bits) - 1U;
constexpr double clear_difference = 8.0;  // in levels
constexpr double over_limit_ohms = 1e9;

// FNV-1a: the same on every machine and in every program, which std::hash is not.
class Hash {
  public:
    Hash& add(const std::string& text) {
        for (const char c : text)
            add(static_cast<unsigned char>(c));
        return add(static_cast<unsigned char>(0xff));
    }
    Hash& add(unsigned char byte) {
        value_ = (value_ ^ byte) * 16777619U;
        return *this;
    }
    [[nodiscard]] std::uint32_t bits() const { return (value_ ^ (value_ >> 22U)) << level_bits; }

  private:
    std::uint32_t value_ = 2166136261U;
};

// A tenth more ohms or amps, wherever one stands, is the same step.
double logarithmic(double value, double least) {
    constexpr double levels_a_decade = 24.0;  // a factor of about two is clear
    return levels_a_decade * std::log10(std::max(value, least) / least);
}

double volts_level(double volts) {
    constexpr double clear_volts = 0.8;
    return clear_difference * std::abs(volts) / clear_volts;
}

double logarithmic_or_ol(const std::optional<double>& ohms) {
    return logarithmic(ohms.value_or(over_limit_ohms), 0.05);
}

// Words are clearly different from each other.
template <typename Word>
double word_level(Word word) {
    return 2.0 * clear_difference * static_cast<double>(word);
}

// What a reading came to: one function a kind.
struct Level {
    double operator()(const MeterReading& seen) const {
        return word_level(seen.meter.pattern) + volts_level(seen.meter.volts);
    }
    double operator()(const NetVoltsReading& seen) const { return volts_level(seen.volts); }
    double operator()(const NetOhmsReading& seen) const { return logarithmic_or_ol(seen.ohms); }
    double operator()(const ThroughReading& seen) const { return logarithmic_or_ol(seen.ohms); }
    double operator()(const BetweenReading& seen) const { return logarithmic_or_ol(seen.ohms); }
    double operator()(const PackReading& seen) const { return volts_level(seen.volts.value_or(0.0)); }
    double operator()(const DiodeReading& seen) const {
        return seen.volts ? 40.0 * std::abs(*seen.volts) : static_cast<double>(level_mask);
    }
    double operator()(const HotPartReading& seen) const { return word_level(!seen.part.empty()); }
    double operator()(const InjectionReading& seen) const { return logarithmic(seen.supply.amps, 0.01); }
    double operator()(const FirmwareReading& seen) const { return word_level(seen.message); }
    double operator()(const SignReading& seen) const { return word_level(seen.sign); }
    double operator()(const TalkReading& seen) const { return word_level(seen.end); }
    double operator()(const LookReading& seen) const { return word_level(seen.seen); }
    double operator()(const BoardLookReading& seen) const { return word_level(!seen.found.empty()); }
    double operator()(const WiggleReading& seen) const { return word_level(seen.drops_out); }
};

std::uint32_t item(const Hash& what, double level) {
    const double most = static_cast<double>(level_mask);
    return what.bits() | static_cast<std::uint32_t>(std::lround(std::clamp(level, 0.0, most)));
}

// What makes two readings readings of the same thing. Whose charger it was decides what one sees; whether the
// case was open does not.
Hash what_of(const Reading& r) {
    Hash hash;
    const BenchConfiguration& c = r.configuration;
    hash.add(to_text(r.kind())).add(r.place());
    hash.add(static_cast<unsigned char>((c.charger_connected ? 1 : 0) | (c.battery_in ? 2 : 0) |
                                        (c.charger == Owner::customer ? 4 : 0) | (c.plug_held ? 8 : 0) |
                                        (c.bare_plug ? 16 : 0)));
    hash.add(static_cast<unsigned char>(static_cast<int>(c.tester) | static_cast<int>(c.button) << 2 |
                                        static_cast<int>(c.moment) << 4));
    if (c.charger_connected)
        hash.add(c.port).add(static_cast<unsigned char>(c.side));
    for (const std::string& block : c.removed)
        hash.add(block);
    if (c.injection)
        hash.add(c.injection->net);
    return hash;
}

std::uint32_t thing(std::uint32_t entry) {
    return entry >> level_bits;
}

double agreement(std::uint32_t a, std::uint32_t b) {
    const double difference =
        std::abs(static_cast<double>(a & level_mask) - static_cast<double>(b & level_mask));
    return std::max(0.0, 1.0 - difference / clear_difference);
}

// Calls take(index in `asked`, agreement) for each thing that both have. Both stand in rising order.
template <typename Take>
void compare(const JobSignature& asked, const JobSignature& other, const Take& take) {
    std::size_t b = 0;
    for (std::size_t a = 0; a < asked.size(); ++a) {
        while (b < other.size() && thing(other[b]) < thing(asked[a]))
            ++b;
        if (b < other.size() && thing(other[b]) == thing(asked[a]))
            take(a, agreement(asked[a], other[b]));
    }
}

// By thing of `asked`: the logarithm of one over the share of jobs that agree on it.
std::vector<double> weights_of(const JobSignature& asked, std::span<const JobSignature> signatures) {
    std::vector<double> agree(asked.size(), 0.0);
    std::vector<double> have(asked.size(), 0.0);
    for (const JobSignature& other : signatures) {
        compare(asked, other, [&](std::size_t a, double agreed) {
            agree[a] += agreed;
            have[a] += 1.0;
        });
    }
    std::vector<double> weights;
    weights.reserve(asked.size());
    for (std::size_t a = 0; a < asked.size(); ++a)
        weights.push_back(std::log((have[a] + 2.0) / (agree[a] + 1.0)));
    return weights;
}

}  // namespace

JobSignature signature_of(const Job& job) {
    std::int64_t work_ms = std::numeric_limits<std::int64_t>::max();
    for (const Act& act : job.acts) {
        if (act.done_ms != 0)
            work_ms = std::min(work_ms, act.done_ms);
    }
    JobSignature signature;
    for (const Reading& reading : job.readings) {
        if (reading.set_aside || reading.taken_ms >= work_ms || !reading.configuration.replaced.empty() ||
            !reading.configuration.handled.empty())
            continue;
        signature.push_back(item(what_of(reading), std::visit(Level{}, reading.value)));
    }
    for (const std::string& fact : job.ticket.facts)
        signature.push_back(item(Hash().add("fact").add(fact), 0.0));
    const auto same_thing = [](std::uint32_t a, std::uint32_t b) { return thing(a) == thing(b); };
    std::stable_sort(signature.begin(), signature.end(),
                     [](std::uint32_t a, std::uint32_t b) { return thing(a) < thing(b); });
    signature.erase(std::unique(signature.begin(), signature.end(), same_thing), signature.end());
    return signature;
}

std::vector<Likeness> most_alike(const JobSignature& asked, std::span<const JobSignature> signatures,
                                 std::size_t most) {
    const std::vector<double> weights = weights_of(asked, signatures);
    double whole = 0.0;
    for (const double weight : weights)
        whole += weight;
    const double assumed = weights.empty() ? 1.0 : whole / static_cast<double>(weights.size());
    std::vector<Likeness> found;
    for (std::size_t i = 0; i < signatures.size(); ++i) {
        Likeness likeness;
        likeness.index = i;
        double sum = 0.0;
        double most_sum = assumed;
        compare(asked, signatures[i], [&](std::size_t a, double agreed) {
            sum += weights[a] * agreed;
            most_sum += weights[a];
            ++likeness.compared;
            likeness.alike += agreed >= 0.5 ? 1 : 0;
        });
        likeness.share = sum / most_sum;
        if (likeness.share > 0.0)
            found.push_back(likeness);
    }
    const auto better = [](const Likeness& a, const Likeness& b) {
        return a.share != b.share ? a.share > b.share : a.index > b.index;
    };
    const std::size_t kept = std::min(most, found.size());
    std::partial_sort(found.begin(), found.begin() + static_cast<std::ptrdiff_t>(kept), found.end(), better);
    found.resize(kept);
    return found;
}

}  // namespace eh
