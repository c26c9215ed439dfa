// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/stock_search.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <numeric>
#include <optional>
#include <tuple>

#include "core/base/text.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr double none = -1.0;
constexpr double as_asked = 0.01;

enum class Asks { words, value, volts, amps, tolerance };

struct Term {
    Asks asks = Asks::words;
    double number = 0.0;
    std::string word;
};

std::optional<double> percent_of(const std::string& word) {
    if (word.size() < 2 || word.back() != '%')
        return std::nullopt;
    const auto number = parse_quantity(word.substr(0, word.size() - 1));
    if (!number || number->unit != Unit::none || number->over_limit)
        return std::nullopt;
    return number->value / 100.0;
}

Term term_of(const std::string& word) {
    if (const auto percent = percent_of(word))
        return {Asks::tolerance, *percent, word};
    const auto quantity = parse_quantity(word);
    // A bare number is as likely a package or a drawer.
    if (!quantity || quantity->over_limit)
        return {Asks::words, 0.0, word};
    switch (quantity->unit) {
        case Unit::volts:
            return {Asks::volts, quantity->value, word};
        case Unit::amps:
            return {Asks::amps, quantity->value, word};
        case Unit::ohms:
        case Unit::farads:
            return {Asks::value, quantity->value, word};
        default:
            break;
    }
    const bool bare = word.find_first_not_of("0123456789.,") == std::string::npos;
    return {bare ? Asks::words : Asks::value, quantity->value, word};
}

std::vector<Term> terms_of(std::string_view question) {
    std::vector<Term> terms;
    std::string word;
    for (std::size_t i = 0; i <= question.size(); ++i) {
        const char c = i < question.size() ? question[i] : ' ';
        if (std::isspace(static_cast<unsigned char>(c)) == 0) {
            word += c;
        } else if (!word.empty()) {
            Term term = term_of(word);
            term.word = lower_case(word);
            terms.push_back(std::move(term));
            word.clear();
        }
    }
    return terms;
}

}  // namespace

StockSearch::StockSearch(const Stock& stock) {
    entries_.reserve(stock.parts.size());
    for (const StockPart& part : stock.parts)
        entries_.push_back({lower_case(part.name + ' ' + to_text(part.kind) + ' ' + part.package + ' ' +
                                       part.dielectric + ' ' + part.place + ' ' + part.from_board + ' ' +
                                       part.from_position + ' ' + part.note),
                            part.kind, part.value.value_or(none), part.tolerance.value_or(none),
                            part.volts.value_or(none), part.amps.value_or(none), part.count});
    order_.resize(entries_.size());
    std::iota(order_.begin(), order_.end(), std::size_t{0});
    std::stable_sort(order_.begin(), order_.end(), [this](std::size_t a, std::size_t b) {
        const auto key = [](const Entry& e) { return std::tuple(e.count == 0, e.kind, e.value); };
        const auto ka = key(entries_[a]);
        const auto kb = key(entries_[b]);
        return ka != kb ? ka < kb : entries_[a].words < entries_[b].words;
    });
}

std::vector<std::size_t> StockSearch::find(std::string_view question) const {
    const std::vector<Term> terms = terms_of(question);
    const auto meets = [](const Entry& entry, const Term& term) {
        switch (term.asks) {
            case Asks::volts:
                return entry.volts >= term.number * (1.0 - as_asked);
            case Asks::amps:
                return entry.amps >= term.number * (1.0 - as_asked);
            case Asks::tolerance:
                return entry.tolerance >= 0.0 && entry.tolerance <= term.number * (1.0 + as_asked);
            case Asks::value:
                if (entry.value >= 0.0 && std::abs(entry.value - term.number) <= as_asked * term.number)
                    return true;
                break;
            case Asks::words:
                break;
        }
        return entry.words.find(term.word) != std::string::npos;
    };
    std::vector<std::size_t> found;
    for (const std::size_t i : order_)
        if (std::all_of(terms.begin(), terms.end(),
                        [&](const Term& term) { return meets(entries_[i], term); }))
            found.push_back(i);
    return found;
}

}  // namespace eh
