// SPDX-License-Identifier: GPL-3.0-or-later
// Pieces that the readers of the data files share. Internal to core/machine; throws JsonRefused.
#pragma once

#include <map>
#include <string>

#include "core/base/json_reader.h"
#include "core/machine/model/block_kind.h"
#include "core/machine/model/kit.h"

namespace eh {

template <typename Enum>
Enum one_of(const JsonReader& field, const std::map<std::string, Enum>& names) {
    const std::string text = field.text();
    const auto found = names.find(text);
    if (found != names.end())
        return found->second;
    std::string list;
    for (const auto& [name, value] : names)
        list += (list.empty() ? "" : ", ") + name;
    field.refuse("“" + text + "” is not known here; use one of: " + list);
}

// A number, or the name of a parameter such as "$volts".
ValueSpec read_value(const JsonReader& field);
Need read_need(const JsonReader& field);
ChargerSpec read_charger(const JsonReader& item);

}  // namespace eh
