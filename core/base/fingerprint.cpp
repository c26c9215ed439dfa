// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/fingerprint.h"

#include <fmt/format.h>
#include <xxhash.h>

namespace eh {

std::string fingerprint(std::string_view bytes) {
    const XXH128_hash_t hash = XXH3_128bits(bytes.data(), bytes.size());
    return fmt::format("{:016x}{:016x}", hash.high64, hash.low64);
}

}  // namespace eh
