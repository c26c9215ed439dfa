// SPDX-License-Identifier: GPL-3.0-or-later
// A conversation on the CC line: written as a capture, read back, told in sentences, and judged.
#include <fmt/core.h>

#include <sstream>

#include "core/usbc/cc_capture.h"
#include "core/usbc/pd_text.h"
#include "core/usbc/talk_writer.h"

int main() {
    using namespace eh::pd;
    const std::vector<Offer> offers{FixedSupply{5.0, 3.0}, FixedSupply{20.0, 2.25}};
    Request request;
    request.position = 2;
    request.amps = request.most_amps = 2.25;
    TalkWriter talk;
    talk.offer(offers);
    talk.request(request, offers[1]);
    talk.say(Side::charger, ControlType::accept);
    talk.say(Side::charger, ControlType::ps_rdy);
    std::stringstream file;
    write_vcd(file, edges_of(talk.frames()), talk.now_s() + 0.01);

    const auto capture = read_capture(file, "talk.vcd");
    if (!capture) {
        fmt::print("{}\n", capture.error().text());
        return 1;
    }
    Interpreter interpreter;
    for (const SeenFrame& seen : capture->frames)
        fmt::print("{:6.2f} ms  {}\n", 1e3 * seen.frame.start_s, interpreter.sentence(seen.frame));
    fmt::print("{}\n", verdict_sentence(read_negotiation(*capture)));
}
