// SPDX-License-Identifier: GPL-3.0-or-later
// Fields of our own files that are left out where there is nothing to say, and words out of a list.
#pragma once

#include <optional>
#include <string>

#include "core/base/json_reader.h"

namespace eh {

inline void put_if(nlohmann::json& target, const char* key, const std::string& text) {
    if (!text.empty())
        target[key] = text;
}

inline void put_if(nlohmann::json& target, const char* key, const std::optional<double>& number) {
    if (number)
        target[key] = *number;
}

// The value that `from` knows by the field's text; refused where it knows none. Throws JsonRefused.
template <typename Enum>
Enum read_word(const JsonReader& field, std::optional<Enum> (*from)(const std::string&)) {
    const auto value = from(field.text());
    if (!value)
        field.refuse("“" + field.text() + "” is not known here");
    return *value;
}

}  // namespace eh
