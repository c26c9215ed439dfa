// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/pd_commands.h"

#include <sstream>

#include "cli/staged_machine.h"
#include "core/base/files.h"
#include "core/base/text.h"
#include "core/machine/simulation/port_talk.h"
#include "core/usbc/cc_capture.h"
#include "core/usbc/message_list.h"
#include "core/usbc/pd_text.h"
#include "core/usbc/talk_writer.h"

namespace eh::cli {

using nlohmann::json;

namespace {

json frame_json(const pd::SeenFrame& seen, pd::Interpreter& interpreter) {
    const pd::Frame& frame = seen.frame;
    json item{{"t_s", frame.start_s}, {"line", seen.line}, {"good", frame.good()}};
    if (frame.kind == pd::FrameKind::message) {
        item["to"] = pd::name_of(frame.message.address);
        item["name"] = pd::name_of(frame.message);
        item["header"] = pd::pack(frame.message.header);
        item["objects"] = pd::objects_of(frame.message);
    }
    item["says"] = interpreter.sentence(frame);
    return item;
}

json verdict_json(const pd::Negotiation& negotiation, double wanted_volts) {
    json offers = json::array();
    for (const pd::Offer& offer : negotiation.offers)
        offers.push_back(pd::describe(offer));
    json verdict{{"end", to_text(negotiation.end)},
                 {"sentence", pd::verdict_sentence(negotiation, wanted_volts)},
                 {"points_at", pd::points_at(negotiation)},
                 {"offers", std::move(offers)},
                 {"contract_volts", negotiation.contract_volts},
                 {"contract_amps", negotiation.contract_amps},
                 {"hard_resets", negotiation.hard_resets},
                 {"reset_period_s", negotiation.reset_period_s},
                 {"messages", negotiation.messages},
                 {"damaged", negotiation.damaged},
                 {"contract_watts", negotiation.contract_watts},
                 {"conclusive", negotiation.conclusive},
                 {"offers_unheard", negotiation.offers_unheard},
                 {"request_unheard", negotiation.request_unheard},
                 {"mismatch", negotiation.request && negotiation.request->mismatch},
                 {"cable_asked", negotiation.cable_asked}};
    if (negotiation.cable)
        verdict["cable_amps"] = negotiation.cable->amps;
    return verdict;
}

// What the user would have to say, with the options to say it by.
Error unreadable(const pd::CaptureReport& report, const std::string& file) {
    const pd::CaptureQuestion& question = *report.question;
    std::string sentence = question.sentence + " Say how it is to be read:";
    std::string wires;
    for (const pd::CapturedWire& wire : report.wires)
        wires += (wires.empty() ? " " : ", ") + wire.name + " (" + integer_text(wire.edges) + " changes)";
    if (report.wires.size() > 1)
        sentence += " --cc1 and --cc2, the wires being" + wires + ";";
    if (question.time_unit)
        sentence += " --time-unit, one of s, ms, us, ns or seconds as a number;";
    if (question.sample_rate)
        sentence += " --rate, samples a second;";
    if (question.volts)
        sentence += " --threshold, volts above which the line is high;";
    sentence.back() = '.';
    return refused(sentence, file);
}

}  // namespace

Result<json> read_talk(const std::string& file, const pd::CaptureOptions& options, double wanted_volts) {
    const auto capture = pd::read_capture(file, options);
    if (!capture)
        return capture.error();
    if (capture->report.question)
        return unreadable(capture->report, file);
    pd::Interpreter interpreter;
    json frames = json::array();
    for (const pd::SeenFrame& seen : capture->frames)
        frames.push_back(frame_json(seen, interpreter));
    const pd::Negotiation negotiation = pd::read_negotiation(*capture, wanted_volts);
    return json{{"seconds", capture->report.seconds},
                {"edges", capture->report.edges},
                {"odd_lines", capture->report.odd_lines},
                {"remarks", capture->report.remarks},
                {"frames", std::move(frames)},
                {"verdict", verdict_json(negotiation, wanted_volts)}};
}

Result<json> write_talk(const Shop& shop, const SimulateOptions& options, const std::string& file) {
    auto staged = stage_machine(shop, options);
    if (!staged)
        return staged.error();
    StagedMachine& machine = **staged;
    DcSolver solver;
    const Course course = run_course(machine.model, machine.configuration, solver);
    const std::vector<pd::Frame> frames = port_talk(machine.model, course, options.seconds);
    std::ostringstream out;
    if (file.ends_with(".vcd")) {
        pd::write_vcd(out, pd::edges_of(frames), options.seconds);
    } else {
        std::vector<pd::SeenFrame> seen;
        seen.reserve(frames.size());
        const int line = machine.configuration.side == PlugSide::a ? 1 : 2;
        for (const pd::Frame& frame : frames)
            seen.push_back({frame, line});
        out << pd::write_messages(seen);
    }
    if (auto written = write_text_file(file, out.str()); !written)
        return written.error();
    return json{{"packets", frames.size()}, {"end", to_text(course.talk)}, {"file", file}};
}

}  // namespace eh::cli
