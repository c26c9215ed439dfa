// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/json_text.h"

#include <nlohmann/json.hpp>

namespace eh {

std::string json_text(const nlohmann::json& value, int indent) {
    return value.dump(indent, ' ', false, nlohmann::json::error_handler_t::replace);
}

}  // namespace eh
