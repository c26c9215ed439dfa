// SPDX-License-Identifier: GPL-3.0-or-later
// Going through the list of kinds. Internal to core/readings and core/entry.
#pragma once

#include <cassert>
#include <type_traits>
#include <utility>

#include "core/readings/reading.h"

namespace eh {

// Calls `work` with a std::type_identity of each kind's values, in order, until one returns true.
template <typename Work>
bool any_kind(Work work) {
    return [&]<std::size_t... index>(std::index_sequence<index...>) {
        return (work(std::type_identity<std::variant_alternative_t<index, ReadingValue>>{}) || ...);
    }
    (std::make_index_sequence<std::variant_size_v<ReadingValue>>{});
}

// What `ask` answers for the kind; it is given a std::type_identity of the kind's values.
template <typename Answer, typename Ask>
Answer ask_kind(ReadingKind kind, Ask ask) {
    Answer answer{};
    [[maybe_unused]] const bool found = any_kind([&]<typename Value>(std::type_identity<Value> values) {
        if (Traits<Value>::kind != kind)
            return false;
        answer = ask(values);
        return true;
    });
    assert(found && "ask_kind: a kind that is not listed");
    return answer;
}

}  // namespace eh
