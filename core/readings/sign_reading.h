// SPDX-License-Identifier: GPL-3.0-or-later
// What the machine shows of itself without a screen: lamps, fan, chime, or no sign at all.
#pragma once

#include "core/machine/model/machine_sign.h"
#include "core/readings/kind_of_reading.h"

namespace eh {

struct SignReading {
    MachineSign sign = MachineSign::nothing;
    friend bool operator==(const SignReading&, const SignReading&) = default;
};

template <>
struct Traits<SignReading> : UsualTraits<SignReading> {
    static constexpr ReadingKind kind = ReadingKind::sign;
    static constexpr std::string_view word = "sign";
    static constexpr std::array<std::string_view, 2> quick_words{"sign", "signs"};
    static constexpr int words = machine_sign_count;

    // On its pack alone a machine gives signs, too.
    static std::string bench_conflict(const BenchConfiguration& bench);
    static std::string value_text(const SignReading& value, const Topology& topology);
    static std::string subject(const SignReading& value, const BenchConfiguration& bench,
                               const Topology& topology);
    static void write(const SignReading& value, nlohmann::json& file);
    static SignReading read(const JsonReader& field);
    static Outcome fits(const SignReading& value, const BenchConfiguration& bench, const MachinePlan& plan,
                        const std::string& where);
    static Result<SignReading> from_quick(QuickInput& typed);
    static void bring(const SignReading& value, const BenchConfiguration& bench, const Topology& topology,
                      ReadingTerms& terms);
    static std::size_t outcome_count(const MachinePlan& plan);
    static std::string outcome_text(int outcome, const MachinePlan& plan);
};

}  // namespace eh
