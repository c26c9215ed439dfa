// SPDX-License-Identifier: GPL-3.0-or-later
// Lists of messages: what is read is written and read again as the same, and every conversation has an end.
#include "core/usbc/message_list.h"
#include "core/usbc/negotiation.h"
#include "core/usbc/pd_text.h"
#include "fuzz/demand.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace eh;
    const auto frames = pd::parse_messages(fuzz::text_of(data, size), "fuzz");
    if (!frames)
        return 0;
    const std::string written = pd::write_messages(*frames);
    const auto again = pd::parse_messages(written, "again");
    fuzz::demand(again.ok());
    fuzz::demand(pd::write_messages(*again) == written);
    const auto negotiation = pd::read_negotiation(*frames, 20.0);
    fuzz::demand(!pd::verdict_sentence(negotiation, 20.0).empty());
    return 0;
}
