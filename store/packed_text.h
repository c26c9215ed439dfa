// SPDX-License-Identifier: GPL-3.0-or-later
// JSON texts of the shop's database, packed small: raw deflate (RFC 1951) with a preset dictionary (RFC 1950)
// of the words that every job and reading has. A first byte tells which dictionary.
#pragma once

#include <QByteArray>
#include <string>

#include "core/base/result.h"

namespace eh {

QByteArray pack_text(const std::string& text);

// Gives back what went in. Refuses bytes that pack_text() did not make, texts of more than 64 MB, and
// dictionaries of a newer program; `place` says what it is.
Result<std::string> unpack_text(const QByteArray& packed, const std::string& place);

}  // namespace eh
