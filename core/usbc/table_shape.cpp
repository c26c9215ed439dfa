// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/table_shape.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <cmath>

#include "core/base/text.h"

namespace eh::pd {
namespace {

constexpr std::size_t most_columns = 33;  // a time and 32 wires
constexpr std::size_t longest_number = 40;

std::string_view trimmed(std::string_view text) {
    constexpr std::string_view around = " \t\r\"'";
    const std::size_t from = text.find_first_not_of(around);
    if (from == std::string_view::npos)
        return {};
    return text.substr(from, text.find_last_not_of(around) - from + 1);
}

std::optional<double> number_in(std::string_view field, bool comma_is_mark) {
    field = trimmed(field);
    if (field.starts_with('+'))
        field.remove_prefix(1);
    std::array<char, longest_number> copy{};
    if (field.empty() || field.size() > copy.size())
        return std::nullopt;
    std::copy(field.begin(), field.end(), copy.begin());
    if (comma_is_mark)
        std::replace(copy.begin(), copy.end(), ',', '.');
    double number = 0.0;
    const char* const end = copy.data() + field.size();
    const auto [rest, problem] = std::from_chars(copy.data(), end, number);
    if (problem != std::errc() || rest != end || !std::isfinite(number))
        return std::nullopt;
    return number;
}

std::vector<std::string_view> fields_of(std::string_view line, char separator) {
    std::vector<std::string_view> fields;
    for (;;) {
        const std::size_t end = separator == 0 ? line.size() : std::min(line.find(separator), line.size());
        fields.push_back(trimmed(line.substr(0, end)));
        if (end == line.size() || fields.size() > most_columns)
            return fields;
        line.remove_prefix(end + 1);
    }
}

// The separator by which a line is numbers alone; 0 for a single number.
std::optional<char> separator_of(std::string_view line) {
    std::vector<double> numbers;
    for (const char separator : {';', '\t', ',', ' '}) {
        if (line.find(separator) != std::string_view::npos && split_numbers(line, separator, numbers) &&
            numbers.size() > 1)
            return separator;
    }
    return split_numbers(line, 0, numbers) ? std::optional<char>(char{0}) : std::nullopt;
}

// The words of a column's name: letters with the micro sign, small.
std::vector<std::string> words_of(std::string_view name) {
    std::vector<std::string> words;
    std::string word;
    for (const char letter : lower_case(name)) {
        const auto byte = static_cast<unsigned char>(letter);
        if (byte >= 0x80 || std::isalpha(byte) != 0) {
            word += letter;
        } else if (!word.empty()) {
            words.push_back(std::move(word));
            word.clear();
        }
    }
    if (!word.empty())
        words.push_back(std::move(word));
    return words;
}

using Unit = std::pair<std::string_view, double>;
// The micro sign and the Greek letter of the same shape, both in UTF-8.
constexpr std::array<Unit, 16> time_units{{{"s", 1.0},
                                           {"sec", 1.0},
                                           {"secs", 1.0},
                                           {"second", 1.0},
                                           {"seconds", 1.0},
                                           {"ms", 1e-3},
                                           {"msec", 1e-3},
                                           {"milliseconds", 1e-3},
                                           {"us", 1e-6},
                                           {"usec", 1e-6},
                                           {"microseconds", 1e-6},
                                           {"\xC2\xB5s", 1e-6},
                                           {"\xCE\xBCs", 1e-6},
                                           {"ns", 1e-9},
                                           {"nsec", 1e-9},
                                           {"nanoseconds", 1e-9}}};
constexpr std::array<Unit, 4> volt_units{{{"v", 1.0}, {"volts", 1.0}, {"mv", 1e-3}, {"millivolts", 1e-3}}};
constexpr std::array<Unit, 3> rate_units{{{"hz", 1.0}, {"khz", 1e3}, {"mhz", 1e6}}};
constexpr std::array<std::string_view, 6> current_words{"amps", "milliamps", "microamps",
                                                        "a",    "ma",        "current"};

template <std::size_t N>
std::optional<double> unit_in(const std::vector<std::string>& words, const std::array<Unit, N>& units) {
    for (auto word = words.rbegin(); word != words.rend(); ++word) {
        const auto* known =
            std::find_if(units.begin(), units.end(), [&](const Unit& unit) { return unit.first == *word; });
        if (known != units.end())
            return known->second;
    }
    return std::nullopt;
}

bool holds(const std::vector<std::string>& words, std::string_view wanted) {
    return std::find(words.begin(), words.end(), wanted) != words.end();
}

bool names_a_time(const std::vector<std::string>& words) {
    return holds(words, "time") || holds(words, "t") || holds(words, "timestamp");
}

// Seconds a sample, where a line in front says "sample rate: 2.5 MHz" or "sample interval: 4e-7 s".
std::optional<double> sample_time_in(std::string_view line) {
    const std::vector<std::string> words = words_of(line);
    const bool rate = holds(words, "samplerate") || (holds(words, "sample") && holds(words, "rate")) ||
                      (holds(words, "sampling") && holds(words, "rate"));
    const bool interval = (holds(words, "sample") || holds(words, "sampling")) &&
                          (holds(words, "interval") || holds(words, "period"));
    if (!rate && !interval)
        return std::nullopt;
    // The last number of the line: words before it may hold digits.
    std::optional<double> number;
    for (std::size_t at = 0; at < line.size();) {
        double value = 0.0;
        const auto [rest, problem] = std::from_chars(line.data() + at, line.data() + line.size(), value);
        if (problem == std::errc() && std::isfinite(value) && value > 0.0) {
            number = value;
            at = static_cast<std::size_t>(rest - line.data());
        } else {
            ++at;
        }
    }
    if (!number)
        return std::nullopt;
    return rate ? 1.0 / (*number * unit_in(words, rate_units).value_or(1.0))
                : *number * unit_in(words, time_units).value_or(1.0);
}

bool rises(std::span<const std::vector<double>> rows, std::size_t column) {
    constexpr std::size_t fewest = 3;
    if (rows.size() < fewest)
        return false;
    for (std::size_t i = 1; i < rows.size(); ++i) {
        if (rows[i].size() <= column || rows[i][column] <= rows[i - 1][column])
            return false;
    }
    return true;
}

bool counts_up(std::span<const std::vector<double>> rows, std::size_t column) {
    for (std::size_t i = 1; i < rows.size(); ++i) {
        if (rows[i].size() <= column || rows[i][column] - rows[i - 1][column] != 1.0)
            return false;
    }
    return true;
}

// What the names of the columns say, and which is the time.
void read_names(TableShape& shape, const std::vector<std::string_view>& names,
                std::span<const std::vector<double>> rows) {
    for (std::size_t i = 0; i < names.size() && !shape.time; ++i) {
        const std::vector<std::string> words = words_of(names[i]);
        if (names_a_time(words)) {
            shape.time = i;
            shape.time_unit_s = unit_in(words, time_units);
        }
    }
    if (!shape.time && shape.columns > 1 && rises(rows, 0)) {
        shape.time = 0;
        if (!names.empty())
            shape.time_unit_s = unit_in(words_of(names[0]), time_units);
    }
    if (shape.time && !shape.time_unit_s && counts_up(rows, *shape.time))
        shape.time_unit_s = shape.sample_s;  // the column numbers the samples
    std::size_t number = 0;
    for (std::size_t i = 0; i < shape.columns; ++i) {
        if (i == shape.time)
            continue;
        ++number;
        TableColumn column{i, "CC" + integer_text(number), 1.0};
        if (i < names.size()) {
            const std::vector<std::string> words = words_of(names[i]);
            column.name = as_utf8(shortened(names[i], longest_number));
            column.scale = unit_in(words, volt_units).value_or(1.0);
            shape.currents =
                shape.currents || std::any_of(current_words.begin(), current_words.end(),
                                              [&](std::string_view word) { return holds(words, word); });
        } else if (number > 2) {
            column.name = "column " + integer_text(i + 1);
        }
        shape.values.push_back(std::move(column));
    }
}

}  // namespace

bool split_numbers(std::string_view line, char separator, std::vector<double>& numbers) {
    numbers.clear();
    for (;;) {
        const std::size_t end = separator == 0 ? line.size() : std::min(line.find(separator), line.size());
        const auto number = number_in(line.substr(0, end), separator != ',');
        if (!number || numbers.size() == most_columns)
            return false;
        numbers.push_back(*number);
        if (end == line.size())
            return true;
        line.remove_prefix(end + 1);
    }
}

std::optional<TableShape> table_shape(std::span<const std::string> lines) {
    TableShape shape;
    std::optional<char> separator;
    std::vector<double> numbers;
    for (; shape.first_row < lines.size() && !separator; ++shape.first_row) {
        separator = separator_of(lines[shape.first_row]);
        // A lone number among words in front is no sample: the next line has to be of the same kind.
        if (separator && shape.first_row + 1 < lines.size() &&
            separator_of(lines[shape.first_row + 1]) != separator)
            separator.reset();
    }
    if (!separator)
        return std::nullopt;
    --shape.first_row;
    shape.separator = *separator;
    std::vector<std::vector<double>> rows;
    for (const std::string& line : lines.subspan(shape.first_row)) {
        if (split_numbers(line, shape.separator, numbers))
            rows.push_back(numbers);
    }
    shape.columns = rows.front().size();
    std::vector<std::string_view> names;
    for (std::size_t i = 0; i < shape.first_row; ++i) {
        std::string_view line = lines[i];
        if (const auto sample_s = sample_time_in(line))
            shape.sample_s = sample_s;
        line.remove_prefix(std::min(line.find_first_not_of("#; "), line.size()));
        // The last line in front with as many fields as the samples names them.
        const std::vector<std::string_view> fields = fields_of(line, shape.separator);
        if (fields.size() == shape.columns && !line.empty())
            names = fields;
    }
    read_names(shape, names, rows);
    return shape;
}

}  // namespace eh::pd
