#include "core/base/fingerprint.h"

#include <xxhash.h>

#include <array>
#include <cstdio>

namespace eh {

std::string fingerprint(std::string_view bytes) {
    const XXH128_hash_t hash = XXH3_128bits(bytes.data(), bytes.size());
    std::array<char, 33> text{};
    std::snprintf(text.data(), text.size(), "%016llx%016llx", static_cast<unsigned long long>(hash.high64),
                  static_cast<unsigned long long>(hash.low64));
    return text.data();
}

}  // namespace eh
