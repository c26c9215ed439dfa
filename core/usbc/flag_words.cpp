// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/flag_words.h"

namespace eh::pd {
namespace {

void add(std::vector<std::string>& words, bool holds, const char* word) {
    if (holds)
        words.emplace_back(word);
}

}  // namespace

std::vector<std::string> flag_words(std::span<const Offer> offers, bool of_source) {
    std::vector<std::string> words;
    const auto* first = offers.empty() ? nullptr : std::get_if<FixedSupply>(&offers.front());
    if (first == nullptr)
        return words;
    add(words, first->unconstrained,
        of_source ? "fed from the mains (unconstrained power)" : "has another supply (unconstrained power)");
    add(words, first->higher_capability, of_source ? "may ask for USB suspend" : "needs more than 5 V");
    add(words, first->extended_range, "knows the extended range");
    add(words, first->dual_role_power, "can give and take power");
    add(words, first->dual_role_data, "can be host and device");
    add(words, first->usb_communications, "talks USB, too");
    add(words, first->unchunked, "takes long messages whole");
    return words;
}

std::vector<std::string> flag_words(const Request& request) {
    std::vector<std::string> words;
    add(words, request.mismatch, "needs more than is offered (capability mismatch)");
    add(words, request.no_suspend, "does not want USB suspend");
    add(words, request.extended_range, "knows the extended range");
    add(words, request.usb_communications, "talks USB, too");
    add(words, request.unchunked, "takes long messages whole");
    return words;
}

std::string flags_sentence(const std::vector<std::string>& words) {
    std::string text;
    for (const std::string& word : words)
        text += (text.empty() ? " It says of itself: " : ", ") + word;
    return text.empty() ? text : text + ".";
}

}  // namespace eh::pd
