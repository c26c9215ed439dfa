// SPDX-License-Identifier: GPL-3.0-or-later
// Extended messages that come in chunks of 26 bytes, put together again.
#pragma once

#include <optional>
#include <vector>

#include "core/usbc/pd_message.h"

namespace eh::pd {

// Hears the extended messages of one conversation in the order of time.
class ChunkJoiner {
  public:
    // The data of the message, once it is there whole; nullopt before that, for requests of further chunks,
    // and when a chunk is missing or out of order: then the whole message is unheard. Requires an extended
    // message that is not damaged.
    std::optional<std::vector<std::uint8_t>> hear(const Message& message);

  private:
    std::uint8_t type_ = 0;
    bool from_source_ = false;
    int next_ = 0;  // chunk that is due
    std::vector<std::uint8_t> data_;
};

}  // namespace eh::pd
