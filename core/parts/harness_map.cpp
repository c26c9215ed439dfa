// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/harness_map.h"

#include <algorithm>
#include <deque>
#include <optional>
#include <set>
#include <sstream>

#include "core/base/text.h"

namespace eh {
namespace {

std::string pair_text(const ContinuityReading& reading) {
    return reading.a + " – " + reading.b + (reading.connected ? " connected" : " open");
}

// Everything of one push state.
class Wiring {
  public:
    Wiring(const std::vector<ContinuityReading>& readings, PlugPush push) : readings_(readings) {
        for (std::size_t i = 0; i < readings.size(); ++i) {
            if (readings[i].push != push)
                continue;
            if (readings[i].connected) {
                links_[readings[i].a].push_back(i);
                links_[readings[i].b].push_back(i);
            } else {
                open_.push_back(i);
            }
        }
    }

    // The fewest readings that connect the two; none where nothing does.
    [[nodiscard]] std::optional<std::vector<std::size_t>> path(const std::string& from,
                                                               const std::string& to) const {
        std::map<std::string, std::pair<std::string, std::size_t>> came_by;
        std::set<std::string> seen{from};
        std::deque<std::string> queue{from};
        while (!queue.empty()) {
            const std::string here = queue.front();
            queue.pop_front();
            if (here == to)
                return trace(came_by, from, to);
            const auto links = links_.find(here);
            if (links == links_.end())
                continue;
            for (const std::size_t i : links->second) {
                const std::string& there = readings_[i].a == here ? readings_[i].b : readings_[i].a;
                if (seen.insert(there).second) {
                    came_by[there] = {here, i};
                    queue.push_back(there);
                }
            }
        }
        return std::nullopt;
    }

    [[nodiscard]] bool connected(const std::string& a, const std::string& b) const {
        return path(a, b).has_value();
    }

    // Whether a reading, or what is connected, shows the two apart.
    [[nodiscard]] bool apart(const std::string& a, const std::string& b) const {
        return std::any_of(open_.begin(), open_.end(), [&](std::size_t i) {
            const ContinuityReading& r = readings_[i];
            return (connected(a, r.a) && connected(b, r.b)) || (connected(a, r.b) && connected(b, r.a));
        });
    }

    [[nodiscard]] const std::vector<std::size_t>& open_readings() const { return open_; }
    [[nodiscard]] bool empty() const { return links_.empty() && open_.empty(); }

  private:
    static std::vector<std::size_t> trace(
        const std::map<std::string, std::pair<std::string, std::size_t>>& came_by, const std::string& from,
        std::string at) {
        std::vector<std::size_t> readings;
        while (at != from) {
            const auto& [before, reading] = came_by.at(at);
            readings.push_back(reading);
            at = before;
        }
        std::reverse(readings.begin(), readings.end());
        return readings;
    }

