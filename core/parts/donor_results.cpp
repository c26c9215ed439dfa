// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/donor_results.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <cstdio>
#include <sstream>

#include "core/base/distributions.h"
#include "core/base/json_reader.h"
#include "core/base/json_text.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

using nlohmann::json;

constexpr double contract_within = 0.1;

std::string key(const std::string& text) {
    std::string out;
    for (const char c : text)
        out += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    const auto first = out.find_first_not_of(" \t");
    if (first == std::string::npos)
        return {};
    return out.substr(first, out.find_last_not_of(" \t") - first + 1);
}

bool same(const std::string& a, const std::string& b) {
    return key(a) == key(b);
}

std::string outcome_text(const DonorResult& result) {
    std::string text;
    for (const auto& [port, outcome] : result.ports) {
        if (!text.empty())
            text += "; ";
        text +=
            port + " " + format_quantity(outcome.volts, Unit::volts) + (outcome.data ? "" : " without data");
    }
    return (result.job.empty() ? std::string() : result.job + ": ") + text;
}

}  // namespace

bool DonorResult::good() const {
    return !ports.empty() && std::all_of(ports.begin(), ports.end(), [this](const auto& entry) {
        return entry.second.data &&
               std::abs(entry.second.volts - wanted_volts) <= contract_within * wanted_volts;
    });
}

Outcome check_donor_result(const DonorResult& result) {
    for (const auto& [text, what] : {std::pair{&result.from_board, "the board it came from"},
                                     {&result.from_position, "its position there"},
                                     {&result.to_board, "the board it went to"},
                                     {&result.to_position, "its position there"}})
        if (key(*text).empty())
            return refused(std::string("name ") + what, "donor");
    if (result.ports.empty())
        return refused("write what at least one port did: its volts, and whether data works", "donor");
    for (const auto& [port, outcome] : result.ports)
        if (!(outcome.volts >= 0.0 && outcome.volts <= 60.0))
            return refused("a port gives 0 to 60 V", port);
    return Done{};
}

Result<std::map<std::string, DonorPortOutcome>> parse_port_outcomes(const std::string& text) {
    std::map<std::string, DonorPortOutcome> ports;
    std::istringstream parts(text);
    for (std::string part; std::getline(parts, part, ';');) {
        std::string rest = key(part);
        if (rest.empty())
            continue;
        DonorPortOutcome outcome;
        if (const auto none = rest.find("no data"); none != std::string::npos) {
            outcome.data = false;
            rest = key(rest.substr(0, none));
        }
        // The volts stand at the end, with or without a blank before their unit.
        auto gap = rest.find_last_of(' ');
        if (gap != std::string::npos && rest.substr(gap + 1) == "v")
            gap = gap == 0 ? std::string::npos : rest.find_last_of(' ', gap - 1);
        const auto volts = gap == std::string::npos ? Result<Quantity>(refused("no volts"))
                                                    : parse_quantity_as(rest.substr(gap + 1), Unit::volts);
        if (!volts)
            return refused("write each port with its volts, as in “left 20 V; right 5 V no data”",
                           "“" + part + "”");
        outcome.volts = volts->value;
        ports[key(rest.substr(0, gap))] = outcome;
    }
    if (ports.empty())
        return refused("write what each port did, as in “left 20 V; right 5 V no data”", "ports");
    return ports;
}

Result<std::vector<DonorResult>> parse_donor_results(const std::string& text, const std::string& file) {
    return read_json<std::vector<DonorResult>>(text, file, [](const JsonReader& root) {
        root.check_format("eager-hound.donor-results", 1);
        std::vector<DonorResult> list;
        for (const JsonReader& item : root.items("results")) {
            DonorResult result;
            result.from_board = item.text("from_board");
            result.from_position = item.text("from_position");
            result.to_board = item.text("to_board");
            result.to_position = item.text("to_position");
            result.wanted_volts = item.number("wanted_volts", 20.0);
            result.job = item.text("job", "");
            result.when_ms = static_cast<std::int64_t>(item.number("when_ms", 0.0));
            for (const auto& [port, outcome] : item.at("ports").members())
                result.ports[port] = {outcome.number("volts"), outcome.boolean("data", true)};
            if (auto checked = check_donor_result(result); !checked)
                item.refuse(checked.error().message);
            list.push_back(std::move(result));
        }
        return list;
    });
}

