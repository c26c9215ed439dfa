// SPDX-License-Identifier: GPL-3.0-or-later
// The quick line, as it is typed: what is understood has an echo, what completes it is longer.
#include "core/entry/quick_line.h"
#include "fuzz/demand.h"

namespace {

// A machine of two ports and a few nets; ids as the shipped ones are.
eh::Topology small_machine() {
    eh::Topology machine;
    machine.id = "small";
    for (const char* id : {"p1", "p2"})
        machine.ports.push_back({.id = id, .title = "Port"});
    for (const char* id : {"vbus1", "vbus2", "main"})
        machine.nets.push_back({.id = id, .title = id, .volts = 20.0});
    for (const char* id : {"sp1", "sp2", "pc1"})
        machine.blocks.push_back({.id = id, .title = id});
    return machine;
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace eh;
    static const Topology machine = small_machine();
    const std::string text = fuzz::text_of(data, size);
    const auto entry = parse_quick_line(text, machine, {});
    fuzz::demand(entry ? !entry->echo.empty() : !entry.error().message.empty());
    for (const std::string& completion : quick_line_completions(text, machine, 4))
        fuzz::demand(!completion.empty());
    return 0;
}
