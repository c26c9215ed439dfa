// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/look_reading.h"

#include <algorithm>
#include <array>

#include "core/base/json_fields.h"
#include "core/readings/bench_text.h"
#include "core/readings/kind_parts.h"
#include "core/readings/quick_words.h"

namespace eh {
namespace {

constexpr std::array<const char*, look_count> look_sentences{"looks sound", "burnt or discoloured",
                                                             "corroded, marks of liquid",
                                                             "broken, loose or a bad joint", "dirty"};

constexpr std::array<const char*, flaw_count> flaw_sentences{"",
                                                             "melted",
                                                             "swollen",
                                                             "wet",
                                                             "bent",
                                                             "something is missing",
                                                             "worn",
                                                             "loose",
                                                             "cracked or blown",
                                                             "bridged with solder"};

}  // namespace

using LookTraits = Traits<LookReading>;

std::string describe(Look look) {
    return look_sentences[static_cast<std::size_t>(look)];
}

std::string describe(Look look, Flaw flaw) {
    return flaw == Flaw::none ? describe(look) : flaw_sentences[static_cast<std::size_t>(flaw)];
}

namespace looks {

std::optional<Seen> take_seen(Words& words) {
    for (int i = 0; i < look_count; ++i) {
        if (take_word(words, to_text(static_cast<Look>(i))))
            return Seen{static_cast<Look>(i)};
    }
    for (int i = 1; i < flaw_count; ++i) {
        const auto flaw = static_cast<Flaw>(i);
        if (take_word(words, to_text(flaw)))
            return Seen{look_of(flaw), flaw};
    }
    return std::nullopt;
}

void write(Look look, Flaw flaw, nlohmann::json& file) {
    file["look"] = to_text(look);
    if (flaw != Flaw::none)
        file["flaw"] = to_text(flaw);
}

Seen read(const JsonReader& field) {
    Seen seen;
    if (field.has("flaw")) {
        seen.flaw = read_word(field.at("flaw"), &flaw_from);
        seen.look = look_of(seen.flaw);
    }
    if (field.has("flaw") && !field.has("look"))
        return seen;
    const Look said = read_word(field.at("look"), &look_from);
    if (seen.flaw != Flaw::none && said != seen.look)
        field.at("look").refuse("what is " + to_text(seen.flaw) + " counts as " + to_text(seen.look) +
                                ", not as " + to_text(said));
    seen.look = said;
    return seen;
}

}  // namespace looks

LookReading LookTraits::at(const std::string& place) {
    return {place};
}

std::string LookTraits::value_text(const LookReading& value, const Topology&) {
    const std::string where = describe(value.contact);
    return describe(value.seen, value.flaw) + (where.empty() ? "" : ", at its " + where);
}

std::string LookTraits::subject(const LookReading& value, const BenchConfiguration&,
                                const Topology& topology) {
    return title_of_block(topology, value.part);
}

void LookTraits::write(const LookReading& value, nlohmann::json& file) {
    looks::write(value.seen, value.flaw, file);
    if (value.contact != Contact::none)
        file["contact"] = to_text(value.contact);
}

LookReading LookTraits::read(const JsonReader& field) {
    const looks::Seen seen = looks::read(field);
    LookReading value{kinds::place_of(field), seen.look, seen.flaw};
    if (field.has("contact"))
        value.contact = read_word(field.at("contact"), &contact_from);
    return value;
}

Outcome LookTraits::fits(const LookReading& value, const BenchConfiguration& bench, const MachinePlan& plan,
                         const std::string& where) {
    const int block = plan.find_block(value.part);
    if (block < 0)
        return refused("this machine has no part “" + value.part + "”", where);
    const auto& contacts = plan.blocks[static_cast<std::size_t>(block)].kind->contacts;
    if (value.contact != Contact::none && contacts.count(value.contact) == 0)
        return refused("the part “" + value.part + "” has no " + describe(value.contact), where);
    return kinds::without_supply(bench, where);
}

std::string LookTraits::bench_conflict(const BenchConfiguration&) {
    return {};
}

namespace {

// "pin cc1" out of the line; none where it is not there.
Result<Contact> take_contact(Words& words) {
    const auto pin = std::find(words.begin(), words.end(), "pin");
    if (pin == words.end())
        return Contact::none;
    const std::string name = pin + 1 == words.end() ? "" : *(pin + 1);
    const auto contact = contact_from(name);
    if (!contact)
        return refused("after “pin” comes power, cc1, cc2, id, sense, signal or ground");
    words.erase(pin, pin + 2);
    return *contact;
}

}  // namespace

Result<LookReading> LookTraits::from_quick(QuickInput& typed) {
    const std::string example =
        "; write for instance look " + typed.topology.blocks.front().id +
        " burnt, or corroded, broken, dirty, sound; or closer: melted, swollen, wet, bent, "
        "missing, worn, loose, cracked, bridged; of one contact of an inlet: bent pin cc1";
    const auto seen = looks::take_seen(typed.words);
    if (!seen)
        return refused("what is to be seen" + example);
    const auto contact = take_contact(typed.words);
    if (!contact)
        return contact.error();
    const auto block = find_block(typed.words, typed.topology);
    if (!block)
        return block.error();
    return LookReading{(*block)->id, seen->look, seen->flaw, *contact};
}

void LookTraits::bring(const LookReading& value, const BenchConfiguration&, const Topology&,
                       ReadingTerms& terms) {
    terms.word = static_cast<int>(value.seen);
}

std::size_t LookTraits::outcome_count(const MachinePlan&) {
    return look_count;
}

std::string LookTraits::outcome_text(int outcome, const MachinePlan&) {
    return describe(static_cast<Look>(outcome));
}

}  // namespace eh
