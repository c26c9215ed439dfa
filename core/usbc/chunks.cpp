// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/chunks.h"

namespace eh::pd {

std::optional<std::vector<std::uint8_t>> ChunkJoiner::hear(const Message& message) {
    const auto header = extended_header_of(message);
    if (!header || header->request_chunk)
        return std::nullopt;
    std::vector<std::uint8_t> bytes = extended_data_of(message);
    if (!header->chunked)
        return bytes;
    const bool goes_on = header->chunk == next_ && next_ > 0 && message.header.type == type_ &&
                         message.header.power_source == from_source_;
    if (header->chunk == 0) {
        type_ = message.header.type;
        from_source_ = message.header.power_source;
        data_.clear();
    } else if (!goes_on) {
        next_ = 0;
        return std::nullopt;
    }
    data_.insert(data_.end(), bytes.begin(), bytes.end());
    const auto whole = static_cast<std::size_t>(header->data_bytes);
    if (data_.size() < whole) {
        next_ = header->chunk + 1;
        return std::nullopt;
    }
    next_ = 0;
    data_.resize(whole);
    return data_;
}

}  // namespace eh::pd
