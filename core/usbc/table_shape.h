// SPDX-License-Identifier: GPL-3.0-or-later
// How a table of samples is written: what separates its columns, where the decimal mark is a comma, which
// column is the time and in what unit. Every program exports its own way, most with lines of words in front.
#pragma once

#include <cstddef>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace eh::pd {

struct TableColumn {
    std::size_t at = 0;
    std::string name;    // "column 2" where the table says none
    double scale = 1.0;  // volts, or levels of 0 and 1, of one unit
};

struct TableShape {
    char separator = ',';  // 0 where there is one column
    std::size_t columns = 1;
    std::size_t first_row = 0;          // the line of the first samples, counted from 0
    std::optional<std::size_t> time;    // its column; none where a line is a sample and holds no time
    std::optional<double> time_unit_s;  // where its name says one
    std::optional<double> sample_s;     // where the lines in front say how long a sample takes
    std::vector<TableColumn> values;
    bool currents = false;  // a column is named as amps: a meter's recording, not a CC line
};

// The shape by the first lines of a file; some fifty lines of samples are enough. nullopt when none of them
// holds numbers.
std::optional<TableShape> table_shape(std::span<const std::string> lines);

// The numbers of a line, split at this separator, each field with a decimal point, or a comma where the
// comma does not separate. False, and what is in `numbers` does not count, when a field is none.
bool split_numbers(std::string_view line, char separator, std::vector<double>& numbers);

}  // namespace eh::pd