std::string write_donor_results(const std::vector<DonorResult>& results) {
    json list = json::array();
    for (const DonorResult& result : results) {
        json ports = json::object();
        for (const auto& [port, outcome] : result.ports)
            ports[port] = {{"volts", outcome.volts}, {"data", outcome.data}};
        json item{{"from_board", result.from_board},
                  {"from_position", result.from_position},
                  {"to_board", result.to_board},
                  {"to_position", result.to_position},
                  {"wanted_volts", result.wanted_volts},
                  {"when_ms", result.when_ms},
                  {"ports", std::move(ports)}};
        if (!result.job.empty())
            item["job"] = result.job;
        list.push_back(std::move(item));
    }
    return json_text(json{{"format", "eager-hound.donor-results/1"}, {"results", std::move(list)}}, 1) + "\n";
}

DonorAdvice advise_donor(const std::vector<DonorResult>& results, const std::string& from_board,
                         const std::string& from_position, const std::string& to_board,
                         const std::string& to_position) {
    DonorAdvice advice;
    std::vector<std::string> hints;
    for (const DonorResult& r : results) {
        if (same(r.from_board, from_board) && same(r.from_position, from_position) &&
            same(r.to_board, to_board) && same(r.to_position, to_position)) {
            ++(r.good() ? advice.worked : advice.failed);
            advice.why.push_back((r.good() ? "Worked. " : "Failed. ") + outcome_text(r) + ".");
        } else if (same(r.from_board, to_board) && same(r.from_position, to_position) &&
                   same(r.to_board, from_board) && same(r.to_position, from_position)) {
            hints.push_back("The way back " + std::string(r.good() ? "worked" : "failed") + " (" +
                            outcome_text(r) + "): a hint, no proof.");
        } else if (same(r.from_board, from_board) && same(r.to_board, to_board)) {
            hints.push_back("Between these boards, from " + r.from_position + " to " + r.to_position +
                            ", it " + (r.good() ? "worked" : "failed") + " (" + outcome_text(r) + ").");
        }
    }
    advice.lowest_chance = beta_quantile(advice.worked + 0.5, advice.failed + 0.5, 0.05);
    advice.highest_chance = beta_quantile(advice.worked + 0.5, advice.failed + 0.5, 0.95);
    const bool same_place = same(from_board, to_board) && same(from_position, to_position);
    if (advice.worked > 0 && advice.failed > 0) {
        advice.standing = DonorStanding::mixed;
        advice.verdict = "worked and failed: risk";
    } else if (advice.failed > 0) {
        advice.standing = DonorStanding::failed_before;
        advice.verdict = "failed before";
    } else if (advice.worked > 0) {
        advice.standing = DonorStanding::proven;
        advice.verdict = "proven";
    } else if (same_place) {
        advice.standing = DonorStanding::same_place;
        advice.verdict = "safe: same board, same position";
        advice.why.emplace_back(
            "It carries the program that belongs here; the shop has no result of its own yet.");
    } else {
        advice.standing = DonorStanding::unknown;
        advice.verdict = "unknown: risk";
        advice.why.emplace_back(same(from_board, to_board)
                                    ? "The same board, but another position: programs differ between sides. "
                                      "Ports may stay at 5 V or lose data."
                                    : "Another board: its program may not fit. Ports may stay at 5 V, one of "
                                      "them may, or data may be dead.");
    }
    if (advice.standing == DonorStanding::unknown || advice.standing == DonorStanding::mixed)
        advice.why.emplace_back(
            "Before the last joints: measure every port's volts, plug both ways, and a drive in each.");
    advice.why.insert(advice.why.end(), hints.begin(), hints.end());
    return advice;
}

}  // namespace eh
