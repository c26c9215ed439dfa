// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/look.h"

#include "core/base/word_list.h"

namespace eh {
namespace {

constexpr std::array<const char*, look_count> look_names{"sound", "burnt", "corroded", "broken", "dirty"};

// In the order of the enumeration; job files and data files keep these words for good.
constexpr std::array<const char*, flaw_count> flaw_names{
    "", "melted", "swollen", "wet", "bent", "missing", "worn", "loose", "cracked", "bridged"};

constexpr std::array<const char*, contact_count> contact_names{"",   "power", "cc1",    "cc2",
                                                               "id", "sense", "signal", "ground"};
constexpr std::array<const char*, contact_count> contact_titles{
    "",           "power contacts", "CC1 contact",    "CC2 contact",
    "ID contact", "sense contact",  "signal contact", "ground contacts"};

}  // namespace

Look look_of(Flaw flaw) {
    switch (flaw) {
        case Flaw::none:
            return Look::sound;
        case Flaw::melted:
            return Look::burnt;
        case Flaw::wet:
            return Look::corroded;
        case Flaw::swollen:
        case Flaw::bent:
        case Flaw::missing:
        case Flaw::worn:
        case Flaw::loose:
        case Flaw::cracked:
        case Flaw::bridged:
            break;
    }
    return Look::broken;
}

std::string to_text(Flaw flaw) {
    return flaw_names[static_cast<std::size_t>(flaw)];
}

std::optional<Flaw> flaw_from(const std::string& text) {
    return text.empty() ? std::nullopt : value_of_word<Flaw>(flaw_names, text);
}

std::string to_text(Look look) {
    return look_names[static_cast<std::size_t>(look)];
}

std::optional<Look> look_from(const std::string& text) {
    return value_of_word<Look>(look_names, text);
}

std::string to_text(Contact contact) {
    return contact_names[static_cast<std::size_t>(contact)];
}

std::optional<Contact> contact_from(const std::string& text) {
    return text.empty() ? std::nullopt : value_of_word<Contact>(contact_names, text);
}

std::string describe(Contact contact) {
    return contact_titles[static_cast<std::size_t>(contact)];
}

}  // namespace eh