    const std::vector<ContinuityReading>& readings_;
    std::map<std::string, std::vector<std::size_t>> links_;
    std::vector<std::size_t> open_;
};

void find_contradictions(HarnessAnswer& answer, const Wiring& wiring,
                         const std::vector<ContinuityReading>& readings) {
    for (const std::size_t open : wiring.open_readings()) {
        const auto path = wiring.path(readings[open].a, readings[open].b);
        if (!path)
            continue;
        HarnessContradiction found{open, *path, {}};
        std::string others;
        for (const std::size_t i : *path)
            others += (others.empty() ? "" : " and ") +
                      ("reading " + integer_text(i + 1) + " (" + pair_text(readings[i]) + ")");
        found.says = "Reading " + integer_text(open + 1) + " (" + pair_text(readings[open]) +
                     ") contradicts " + others + ". Take them again.";
        answer.contradictions.push_back(std::move(found));
    }
}

std::map<std::string, PinAnswer> pins_of(const HarnessFacts& facts, const Wiring& wiring) {
    std::map<std::string, PinAnswer> answers;
    for (const std::string& pin : facts.pins) {
        PinAnswer& answer = answers[pin];
        std::size_t excluded = 0;
        for (const std::string& contact : facts.contacts) {
            if (wiring.connected(pin, contact)) {
                answer = {contact, true};
                break;
            }
            excluded += wiring.apart(pin, contact);
        }
        if (answer.contact.empty())
            answer.known = excluded == facts.contacts.size();
    }
    return answers;
}

// The pin of which most contacts are excluded is settled by the fewest readings.
std::string next_reading(const HarnessFacts& facts, const Wiring& wiring,
                         const std::map<std::string, PinAnswer>& answers) {
    std::string next;
    std::size_t most_excluded = 0;
    for (const std::string& pin : facts.pins) {
        if (answers.at(pin).known)
            continue;
        std::vector<std::string> open;
        for (const std::string& contact : facts.contacts)
            if (!wiring.apart(pin, contact))
                open.push_back(contact);
        const std::size_t excluded = facts.contacts.size() - open.size();
        if (open.empty() || (!next.empty() && excluded <= most_excluded))
            continue;
        most_excluded = excluded;
        next = "pin " + pin + " against " + open.front();
    }
    return next;
}

}  // namespace

Result<ContinuityReading> parse_continuity(std::string_view text) {
    std::string spaced = lower_case(text);
    std::replace(spaced.begin(), spaced.end(), '-', ' ');
    std::istringstream words(spaced);
    std::vector<std::string> list;
    for (std::string word; words >> word;)
        list.push_back(word);
    ContinuityReading reading;
    if (!list.empty() && (list.back() == "pushed" || list.back() == "rest")) {
        reading.push = list.back() == "pushed" ? PlugPush::pushed : PlugPush::rest;
        list.pop_back();
    }
    static const std::set<std::string> closed_words{"ok", "yes", "0", "connected", "beep"};
    static const std::set<std::string> open_words{"open", "no", "ol"};
    if (list.size() != 3 || (closed_words.count(list[2]) == 0 && open_words.count(list[2]) == 0))
        return refused("write two places and what the meter says, as in “1 outer ok”, “2 centre open pushed”",
                       "“" + std::string(text.substr(0, 40)) + "”");
    reading.a = list[0];
    reading.b = list[1];
    reading.connected = closed_words.count(list[2]) != 0;
    return reading;
}

Result<HarnessAnswer> map_harness(const HarnessFacts& facts, const std::vector<ContinuityReading>& readings) {
    std::set<std::string> names(facts.pins.begin(), facts.pins.end());
    names.insert(facts.contacts.begin(), facts.contacts.end());
    for (std::size_t i = 0; i < readings.size(); ++i) {
        const std::string place = "reading " + integer_text(i + 1);
        for (const std::string& name : {readings[i].a, readings[i].b})
            if (names.count(name) == 0)
                return refused("“" + name + "” is neither a pin of the harness nor a contact of the jack",
                               place);
        if (readings[i].a == readings[i].b)
            return refused("a thing is always connected to itself; put the other probe elsewhere", place);
    }
    HarnessAnswer answer;
    const Wiring rest(readings, PlugPush::rest);
    const Wiring pushed(readings, PlugPush::pushed);
    find_contradictions(answer, rest, readings);
    find_contradictions(answer, pushed, readings);
    answer.at_rest = pins_of(facts, rest);
    answer.pushed = pins_of(facts, pushed);
    for (const std::string& pin : facts.pins) {
        const PinAnswer& a = answer.at_rest.at(pin);
        const PinAnswer& b = answer.pushed.at(pin);
        if (!a.known || !b.known || a.contact == b.contact)
            continue;
        answer.changes.push_back("Pin " + pin + ": " + (a.contact.empty() ? "open" : a.contact) +
                                 " at rest, " + (b.contact.empty() ? "open" : b.contact) +
                                 " when pushed: a worn contact or a broken wire.");
    }
    for (std::size_t i = 0; i < facts.contacts.size(); ++i)
        for (std::size_t j = i + 1; j < facts.contacts.size(); ++j)
            if (rest.connected(facts.contacts[i], facts.contacts[j]) ||
                pushed.connected(facts.contacts[i], facts.contacts[j]))
                answer.shorts.push_back("The contacts " + facts.contacts[i] + " and " + facts.contacts[j] +
                                        " are connected: the jack is shorted, or a wire is.");
    answer.next = next_reading(facts, rest, answer.at_rest);
    return answer;
}

HarnessOrder compare_harness(const std::map<std::string, std::string>& old_order,
                             const std::map<std::string, std::string>& replacement) {
    HarnessOrder order;
    std::map<std::string, std::vector<std::string>> free;  // pins of the replacement by contact
    for (const auto& [pin, contact] : replacement)
        if (!contact.empty())
            free[contact].push_back(pin);
    // Wires that are right already stay.
    std::vector<std::pair<std::string, std::string>> wanting;
    for (const auto& [pin, contact] : old_order) {
        if (contact.empty())
            continue;
        auto& pins = free[contact];
        const auto here = std::find(pins.begin(), pins.end(), pin);
        if (here != pins.end())
            pins.erase(here);
        else
            wanting.emplace_back(pin, contact);
    }
    order.possible = true;
    for (const auto& [pin, contact] : wanting) {
        auto& pins = free[contact];
        if (pins.empty()) {
            order.possible = false;
            order.moves.push_back("Nothing of the replacement leads to " + contact + " for pin " + pin + ".");
            continue;
        }
        order.moves.push_back("The wire at pin " + pins.front() + " of the replacement (" + contact +
                              ") belongs at pin " + pin + ".");
        pins.erase(pins.begin());
    }
    order.fits = order.moves.empty();
    return order;
}

}  // namespace eh
