// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/wire_readers.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>

#include "core/base/text.h"

namespace eh::pd {
namespace {

// A wire that is no CC line may change for ever; what cannot be read of it is not worth keeping.
constexpr std::size_t most_unreadable = 10'000;
// Fewer changes are a plug that goes in, not a conversation.
constexpr std::uint64_t fewest_edges_of_talk = 24;
constexpr int first_octave = -64;

bool in_order(const SeenFrame& a, const SeenFrame& b) {
    return a.frame.start_s < b.frame.start_s;
}

}  // namespace

void IntervalCounts::count(double interval_s) {
    constexpr std::uint64_t enough = 1U << 18U;  // of them the lengths are known
    if (!(interval_s > 0.0) || total_ >= enough)
        return;
    // Octave and part of it are the exponent and the first three bits behind it of the double (IEEE 754).
    static_assert(std::numeric_limits<double>::is_iec559 && parts == 8);
    const auto bits = std::bit_cast<std::uint64_t>(interval_s);
    const auto exponent = static_cast<int>(bits >> 52U) - 1022;
    const int octave = std::clamp(exponent - first_octave, 0, static_cast<int>(octaves) - 1);
    const auto part = static_cast<std::size_t>(bits >> 49U & 7U);
    Bin& bin = bins_[static_cast<std::size_t>(octave) * parts + part];
    ++bin.count;
    bin.sum_s += interval_s;
    ++total_;
}

IntervalCounts::Bin IntervalCounts::around(std::size_t bin) const {
    constexpr std::size_t reach = 2;
    Bin sum;
    for (std::size_t each = bin - reach; each <= bin + reach; ++each) {
        sum.count += bins_[each].count;
        sum.sum_s += bins_[each].sum_s;
    }
    return sum;
}

std::optional<double> IntervalCounts::half_bit_s() const {
    constexpr std::uint64_t fewest = 64;
    constexpr double most_share = 0.6;
    constexpr double least_each_share = 0.08;  // preambles alone hold both lengths
    constexpr std::size_t margin = 2;
    if (total_ < fewest)
        return std::nullopt;
    const auto least = static_cast<std::uint64_t>(least_each_share * static_cast<double>(total_));
    std::uint64_t most = 0;
    std::optional<double> found;
    for (std::size_t bin = margin; bin + parts + margin < bins_.size(); ++bin) {
        const Bin halves = around(bin);
        const Bin wholes = around(bin + parts);
        // Bins to the left and right may hold as many; the one that holds most itself is the middle.
        const std::uint64_t weight = halves.count + wholes.count + bins_[bin].count;
        if (halves.count <= least || wholes.count <= least || weight <= most)
            continue;
        most = weight;
        const auto both = static_cast<double>(halves.count + wholes.count);
        found =
            both < most_share * static_cast<double>(total_)
                ? std::nullopt
                : std::optional((halves.sum_s + wholes.sum_s) / (static_cast<double>(halves.count) +
                                                                 2.0 * static_cast<double>(wholes.count)));
    }
    return found;
}

WireReaders::Wire::Wire(std::string wire_name)
    : name(std::move(wire_name)), reader([this](Frame frame) {
          good += frame.good() ? 1 : 0;
          if (frame.kind != FrameKind::unreadable || frames.size() - good < most_unreadable)
              frames.push_back(std::move(frame));
      }) {}

WireReaders::WireReaders(const std::vector<std::string>& names) {
    for (const std::string& name : names)
        wires_.push_back(std::make_unique<Wire>(name));
}

void WireReaders::change(Wire& wire, double t_s) {
    if (wire.edges++ > 0)
        wire.intervals.count(t_s - wire.last_s);
    wire.last_s = t_s;
    wire.reader.edge(t_s);
}

std::optional<double> WireReaders::half_bit_s() const {
    const Wire* busiest = nullptr;
    std::optional<double> found;
    for (const auto& wire : wires_) {
        const auto half_s = wire->intervals.half_bit_s();
        if (half_s && (busiest == nullptr || wire->edges > busiest->edges)) {
            busiest = wire.get();
            found = half_s;
        }
    }
    return found;
}

Result<WireReaders::Chosen> WireReaders::asked_for(const std::string& file, const CaptureOptions& options) {
    Chosen chosen{};
    for (std::size_t line = 0; line < chosen.size(); ++line) {
        const std::string& asked = line == 0 ? options.cc1 : options.cc2;
        if (asked.empty())
            continue;
        const auto found =
            std::find_if(wires_.begin(), wires_.end(), [&](const auto& wire) { return wire->name == asked; });
        if (found == wires_.end()) {
            std::string names;
            for (const auto& wire : wires_)
                names += (names.empty() ? "" : ", ") + wire->name;
            return refused(
                "there is no wire " + in_quotes(asked) + " in this capture; it has " + shortened(names, 200),
                file);
        }
        chosen[line] = found->get();
    }
    return chosen;
}

// The wires whose names say what they are; the first alone, where there is one only.
WireReaders::Chosen WireReaders::named() const {
    Chosen chosen{};
    for (const auto& wire : wires_) {
        const std::string name = lower_case(wire->name);
        for (std::size_t line = 0; line < chosen.size(); ++line) {
            if (chosen[line] == nullptr && name.find(line == 0 ? "cc1" : "cc2") != std::string::npos)
                chosen[line] = wire.get();
        }
    }
    if (chosen == Chosen{} && wires_.size() == 1)
        chosen[0] = wires_.front().get();
    return chosen;
}

// The one or two on which most packets run, in the order of the file.
WireReaders::Chosen WireReaders::talking() const {
    std::vector<Wire*> most;
    for (const auto& wire : wires_) {
        if (wire->good > 0)
            most.push_back(wire.get());
    }
    const auto position = [&](const Wire* wire) {
        return std::find_if(wires_.begin(), wires_.end(),
                            [&](const auto& each) { return each.get() == wire; }) -
               wires_.begin();
    };
    std::stable_sort(most.begin(), most.end(),
                     [](const Wire* a, const Wire* b) { return a->good > b->good; });
    most.resize(std::min<std::size_t>(most.size(), 2));
    std::sort(most.begin(), most.end(),
              [&](const Wire* a, const Wire* b) { return position(a) < position(b); });
    Chosen chosen{};
    std::copy(most.begin(), most.end(), chosen.begin());
    return chosen;
}

Result<WireReaders::Chosen> WireReaders::choose(const std::string& file, const CaptureOptions& options,
                                                CaptureReport& report) {
    if (!options.cc1.empty() || !options.cc2.empty())
        return asked_for(file, options);
    const Chosen by_name = named();
    const bool they_talk = std::any_of(by_name.begin(), by_name.end(),
                                       [](const Wire* wire) { return wire != nullptr && wire->good > 0; });
    const Chosen by_packets = talking();
    if (they_talk || by_packets == Chosen{})
        return by_name;
    std::string names = in_quotes(by_packets[0]->name);
    if (by_packets[1] != nullptr)
        names += " and " + in_quotes(by_packets[1]->name);
    report.remarks.push_back("Packets run on " + names + ": taken for the CC line.");
    return by_packets;
}

Result<Capture> WireReaders::finish(const std::string& file, const CaptureOptions& options) {
    for (const auto& wire : wires_)
        wire->reader.finish();
    Capture capture;
    const auto chosen = choose(file, options, capture.report);
    if (!chosen)
        return chosen.error();
    std::uint64_t edges_of_all = 0;
    for (const auto& wire : wires_) {
        capture.report.wires.push_back({wire->name, wire->edges, wire->good});
        edges_of_all += wire->edges;
    }
    bool any_packet = false;  // damaged ones too: then it is the CC line, and read rightly
    for (std::size_t line = 0; line < chosen->size(); ++line) {
        Wire* const wire = (*chosen)[line];
        if (wire == nullptr)
            continue;
        capture.report.edges += wire->edges;
        for (Frame& frame : wire->frames) {
            any_packet = any_packet || frame.kind != FrameKind::unreadable;
            capture.frames.push_back({std::move(frame), static_cast<int>(line) + 1});
        }
    }
    std::stable_sort(capture.frames.begin(), capture.frames.end(), in_order);
    if (*chosen == Chosen{})
        capture.report.edges = edges_of_all;
    if (!any_packet && edges_of_all >= fewest_edges_of_talk) {
        CaptureQuestion question;
        question.sentence =
            "The line changes " + integer_text(edges_of_all) + " times, but nothing of it reads as a packet.";
        capture.report.question = std::move(question);
    }
    return capture;
}

Error reading_stopped(const std::string& file) {
    return Error{ErrorKind::unavailable, "the reading was stopped", file};
}

Error time_goes_back(const std::string& file, std::uint64_t line) {
    return refused("time goes back here; the capture is damaged or was put together from several",
                   file + ", line " + integer_text(line));
}

}  // namespace eh::pd
