// SPDX-License-Identifier: GPL-3.0-or-later
// Pieces of conversations that several tests hold.
#pragma once

#include <vector>

#include "core/usbc/cc_capture.h"
#include "core/usbc/talk_writer.h"

namespace eh::test {

inline std::vector<pd::Offer> sixty_watts() {
    return {pd::FixedSupply{5.0, 3.0}, pd::FixedSupply{9.0, 3.0}, pd::FixedSupply{15.0, 3.0},
            pd::FixedSupply{20.0, 3.0}};
}

inline pd::Request asking(int position, double amps = 3.0) {
    pd::Request request;
    request.position = position;
    request.amps = request.most_amps = amps;
    return request;
}

// The packets of a conversation as they are seen on CC1.
inline std::vector<pd::SeenFrame> seen(const std::vector<pd::Frame>& frames) {
    std::vector<pd::SeenFrame> all;
    for (const pd::Frame& frame : frames)
        all.push_back({frame, 1});
    return all;
}

}  // namespace eh::test
