// SPDX-License-Identifier: GPL-3.0-or-later
// Values as SQL takes them. Internal to store/.
#pragma once

#include <QVariant>
#include <cstdint>
#include <string>

namespace eh {

// An empty QString from an empty std::string is null to SQL, so it is made empty in so many words.
inline QVariant sql_text(const std::string& value) {
    return value.empty() ? QString("") : QString::fromStdString(value);
}

inline QVariant sql_number(std::int64_t value) {
    return QVariant::fromValue(static_cast<qlonglong>(value));
}

}  // namespace eh
